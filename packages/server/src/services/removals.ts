import type { RemovalView } from '@kivram/contract/views/job';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { LinkRow } from '../database/models/link';
import { NetworkRow } from '../database/models/network';
import { ObstacleRow } from '../database/models/obstacle';
import { PhotoRow } from '../database/models/photo';
import { PlaceRow } from '../database/models/place';
import { RadioRow } from '../database/models/radio';
import { VisitRow } from '../database/models/visit';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { jobOf, lockVersion, madeBefore, makeChange, type Change } from './changes';

/** What is to go: links with what is theirs, places, obstacles. */
interface Going {
  jobId: string;
  /** how it is called on the timeline */
  what: string;
  linkIds: string[];
  placeIds: string[];
  obstacleIds: string[];
  visitIds: string[];
  photoIds: string[];
}

/** Nothing yet; what goes is added. */
const none = { linkIds: [], placeIds: [], obstacleIds: [], visitIds: [], photoIds: [] };

/** One table with the rows of it that go; in the order in which they can come back. */
const tables: readonly [table: string, rows: string][] = [
  ['place', 'SELECT * FROM place WHERE id IN (:placeIds)'],
  ['cable', 'SELECT * FROM cable WHERE a_place_id IN (:placeIds) OR b_place_id IN (:placeIds)'],
  ['place_need', 'SELECT * FROM place_need WHERE place_id IN (:placeIds)'],
  ['obstacle', 'SELECT * FROM obstacle WHERE id IN (:obstacleIds)'],
  ['air', 'SELECT * FROM air WHERE id IN (:airIds)'],
  ['radio', 'SELECT * FROM radio WHERE id IN (:radioIds)'],
  ['sheet', 'SELECT * FROM sheet WHERE radio_id IN (:radioIds)'],
  ['radio_login', 'SELECT * FROM radio_login WHERE radio_id IN (:radioIds)'],
  ['level_source', 'SELECT * FROM level_source WHERE radio_id IN (:radioIds) OR peer_id IN (:radioIds)'],
  ['link', 'SELECT * FROM link WHERE id IN (:linkIds)'],
  ['alternative', 'SELECT * FROM alternative WHERE link_id IN (:linkIds)'],
  ['bench_run', 'SELECT * FROM bench_run WHERE link_id IN (:linkIds)'],
  ['alignment', 'SELECT * FROM alignment WHERE link_id IN (:linkIds)'],
  ['reading', 'SELECT * FROM reading WHERE alignment_id IN (SELECT id FROM alignment WHERE link_id IN (:linkIds))'],
  ['aim_mark', 'SELECT * FROM aim_mark WHERE alignment_id IN (SELECT id FROM alignment WHERE link_id IN (:linkIds))'],
  ['path_check', 'SELECT * FROM path_check WHERE link_id IN (:linkIds)'],
  ['throughput_test', 'SELECT * FROM throughput_test WHERE link_id IN (:linkIds)'],
  ['event', 'SELECT * FROM event WHERE link_id IN (:linkIds)'],
  ['standin_world', 'SELECT * FROM standin_world WHERE link_id IN (:linkIds)'],
  ['visit', 'SELECT * FROM visit WHERE id IN (:visitIds)'],
  [
    'photo',
    'SELECT * FROM photo WHERE id IN (:photoIds) OR radio_id IN (:radioIds) OR place_id IN (:placeIds) OR visit_id IN (:visitIds)',
  ],
];

/** What comes back only where what it refers to is there: the place at the other end may be gone meanwhile. */
const onlyWhere: Readonly<Record<string, string>> = {
  cable: 'AND 2 = (SELECT count(*) FROM place WHERE place.id IN (r.a_place_id, r.b_place_id))',
};

/** Forgets, in kept rows of a table, what they refer to and is gone meanwhile: it is to be chosen anew there. */
const withoutGone = (table: string, column: string, referred: string): string => `
  UPDATE removal SET rows = jsonb_set(rows, '{${table}}', (
    SELECT coalesce(jsonb_agg(CASE WHEN EXISTS (SELECT 1 FROM ${referred} r WHERE r.id::text = kept ->> '${column}') THEN kept
                                   ELSE kept || '{"${column}": null}' END), '[]')
    FROM jsonb_array_elements(rows -> '${table}') kept))
  WHERE id = :removalId AND jsonb_typeof(rows -> '${table}') = 'array'`;

