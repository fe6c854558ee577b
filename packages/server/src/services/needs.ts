import type { KeptNeed } from '@kivram/contract/entities/need';
import type { PlaceNeedBody, PlannedNeedsBody } from '@kivram/contract/requests/need';
import type { NeedsView } from '@kivram/contract/views/need';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { JobRow } from '../database/models/job';
import { LinkRow } from '../database/models/link';
import { NetworkRow } from '../database/models/network';
import { PlaceRow } from '../database/models/place';
import { PlaceNeedRow } from '../database/models/placeNeed';
import type { Author } from '../http/author';
import { ApiProblem, changedMeanwhile, notFound } from '../http/apiProblem';
import { differing, jobOf, lockVersion, makeChange, sentence } from './changes';
import { cablesOf } from './cables';
import type { LinkMemos } from './linkMemos';

/** What every place needs, and planning links by it. */
export class Needs {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly memos: LinkMemos,
  ) {}

  async view(jobId: string): Promise<NeedsView> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const [needs, places, lines, rows, network, cables] = await Promise.all([
      needsOf(this.sequelize, jobId),
      PlaceRow.findAll({ where: { jobId, kind: 'site' }, order: [['name', 'ASC']] }),
      this.memos.lines(jobId),
      LinkRow.findAll({ where: { jobId } }),
      NetworkRow.findOne({ where: { jobId } }),
      cablesOf(jobId),
    ]);
    const planned = new Map(rows.map((row) => [row.id, row]));
    return {
      needs,
      places: places.map(({ id, name }) => ({ id, name })),
      cables,
      links: lines.flatMap((line) => {
        const row = planned.get(line.id);
        if (!row) return [];
        const { version, needNearToFarMbps, needFarToNearMbps } = row;
        const { id, name, nearPlaceId: near, farPlaceId: far, airId, memo } = line;
        const inTurns = line.kind !== 'duplex';
        return [
          { id, name, near, far, airId, inTurns, mbps: memo.aloneMbps, version, needNearToFarMbps, needFarToNearMbps },
        ];
      }),
      feedPlaceId: network?.feedPlaceId ?? null,
      feedDownMbps: network?.feedDownMbps ?? null,
      feedUpMbps: network?.feedUpMbps ?? null,
    };
  }

  async save(placeId: string, { version, ...fields }: PlaceNeedBody, author: Author): Promise<NeedsView> {
    const jobId = await jobOf(PlaceRow, placeId, 'place');
    const toward = [...new Set(fields.items.flatMap((item) => item.towardPlaceId ?? []))];
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      // Of two who note the first need of a place the second waits here.
      const place = await PlaceRow.findByPk(placeId, { transaction, lock: transaction.LOCK.NO_KEY_UPDATE });
      if (!place) throw notFound('place');
      if ((await PlaceRow.count({ where: { id: toward, jobId }, transaction })) !== toward.length)
        throw new ApiProblem(
          422,
          'Not possible',
          'Traffic goes to a place that is not of this job: choose one from the list.',
        );
      const row = await PlaceNeedRow.findByPk(placeId, { transaction });
      if ((row?.version ?? 0) !== version) throw changedMeanwhile('need', row?.get({ plain: true }) ?? {});
      if (!row) await PlaceNeedRow.create({ ...fields, placeId, version: 1 }, { transaction });
      else await row.update(fields, { transaction });
      await note({ kind: 'plan', summary: `Noted what ${place.name} needs`, detail: { ...fields } });
      return null;
    });
    return this.view(jobId);
  }

  /** Plans links by sums of needs: all of them, or none where one was changed meanwhile. */
  async plan(jobId: string, { links }: PlannedNeedsBody, author: Author): Promise<NeedsView> {
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      // In one order, so that two of these do not wait for each other.
      for (const { linkId, version, ...need } of [...links].sort((a, b) => a.linkId.localeCompare(b.linkId))) {
        const row = await lockVersion(LinkRow, linkId, version, 'link', transaction, jobId);
        const differences = differing(row.get({ plain: true }), need);
        if (!differences.length) continue;
        await row.update(need, { transaction });
        await note({
          linkId,
          kind: 'plan',
          summary: `Planned by what is needed: ${sentence(differences)}`,
          detail: { differences },
        });
      }
      return null;
    });
    return this.view(jobId);
  }
}

/** What was noted of the places of a job. */
export async function needsOf(sequelize: Sequelize, jobId: string, transaction?: Transaction): Promise<KeptNeed[]> {
  const rows = await sequelize.query(
    'SELECT need.* FROM place_need need JOIN place ON place.id = need.place_id WHERE place.job_id = :jobId ORDER BY place.name, place.id',
    { type: QueryTypes.SELECT, replacements: { jobId }, model: PlaceNeedRow, mapToModel: true, transaction },
  );
  return rows.map((row) => row.get({ plain: true }));
}
