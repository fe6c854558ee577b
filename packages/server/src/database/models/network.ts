import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, uuid, version } from './columns';

export class NetworkRow extends Row<NetworkRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare feedDownMbps: number | null;
  declare feedUpMbps: number | null;
  declare feedPlaceId: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
}

export function initNetwork(sequelize: Sequelize): void {
  NetworkRow.init(
    attributes({ id, jobId: uuid, feedDownMbps: number, feedUpMbps: number, feedPlaceId: uuid, version }),
    tableOptions(sequelize, 'NetworkRow', 'network', 'locked'),
  );
}