const goneMeanwhile = [
  withoutGone('level_source', 'profile_id', 'level_profile'),
  withoutGone('air', 'licence_id', 'licence'),
];

/** No row has this identifier: a list of none is none, and SQL wants one. */
const nobody = '00000000-0000-0000-0000-000000000000';

/** Takes links, places and obstacles away with all that hangs on them, keeps every row of it, and brings it back when it is asked for. */
export class Removals {
  constructor(private readonly sequelize: Sequelize) {}

  /** What goes with a link, in words, before it goes. */
  async ofLink(linkId: string): Promise<RemovalView> {
    const link = await LinkRow.findByPk(linkId);
    if (!link) throw notFound('link');
    return this.view(goingLink(link));
  }

  async ofPlace(placeId: string): Promise<RemovalView> {
    const place = await PlaceRow.findByPk(placeId);
    if (!place) throw notFound('place');
    return this.view(await goingPlace(place));
  }

  async removeLink(linkId: string, version: number, author: Author): Promise<void> {
    await this.remove(
      author,
      () => jobOf(LinkRow, linkId, 'link'),
      async ({ transaction }) => goingLink(await lockVersion(LinkRow, linkId, version, 'link', transaction)),
    );
  }

  /** @param withLinks whether the links whose radios stand there go too; where they do not, it stays */
  async removePlace(placeId: string, version: number, withLinks: boolean, author: Author): Promise<void> {
    await this.remove(
      author,
      () => jobOf(PlaceRow, placeId, 'place'),
      async ({ transaction }) => {
        const place = await lockVersion(PlaceRow, placeId, version, 'place', transaction);
        const going = await goingPlace(place, transaction);
        if (withLinks) return going;
        if (going.linkIds.length || (await RadioRow.count({ where: { placeId }, transaction })))
          throw new ApiProblem(409, 'In use', `${place.name} carries radios of a link, so it stays.`);
        if (await NetworkRow.count({ where: { feedPlaceId: placeId }, transaction }))
          throw new ApiProblem(409, 'In use', `The feed comes in at ${place.name}, so it stays.`);
        return going;
      },
    );
  }

  async removeObstacle(id: string, version: number, name: (row: ObstacleRow) => string, author: Author): Promise<void> {
    await this.remove(
      author,
      () => jobOf(ObstacleRow, id, 'obstacle'),
      async ({ transaction }) => {
        const row = await lockVersion(ObstacleRow, id, version, 'obstacle', transaction);
        return { ...none, jobId: row.jobId, what: name(row), obstacleIds: [id] };
      },
    );
  }

  async removeVisit(id: string, version: number, author: Author): Promise<void> {
    await this.remove(
      author,
      () => jobOf(VisitRow, id, 'visit'),
      async ({ transaction }) => {
        const { jobId, purpose } = await lockVersion(VisitRow, id, version, 'visit', transaction);
        return { ...none, jobId, what: `the visit "${purpose}"`, visitIds: [id] };
      },
    );
  }

  async removePhoto(id: string, version: number, author: Author): Promise<void> {
    await this.remove(
      author,
      () => jobOf(PhotoRow, id, 'photo'),
      async ({ transaction }) => {
        const { jobId, caption } = await lockVersion(PhotoRow, id, version, 'photo', transaction);
        return { ...none, jobId, what: caption ? `the photo "${caption.slice(0, 100)}"` : 'a photo', photoIds: [id] };
      },
    );
  }

