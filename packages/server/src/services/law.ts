import type { RuleSet } from '@kivram/core';
import { QueryTypes, type Sequelize } from 'sequelize';
import { RuleSetRow } from '../database/models';

/** The rules in force today, one set for each country that is known. */
export async function lawInForce(): Promise<RuleSet[]> {
  const sequelize = RuleSetRow.sequelize as Sequelize;
  return sequelize.query<RuleSet>(
    `SELECT DISTINCT ON (country) country, name, valid_from AS "validFrom", rules FROM rule_set
     WHERE valid_from <= to_char(now(), 'YYYY-MM-DD') ORDER BY country, valid_from DESC`,
    { type: QueryTypes.SELECT },
  );
}
