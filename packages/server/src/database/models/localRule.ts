import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, number, Row, tableOptions, text, uuid, version } from './columns';

/** A restriction or a permit of one job, with what it is founded on. */
export class LocalRuleRow extends Row<LocalRuleRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare lowestMHz: number;
  declare highestMHz: number;
  declare mostEirpDbm: number;
  declare mostWidthMHz: CreationOptional<number | null>;
  declare radar: boolean;
  declare reason: string;
  /** date, as in 2026-01-31; null: it restricts */
  declare permitUntil: CreationOptional<string | null>;
  declare permitsOutdoors: CreationOptional<boolean>;
  declare version: CreationOptional<number>;
}

export function initLocalRule(sequelize: Sequelize): void {
  LocalRuleRow.init(
    attributes({
      id,
      jobId: uuid,
      lowestMHz: { ...number, field: 'lowest_mhz' },
      highestMHz: { ...number, field: 'highest_mhz' },
      mostEirpDbm: number,
      mostWidthMHz: { ...number, field: 'most_width_mhz' },
      radar: flag,
      reason: text,
      permitUntil: { type: DataTypes.DATEONLY, allowNull: true },
      permitsOutdoors: flag,
      version,
    }),
    tableOptions(sequelize, 'LocalRuleRow', 'local_rule', 'locked'),
  );
}