  /** Brings back what a removal took, row by row as it was. */
  async undo(removalId: string, author: Author): Promise<void> {
    const [found] = await this.sequelize.query<{ jobId: string }>(
      'SELECT job_id AS "jobId" FROM removal WHERE id = :removalId',
      {
        type: QueryTypes.SELECT,
        replacements: { removalId },
      },
    );
    if (!found) throw notFound('removal');
    await makeChange(this.sequelize, found.jobId, author, async ({ transaction, note }) => {
      const [removal] = await this.sequelize.query<{ what: string; rows: Record<string, unknown>; undone: boolean }>(
        'SELECT what, rows, undone_at IS NOT NULL AS undone FROM removal WHERE id = :removalId FOR UPDATE',
        { type: QueryTypes.SELECT, transaction, replacements: { removalId } },
      );
      if (!removal || removal.undone) throw new ApiProblem(409, 'Back already', 'This was brought back already.');
      for (const sql of goneMeanwhile) await this.sequelize.query(sql, { transaction, replacements: { removalId } });
      for (const [table] of tables) {
        await this.sequelize.query(
          `INSERT INTO ${table} SELECT r.* FROM removal, jsonb_populate_recordset(NULL::${table}, rows -> '${table}') r
           WHERE removal.id = :removalId ${onlyWhere[table] ?? ''}`,
          { transaction, replacements: { removalId } },
        );
      }
      // The feed comes in there again, unless it was said meanwhile where else it does.
      await this.sequelize.query(
        `UPDATE network SET feed_place_id = (rows ->> 'feedPlaceId')::uuid, version = version + 1 FROM removal
         WHERE removal.id = :removalId AND network.job_id = removal.job_id AND rows ->> 'feedPlaceId' IS NOT NULL AND feed_place_id IS NULL`,
        { transaction, replacements: { removalId } },
      );
      // Licences name it again, unless they name another meanwhile.
      await this.sequelize.query(
        `UPDATE licence SET low_place_id = coalesce(low_place_id, (was ->> 'low')::uuid), high_place_id = coalesce(high_place_id, (was ->> 'high')::uuid),
           version = licence.version + 1
         FROM removal, jsonb_array_elements(rows -> 'licences') was WHERE removal.id = :removalId AND licence.id::text = was ->> 'id'`,
        { transaction, replacements: { removalId } },
      );
      await this.sequelize.query('UPDATE removal SET undone_at = now() WHERE id = :removalId', {
        transaction,
        replacements: { removalId },
      });
      await note({ kind: 'plan', summary: `Brought back ${removal.what}`, detail: { undoneRemovalId: removalId } });
      return null;
    });
  }

  private async remove(
    author: Author,
    job: () => Promise<string>,
    going: (change: Change) => Promise<Going>,
  ): Promise<void> {
    if (await madeBefore(author)) return;
    await makeChange(this.sequelize, await job(), author, async (change) => {
      const { transaction, note } = change;
      const { jobId, what, ...ids } = await going(change);
      const running = await this.sequelize.query(
        `SELECT 1 FROM alignment WHERE link_id IN (:linkIds) AND state = 'running'`,
        { type: QueryTypes.SELECT, transaction, replacements: { linkIds: listed(ids.linkIds) } },
      );
      if (running.length)
        throw new ApiProblem(409, 'Being aimed', `${what} is being aimed right now: end that alignment first.`);
      const all = await this.all(ids, transaction);
      const parts = tables.map(
        ([table, rows]) => `'${table}', (SELECT coalesce(jsonb_agg(to_jsonb(t)), '[]') FROM (${rows}) t)`,
      );
      const [removal] = await this.sequelize.query<{ id: string }>(
        `INSERT INTO removal (job_id, what, rows) VALUES (:jobId, :what, jsonb_build_object(${parts.join(', ')},
           'feedPlaceId', (SELECT feed_place_id FROM network WHERE job_id = :jobId AND feed_place_id IN (:placeIds)),
           'licences', (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'low', CASE WHEN low_place_id IN (:placeIds) THEN low_place_id END,
             'high', CASE WHEN high_place_id IN (:placeIds) THEN high_place_id END)), '[]') FROM licence
             WHERE low_place_id IN (:placeIds) OR high_place_id IN (:placeIds)))) RETURNING id`,
        { type: QueryTypes.SELECT, transaction, replacements: { jobId, what, ...all } },
      );
      for (const sql of [
        'DELETE FROM link WHERE id IN (:linkIds)',
        'DELETE FROM radio WHERE id IN (:radioIds)',
        'DELETE FROM air WHERE id IN (:airIds)',
        'DELETE FROM obstacle WHERE id IN (:obstacleIds)',
        'UPDATE network SET feed_place_id = NULL, version = version + 1 WHERE feed_place_id IN (:placeIds)',
        `UPDATE licence SET low_place_id = nullif(low_place_id, gone.id), high_place_id = nullif(high_place_id, gone.id), version = licence.version + 1
           FROM place gone WHERE gone.id IN (:placeIds) AND gone.id IN (low_place_id, high_place_id)`,
        'DELETE FROM place WHERE id IN (:placeIds)',
        'DELETE FROM photo WHERE id IN (:photoIds)',
        'DELETE FROM visit WHERE id IN (:visitIds)',
      ])
        await this.sequelize.query(sql, { transaction, replacements: all });
      await note({ kind: 'plan', summary: `Removed ${what}`, detail: { removalId: removal?.id } });
      return null;
    });
  }

