import type { Model as Spec } from '@kivram/core';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, json, key, now, Row, tableOptions, text, whole } from './columns';

/** A spec sheet in one of its revisions. A change makes a new one; radios keep the one they were planned with. */
export class GearModelRow extends Row<GearModelRow> {
  declare id: string;
  declare revision: number;
  declare spec: Spec;
  declare madeAt: CreationOptional<Date>;
}

export function initGearModel(sequelize: Sequelize): void {
  GearModelRow.init(
    attributes({ id: key(text), revision: key(whole), spec: json, madeAt: now }),
    tableOptions(sequelize, 'GearModelRow', 'gear_model'),
  );
}
