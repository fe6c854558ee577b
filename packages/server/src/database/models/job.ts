import type { ClimateClass } from '@kivram/core/propagation/climate';
import type { UnitSystem } from '@kivram/core/units';
import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, number, Row, tableOptions, text, time, uuid, version } from './columns';

export class JobRow extends Row<JobRow> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare customer: CreationOptional<string>;
  declare country: string;
  declare units: CreationOptional<UnitSystem>;
  declare practice: CreationOptional<boolean>;
  declare climateClass: CreationOptional<ClimateClass | null>;
  declare rainMmPerH: CreationOptional<number | null>;
  declare archivedAt: CreationOptional<Date | null>;
  /** the job of the file that it came in from; null where it was begun here */
  declare originId: CreationOptional<string | null>;
  /** terrain that lay under it where that file was written */
  declare terrainNames: CreationOptional<string[]>;
  declare version: CreationOptional<number>;
}

export function initJob(sequelize: Sequelize): void {
  JobRow.init(
    attributes({
      id,
      name: text,
      customer: { ...text, defaultValue: '' },
      country: text,
      units: { ...text, defaultValue: 'metric' },
      practice: { ...flag, defaultValue: false },
      climateClass: text,
      rainMmPerH: number,
      archivedAt: time,
      originId: uuid,
      terrainNames: { type: DataTypes.ARRAY(DataTypes.TEXT), defaultValue: [] },
      version,
    }),
    tableOptions(sequelize, 'JobRow', 'job', 'locked'),
  );
}