  /** The links with the radios and airs that nobody else uses. */
  private async all(ids: Omit<Going, 'jobId' | 'what'>, transaction?: Transaction) {
    const linkIds = listed(ids.linkIds);
    const placeIds = listed(ids.placeIds);
    const idsBy = async (sql: string, replacements: Record<string, string[]>): Promise<string[]> =>
      listed(
        (await this.sequelize.query<{ id: string }>(sql, { type: QueryTypes.SELECT, transaction, replacements })).map(
          (row) => row.id,
        ),
      );
    const radioIds = await idsBy(
      `SELECT r.id FROM radio r WHERE (r.place_id IN (:placeIds) OR EXISTS (SELECT 1 FROM link l WHERE l.id IN (:linkIds) AND r.id IN (l.near_radio_id, l.far_radio_id)))
         AND NOT EXISTS (SELECT 1 FROM link l WHERE l.id NOT IN (:linkIds) AND r.id IN (l.near_radio_id, l.far_radio_id))`,
      { linkIds, placeIds },
    );
    const airIds = await idsBy(
      `SELECT DISTINCT a.id FROM air a JOIN radio r ON r.air_id = a.id WHERE r.id IN (:radioIds)
         AND NOT EXISTS (SELECT 1 FROM radio o WHERE o.air_id = a.id AND o.id NOT IN (:radioIds))`,
      { radioIds },
    );
    return {
      linkIds,
      placeIds,
      obstacleIds: listed(ids.obstacleIds),
      visitIds: listed(ids.visitIds),
      photoIds: listed(ids.photoIds),
      radioIds,
      airIds,
    };
  }

  private async view({ what, ...ids }: Going): Promise<RemovalView> {
    const all = await this.all(ids);
    const [counts] = await this.sequelize.query<Record<string, number>>(
      `SELECT ${tables.map(([table, rows]) => `(SELECT count(*)::integer FROM (${rows}) t) AS ${table}`).join(', ')},
         (SELECT count(*)::integer FROM network WHERE feed_place_id IN (:placeIds)) AS feed`,
      { type: QueryTypes.SELECT, replacements: all },
    );
    const links = await LinkRow.findAll({ where: { id: all.linkIds }, attributes: ['name'], order: [['name', 'ASC']] });
    return { what, links: links.map((link) => link.name), goes: inWords(counts ?? {}) };
  }
}

function goingLink({ id, jobId, name }: LinkRow): Going {
  return { ...none, jobId, what: `the link ${name}`, linkIds: [id] };
}

async function goingPlace({ id, jobId, name }: PlaceRow, transaction?: Transaction): Promise<Going> {
  const sequelize = PlaceRow.sequelize as Sequelize;
  const links = await sequelize.query<{ id: string }>(
    'SELECT DISTINCT l.id FROM link l JOIN radio r ON r.id IN (l.near_radio_id, l.far_radio_id) WHERE r.place_id = :id',
    { type: QueryTypes.SELECT, transaction, replacements: { id } },
  );
  return { ...none, jobId, what: `the place ${name}`, linkIds: links.map((l) => l.id), placeIds: [id] };
}

function listed(ids: readonly string[]): string[] {
  return ids.length ? [...ids] : [nobody];
}

/** What goes, by its number, most telling first. */
function inWords(counts: Record<string, number>): string[] {
  const words: [table: string, one: string, many: string][] = [
    ['link', 'link', 'links'],
    ['radio', 'radio', 'radios'],
    ['sheet', 'revision of settings', 'revisions of settings'],
    ['bench_run', 'try on the bench', 'tries on the bench'],
    ['alignment', 'alignment', 'alignments'],
    ['reading', 'reading', 'readings'],
    ['throughput_test', 'throughput test', 'throughput tests'],
    ['photo', 'photo', 'photos'],
    ['event', 'line of the timeline', 'lines of the timeline'],
  ];
  return [
    ...words.flatMap(([table, one, many]) => {
      const count = counts[table] ?? 0;
      return count ? [`${count} ${count === 1 ? one : many}`] : [];
    }),
    ...(counts.feed ? ['where the feed comes in'] : []),
  ];
}
