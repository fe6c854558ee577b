import { type Sequelize } from 'sequelize';
import { attributes, key, Row, tableOptions, text, time, uuid } from './columns';

/** Work that runs belongs to the server process that holds its lease; a lease that is not renewed in time is anybody's. */
export class LeaseRow extends Row<LeaseRow> {
  declare name: string;
  declare holder: string;
  declare until: Date;
}

export function initLease(sequelize: Sequelize): void {
  LeaseRow.init(
    attributes({ name: key(text), holder: uuid, until: time }),
    tableOptions(sequelize, 'LeaseRow', 'lease'),
  );
}
