import type { LevelProfileBody } from '@kivram/contract/requests/level';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, json, Row, tableOptions, text } from './columns';

/** What is read of a kind of radio, and where it stands in what the radio answers. */
export class LevelProfileRow extends Row<LevelProfileRow> {
  declare id: string;
  declare name: string;
  declare way: LevelProfileBody['way'];
  declare values: Omit<LevelProfileBody, 'version' | 'name' | 'way'>;
  declare version: CreationOptional<number>;
}

export function initLevelProfile(sequelize: Sequelize): void {
  LevelProfileRow.init(
    attributes({ id, name: text, way: text, values: json }),
    tableOptions(sequelize, 'LevelProfileRow', 'level_profile', 'locked'),
  );
}
