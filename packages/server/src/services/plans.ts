import type { LinkPlanBody, RadioBody } from '@kivram/contract/requests/plan';
import type { MountBody } from '@kivram/contract/requests/work';
import { ends, type End } from '@kivram/core/budget/plan';
import { radioBasisOf } from '@kivram/core/evidence/basis';
import { Op, type Model, type ModelStatic, type Sequelize, type Transaction } from 'sequelize';
import { AirRow } from '../database/models/air';
import { AlignmentRow } from '../database/models/alignment';
import { BenchRunRow } from '../database/models/benchRun';
import { GearModelRow } from '../database/models/gearModel';
import { LicenceRow } from '../database/models/licence';
import { LinkRow } from '../database/models/link';
import { PlaceRow } from '../database/models/place';
import { RadioRow } from '../database/models/radio';
import { ThroughputTestRow } from '../database/models/throughputTest';
import type { Author } from '../http/author';
import { notFound } from '../http/apiProblem';
import { defined, differing, jobOf, lockVersion, makeChange, sentence, type Change, type Difference } from './changes';
import { checkWholeAir } from './airs';
import { checkRide, notPossible } from './gearChecks';
import { checkLicenceOf } from './jobLaw';
import { loadLink } from './linkRecords';
import { sameJson } from './sameJson';

/** Changing the plans of links, airs and radios. */
export class Plans {
  constructor(private readonly sequelize: Sequelize) {}

  /** Changes a link with its air and its radios, all of it or nothing. */
  async change(linkId: string, body: LinkPlanBody, author: Author): Promise<void> {
    const { version, air, near, far, ...own } = body;
    const jobId = await jobOf(LinkRow, linkId, 'link');
    await makeChange(this.sequelize, jobId, author, async (change) => {
      const { transaction } = change;
      const link = await lockVersion(LinkRow, linkId, version, 'plan', transaction);
      const differences = await apply(link, own, transaction);
      if (link.pathKind === 'shaft') checkRide(link.shaftLeastM, link.shaftMostM);
      if (air) {
        const { version: airVersion, ...changes } = air;
        const row = await lockVersion(AirRow, link.airId, airVersion, 'plan', transaction);
        if (changes.licenceId && row.kind !== 'duplex')
          throw notPossible('Only a licensed pair is planned by a licence: leave it out.');
        await checkLicenceOf(jobId, changes.licenceId, transaction);
        const changed = await apply(row, changes, transaction);
        differences.push(...(await withLicenceNumbers(changed, transaction)));
      }
      for (const [end, part] of [
        ['near', near],
        ['far', far],
      ] as const) {
        if (!part) continue;
        const { version: radioVersion, ...wished } = part;
        const row = await lockVersion(RadioRow, link[`${end}RadioId`], radioVersion, 'plan', transaction);
        const changed = await apply(row, await resolved(row, wished, transaction), transaction);
        differences.push(...changed.map((d) => ({ ...d, end })));
      }
      if (!differences.length) return null;
      await checkWholeAir(link.airId, transaction);
      await change.note({
        linkId,
        kind: 'plan',
        summary: `Changed the plan: ${words(differences)}`,
        detail: { differences },
      });
      return null;
    });
  }

  async changeRadio(radioId: string, { version, ...changes }: RadioBody, author: Author): Promise<RadioRow> {
    const jobId = await jobOf(RadioRow, radioId, 'radio');
    await makeChange(this.sequelize, jobId, author, async (change) => {
      const row = await lockVersion(RadioRow, radioId, version, 'radio', change.transaction);
      const differences = await apply(row, await resolved(row, changes, change.transaction), change.transaction);
      if (!differences.length) return null;
      await checkWholeAir(row.airId, change.transaction);
      await noteOnLinks(change, radioId, `Changed a radio: ${sentence(differences)}`, { radioId, differences });
      return null;
    });
    return RadioRow.findByPk(radioId, { rejectOnEmpty: true });
  }

