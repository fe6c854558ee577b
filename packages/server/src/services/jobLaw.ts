import type { LicenceFields, LocalRuleFields } from '@kivram/contract/entities/law';
import type { LicenceBody, LocalRuleBody } from '@kivram/contract/requests/law';
import type { JobLawView } from '@kivram/contract/views/law';
import { localDay } from '@kivram/core/units/moment';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { JobRow } from '../database/models/job';
import { LicenceRow } from '../database/models/licence';
import { LocalRuleRow } from '../database/models/localRule';
import { PlaceRow } from '../database/models/place';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { type Difference, differing, jobOf, lockVersion, madeBefore, makeChange, sentence } from './changes';
import { lawInForce, notedLaw } from './law';

/** What the law allows in a job, and what was noted on top of it: rules of its own with their reason, and licences. */
export class JobLaw {
  constructor(private readonly sequelize: Sequelize) {}

  async view(jobId: string): Promise<JobLawView> {
    const job = await JobRow.findByPk(jobId);
    if (!job) throw notFound('job');
    const [law = null] = await lawInForce([job.country]);
    return { law, ...(await notedLaw(jobId)), day: localDay(new Date()) };
  }

  async createRule(jobId: string, fields: LocalRuleFields, author: Author): Promise<JobLawView> {
    checkRule(fields);
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      await LocalRuleRow.create({ ...fields, jobId }, { transaction });
      await note({ kind: 'plan', summary: `Noted ${ruleWords(fields)}: ${fields.reason}` });
      return null;
    });
    return this.view(jobId);
  }

  async changeRule(id: string, { version, ...fields }: LocalRuleBody, author: Author): Promise<JobLawView> {
    checkRule(fields);
    const jobId = await jobOf(LocalRuleRow, id, 'local rule');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(LocalRuleRow, id, version, 'local rule', transaction);
      const differences = differing(row.get({ plain: true }), fields);
      if (!differences.length) return null;
      await row.update(fields, { transaction });
      await note({
        kind: 'plan',
        summary: `Changed ${ruleWords(fields)}: ${sentence(differences)}`,
        detail: { differences },
      });
      return null;
    });
    return this.view(jobId);
  }

  async removeRule(id: string, version: number, author: Author): Promise<void> {
    if (await madeBefore(author)) return;
    const jobId = await jobOf(LocalRuleRow, id, 'local rule');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(LocalRuleRow, id, version, 'local rule', transaction);
      // Its words stay on the timeline.
      await note({
        kind: 'plan',
        summary: `Took ${ruleWords(row)} away; it said: ${row.reason}`,
        detail: row.get({ plain: true }),
      });
      await row.destroy({ transaction });
      return null;
    });
  }

  async createLicence(jobId: string, fields: LicenceFields, author: Author): Promise<JobLawView> {
    checkLicence(fields);
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      await checkPlacesOf(jobId, fields, transaction);
      await refuseTwin(jobId, null, fields.number, transaction);
      await LicenceRow.create({ ...fields, jobId }, { transaction });
      await note({ kind: 'plan', summary: `Noted the licence ${fields.number}, valid until ${fields.validUntil}` });
      return null;
    });
    return this.view(jobId);
  }

  async changeLicence(id: string, { version, ...fields }: LicenceBody, author: Author): Promise<JobLawView> {
    checkLicence(fields);
    const jobId = await jobOf(LicenceRow, id, 'licence');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(LicenceRow, id, version, 'licence', transaction);
      await checkPlacesOf(jobId, fields, transaction);
      await refuseTwin(jobId, id, fields.number, transaction);
      const differences = await withPlaceNames(differing(row.get({ plain: true }), fields), transaction);
      if (!differences.length) return null;
      await row.update(fields, { transaction });
      await note({
        kind: 'plan',
        summary: `Changed the licence ${fields.number}: ${sentence(differences)}`,
        detail: { differences },
      });
      return null;
    });
    return this.view(jobId);
  }

  async removeLicence(id: string, version: number, author: Author): Promise<void> {
    if (await madeBefore(author)) return;
    const jobId = await jobOf(LicenceRow, id, 'licence');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(LicenceRow, id, version, 'licence', transaction);
      const planned = await this.sequelize.query<{ name: string }>(
        'SELECT link.name FROM link JOIN air ON air.id = link.air_id WHERE air.licence_id = :id ORDER BY link.name',
        { type: QueryTypes.SELECT, transaction, replacements: { id } },
      );
      const names = planned.map(({ name }) => name).join(', ');
      await note({
        kind: 'plan',
        summary: `Took the licence ${row.number} away${names && `, which ${names} went by`}`,
        detail: row.get({ plain: true }),
      });
      await row.destroy({ transaction });
      return null;
    });
  }
}

