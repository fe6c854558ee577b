import type { Obstacle, ObstacleKind } from '@kivram/core/path/obstacle';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, json, number, Row, tableOptions, text, uuid, version, whole } from './columns';

export class ObstacleRow extends Row<ObstacleRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare kind: ObstacleKind;
  declare footprint: Obstacle['footprint'];
  declare isArea: CreationOptional<boolean>;
  declare widthM: number;
  declare heightM: number;
  declare growthMPerYear: number;
  declare measuredYear: number;
  declare confidence: Obstacle['confidence'];
  declare version: CreationOptional<number>;
}

export function initObstacle(sequelize: Sequelize): void {
  ObstacleRow.init(
    attributes({
      id,
      jobId: uuid,
      name: text,
      kind: text,
      footprint: json,
      isArea: { ...flag, defaultValue: false },
      widthM: number,
      heightM: number,
      growthMPerYear: { ...number, field: 'growth_m_per_year' },
      measuredYear: whole,
      confidence: text,
      version,
    }),
    tableOptions(sequelize, 'ObstacleRow', 'obstacle', 'locked'),
  );
}
