import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, Row, tableOptions, text, version } from './columns';

export class JobRow extends Row<JobRow> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare customer: CreationOptional<string>;
  declare country: string;
  declare practice: CreationOptional<boolean>;
  declare version: CreationOptional<number>;
}

export function initJob(sequelize: Sequelize): void {
  JobRow.init(
    attributes({
      id,
      name: text,
      customer: { ...text, defaultValue: '' },
      country: text,
      practice: { ...flag, defaultValue: false },
      version,
    }),
    tableOptions(sequelize, 'JobRow', 'job', 'locked'),
  );
}
