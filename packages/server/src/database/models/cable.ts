import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, text, uuid, version } from './columns';

/** A cable between two places of a job. */
export class CableRow extends Row<CableRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare aPlaceId: string;
  declare bPlaceId: string;
  declare mbps: number;
  declare version: CreationOptional<number>;
}

export function initCable(sequelize: Sequelize): void {
  CableRow.init(
    attributes({ id, jobId: uuid, name: text, aPlaceId: uuid, bPlaceId: uuid, mbps: number, version }),
    tableOptions(sequelize, 'CableRow', 'cable', 'locked'),
  );
}