  /** Near becomes far. What was measured is told by near and far, so that it is done before anything is. */
  async swapEnds(linkId: string, version: number, author: Author): Promise<void> {
    const jobId = await jobOf(LinkRow, linkId, 'link');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const link = await lockVersion(LinkRow, linkId, version, 'link', transaction);
      const measured: ModelStatic<Model>[] = [AlignmentRow, ThroughputTestRow, BenchRunRow];
      for (const rows of measured) {
        if ((await rows.count({ where: { linkId }, transaction })) === 0) continue;
        throw notPossible(
          'This link was tried, aimed or tested already, and all of that is told by near and far: its ends stay as they are.',
        );
      }
      const { nearRadioId, farRadioId, needNearToFarMbps, needFarToNearMbps } = link;
      await link.update(
        {
          nearRadioId: farRadioId,
          farRadioId: nearRadioId,
          needNearToFarMbps: needFarToNearMbps,
          needFarToNearMbps: needNearToFarMbps,
        },
        { transaction },
      );
      await note({ linkId, kind: 'plan', summary: 'Exchanged near and far end' });
      return null;
    });
  }

  /**
   * Notes that an end is up, with what is true of its radio then, or that it is down again. What is noted already is not noted again. A radio that hangs is planned
   * as before: its version stays, and nobody who is changing the plan is told of a clash.
   */
  async mount(linkId: string, { end, mounted }: MountBody, author: Author): Promise<void> {
    const record = await loadLink(linkId);
    const { radio, place } = record[end];
    const basis = mounted ? radioBasisOf(record[end], record.air) : null;
    await makeChange(this.sequelize, record.job.id, author, async ({ transaction, crewMemberId, note }) => {
      const row = await RadioRow.findByPk(radio.id, { transaction, lock: true, rejectOnEmpty: true });
      if (mounted === (row.mountedAt !== null) && sameJson(row.mountBasis, basis)) return null;
      await this.sequelize.query(
        `UPDATE radio SET mounted_at = CASE WHEN :mounted THEN now() END, mounted_by = CASE WHEN :mounted THEN :crewMemberId::uuid END,
           mount_basis = :basis::jsonb WHERE id = :id`,
        { transaction, replacements: { id: radio.id, mounted, crewMemberId, basis: basis && JSON.stringify(basis) } },
      );
      await note({
        linkId,
        kind: 'mount',
        summary: mounted
          ? `Mounted the ${end} end at ${place.name}, cautions read`
          : `Took the ${end} end at ${place.name} down`,
        detail: { end, mounted, radioId: radio.id },
      });
      return null;
    });
  }
}

/**
 * What is wished of a radio with what follows from it: other gear comes in its newest revision, a place is one of the job that carries radios, and none of the
 * places at the other ends of its links.
 */
async function resolved(row: RadioRow, wish: Omit<RadioBody, 'version'>, transaction: Transaction): Promise<object> {
  const { modelId = row.modelId, placeId } = wish;
  const changes: Partial<RadioBody> = { ...wish };
  if (modelId !== row.modelId && wish.modelRevision === undefined) {
    const newest = await GearModelRow.findOne({
      where: { id: modelId, offered: true },
      order: [['revision', 'DESC']],
      transaction,
    });
    if (!newest) throw notPossible(`There is no gear model "${modelId}". Choose one from the list.`);
    changes.modelRevision = newest.revision;
  } else if (wish.modelRevision !== undefined) {
    const known = await GearModelRow.count({ where: { id: modelId, revision: wish.modelRevision }, transaction });
    if (!known) throw notPossible(`There is no revision ${wish.modelRevision} of this spec sheet.`);
  }
  if (placeId !== undefined && placeId !== row.placeId) {
    const place = await PlaceRow.findByPk(placeId, { transaction, lock: transaction.LOCK.SHARE });
    if (place?.jobId !== row.jobId) throw notFound('place');
    if (place.kind === 'landmark') throw notPossible(`${place.name} is a landmark: make it a site first.`);
    const links = await LinkRow.findAll({
      where: { [Op.or]: [{ nearRadioId: row.id }, { farRadioId: row.id }] },
      transaction,
    });
    const peerIds = links.map((link) => (link.nearRadioId === row.id ? link.farRadioId : link.nearRadioId));
    if (await RadioRow.count({ where: { id: peerIds, placeId }, transaction }))
      throw notPossible(`At ${place.name} stands the radio at the other end of its link: choose another place.`);
  }
  return changes;
}

/** Differences in which licences are called by their numbers. */
async function withLicenceNumbers(differences: Difference[], transaction: Transaction): Promise<Difference[]> {
  const numberOf = async (id: unknown): Promise<string | null> =>
    typeof id === 'string' ? ((await LicenceRow.findByPk(id, { transaction }))?.number ?? null) : null;
  return Promise.all(
    differences.map(async ({ field, before, after }) =>
      field === 'licenceId'
        ? { field, before: await numberOf(before), after: await numberOf(after) }
        : { field, before, after },
    ),
  );
}

/** Sets the given fields and saves the row. @returns what that changed */
async function apply(row: Model, changes: object, transaction: Transaction): Promise<(Difference & { end?: End })[]> {
  const differences = differing(row.get({ plain: true }), changes);
  if (differences.length) await row.set(defined(changes)).save({ transaction });
  return differences;
}

function words(differences: readonly (Difference & { end?: End })[]): string {
  return [undefined, ...ends]
    .flatMap((end) => {
      const own = differences.filter((d) => d.end === end);
      return own.length ? [`${end ? `${end} ` : ''}${sentence(own)}`] : [];
    })
    .join(', ');
}

/** A radio's change concerns every link that it serves. */
export async function noteOnLinks(
  { transaction, note }: Change,
  radioId: string,
  summary: string,
  detail: Record<string, unknown>,
): Promise<void> {
  const links = await LinkRow.findAll({
    where: { [Op.or]: [{ nearRadioId: radioId }, { farRadioId: radioId }] },
    attributes: ['id'],
    transaction,
  });
  for (const { id } of links) await note({ linkId: id, kind: 'plan', summary, detail });
}
