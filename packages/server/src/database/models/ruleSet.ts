import type { SpectrumRule } from '@kivram/core/spectrum/ruleSet';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, json, key, Row, tableOptions, text } from './columns';

/** The law of a country from a day on. */
export class RuleSetRow extends Row<RuleSetRow> {
  declare country: string;
  /** date, as in 2026-01-31 */
  declare validFrom: string;
  declare name: string;
  declare rules: SpectrumRule[];
  /** where they come from, in words */
  declare source: CreationOptional<string | null>;
}

export function initRuleSet(sequelize: Sequelize): void {
  RuleSetRow.init(
    attributes({ country: key(text), validFrom: key(text), name: text, rules: json, source: text }),
    tableOptions(sequelize, 'RuleSetRow', 'rule_set'),
  );
}
