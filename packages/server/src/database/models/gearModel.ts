import type { Model as Spec } from '@kivram/core/gear/model';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, json, key, now, Row, tableOptions, text, whole } from './columns';

/** A spec sheet in one of its revisions. A change makes a new one; radios keep the one they were planned with. */
export class GearModelRow extends Row<GearModelRow> {
  declare id: string;
  declare revision: number;
  declare spec: Spec;
  declare madeAt: CreationOptional<Date>;
  /** whether new radios are planned with it; one that came with somebody's job is not, where the catalogue has one of its name */
  declare offered: CreationOptional<boolean>;
}

export function initGearModel(sequelize: Sequelize): void {
  GearModelRow.init(
    attributes({
      id: key(text),
      revision: key(whole),
      spec: json,
      madeAt: now,
      offered: { ...flag, defaultValue: true },
    }),
    tableOptions(sequelize, 'GearModelRow', 'gear_model'),
  );
}
