import type { Licence, LocalRule } from '@kivram/contract/entities/law';
import type { KnownLaw } from '@kivram/contract/views/law';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { LicenceRow } from '../database/models/licence';
import { LocalRuleRow } from '../database/models/localRule';
import { RuleSetRow } from '../database/models/ruleSet';
import { shippedLaw } from './shippedLaw';

/** Puts the law that ships with Kivram in. An edition that is there already is written again: with another Kivram its rules for fixed links may be others. */
export async function loadLaw(): Promise<void> {
  await RuleSetRow.bulkCreate(shippedLaw(), { updateOnDuplicate: ['name', 'rules', 'source'] });
}

/** The rules in force today in some countries, one set for each that is known. */
export async function lawInForce(countries: readonly string[]): Promise<RuleSet[]> {
  return inForce<RuleSet>('country, name, valid_from AS "validFrom", rules, source', countries);
}

/** Every country whose rules are at hand. */
export async function knownLaws(): Promise<KnownLaw[]> {
  const laws = await inForce<KnownLaw>('country, name, valid_from AS "validFrom", source', null);
  return laws.sort((a, b) => a.name.localeCompare(b.name));
}

async function inForce<Law extends object>(columns: string, countries: readonly string[] | null): Promise<Law[]> {
  const sequelize = RuleSetRow.sequelize as Sequelize;
  return sequelize.query<Law>(
    `SELECT DISTINCT ON (country) ${columns} FROM rule_set
     WHERE valid_from <= to_char(now(), 'YYYY-MM-DD') ${countries ? 'AND country IN (:countries)' : ''} ORDER BY country, valid_from DESC`,
    { type: QueryTypes.SELECT, replacements: { countries: [...(countries ?? [])] } },
  );
}

/** What was noted in a job on top of its country's rules. */
export async function notedLaw(
  jobId: string,
  transaction?: Transaction,
): Promise<{ localRules: LocalRule[]; licences: Licence[] }> {
  const where = { jobId };
  const localRules = await LocalRuleRow.findAll({
    where,
    transaction,
    order: [
      ['lowestMHz', 'ASC'],
      ['id', 'ASC'],
    ],
  });
  const licences = await LicenceRow.findAll({ where, transaction, order: [['number', 'ASC']] });
  return { localRules: localRules.map(viewRule), licences: licences.map(viewLicence) };
}

function viewRule(row: LocalRuleRow): LocalRule {
  const { jobId, ...view } = row.get({ plain: true });
  void jobId;
  return view;
}

function viewLicence(row: LicenceRow): Licence {
  const { jobId, ...view } = row.get({ plain: true });
  void jobId;
  return view;
}