const ruleWords = ({ lowestMHz, highestMHz, mostEirpDbm, permitUntil }: LocalRuleFields): string =>
  `${permitUntil ? `the permit until ${permitUntil}` : 'the restriction'} for ${lowestMHz} to ${highestMHz} MHz, ${mostEirpDbm} dBm EIRP`;

function refuse(detail: string): never {
  throw new ApiProblem(422, 'Not possible', detail);
}

function checkRule({ lowestMHz, highestMHz, mostWidthMHz }: LocalRuleFields): void {
  if (!(highestMHz > lowestMHz))
    refuse(`The rule goes from ${lowestMHz} to ${highestMHz} MHz: the second must be the higher one.`);
  if (mostWidthMHz !== null && mostWidthMHz > highestMHz - lowestMHz)
    refuse(`A channel of ${mostWidthMHz} MHz is wider than all that the rule covers, ${highestMHz - lowestMHz} MHz.`);
}

function checkLicence(licence: LicenceFields): void {
  const { centreMHz, returnMHz, widthMHz, occupiedMHz, validFrom, validUntil, lowPlaceId, highPlaceId } = licence;
  if (validFrom && validFrom > validUntil)
    refuse(`The licence begins on ${validFrom} and ends on ${validUntil}: exchange the days.`);
  if (lowPlaceId && lowPlaceId === highPlaceId)
    refuse('One place is named for both ends: the higher frequency is sent from the other one.');
  const apartMHz = Math.abs(centreMHz - returnMHz);
  if (apartMHz < widthMHz)
    refuse(
      `${centreMHz} and ${returnMHz} MHz lie ${Number(apartMHz.toFixed(6))} MHz apart, less than the channel spacing of ${widthMHz} MHz.`,
    );
  if (occupiedMHz !== null && occupiedMHz > widthMHz)
    refuse(
      `An occupied bandwidth of ${occupiedMHz} MHz is more than the channel spacing of ${widthMHz} MHz: were kilohertz typed?`,
    );
}

/** @throws ApiProblem where a place is none of the job's; they are held, so that nobody takes them off the map meanwhile */
async function checkPlacesOf(
  jobId: string,
  { lowPlaceId, highPlaceId }: LicenceFields,
  transaction: Transaction,
): Promise<void> {
  for (const id of [lowPlaceId, highPlaceId]) {
    if (!id) continue;
    const place = await PlaceRow.findByPk(id, { transaction, lock: transaction.LOCK.SHARE });
    if (place?.jobId !== jobId) throw notFound('place');
  }
}

/** Differences in which places are called by their names. */
async function withPlaceNames(differences: Difference[], transaction: Transaction): Promise<Difference[]> {
  const nameOf = async (id: unknown): Promise<string | null> =>
    typeof id === 'string' ? ((await PlaceRow.findByPk(id, { transaction }))?.name ?? null) : null;
  return Promise.all(
    differences.map(async ({ field, before, after }) =>
      field.endsWith('PlaceId')
        ? { field, before: await nameOf(before), after: await nameOf(after) }
        : { field, before, after },
    ),
  );
}

/** A licence that something is planned by is one of the job. @throws ApiProblem */
export async function checkLicenceOf(
  jobId: string,
  licenceId: string | null | undefined,
  transaction: Transaction,
): Promise<void> {
  if (!licenceId) return;
  const row = await LicenceRow.findByPk(licenceId, { transaction, lock: transaction.LOCK.KEY_SHARE });
  if (row?.jobId !== jobId) throw notFound('licence');
}

/** Two licences of one number could not be told apart. */
async function refuseTwin(jobId: string, id: string | null, number: string, transaction: Transaction): Promise<void> {
  const rows = await LicenceRow.findAll({ where: { jobId }, attributes: ['id', 'number'], transaction });
  if (rows.some((row) => row.id !== id && row.number.toLowerCase() === number.toLowerCase()))
    throw new ApiProblem(409, 'Number taken', `The licence ${number} is on record already: change that one.`);
}
