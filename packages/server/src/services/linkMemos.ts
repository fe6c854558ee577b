import { localDay } from '@kivram/core/units/moment';
import { steps } from '@kivram/core/verdict/steps';
import { createHash } from 'node:crypto';
import { setImmediate, setTimeout } from 'node:timers/promises';
import type { Logger } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { JobRow } from '../database/models/job';
import type { LinkMemo } from '../database/models/linkMemo';
import { onChange } from './changes';
import type { HeardAir } from '@kivram/core/budget/neighbours';
import { heardBy } from './neighbours';
import { linksATurn, loadAirs, predictionOf, type LinkRecord } from './linkRecords';
import { doneOn, stateOf, type DoneRecords } from './linkStates';

/** One link of a job with what was computed of it. */
export interface LinkLine {
  id: string;
  airId: string;
  kind: string;
  name: string;
  nearPlaceId: string;
  farPlaceId: string;
  nearPlace: string;
  farPlace: string;
  memo: LinkMemo;
}

interface KeyedLine extends Omit<LinkLine, 'memo'> {
  key: string;
  /** stands for all that others hear of its air */
  airStamp: string;
  knownKey: string | null;
  memo: LinkMemo | null;
}

/** Stands for the program that computed a memo: another build may judge otherwise. */
const build = process.env.KIVRAM_BUILD ?? 'unbuilt';

/** Changes come in bursts: so long after the first the work begins. */
const burstMs = 100;

/**
 * What was computed of every link: kept in the database under a key of the versions of everything it was computed from, and computed again where that key
 * is another than it was. After a change that is done beside the requests, so that whoever opens the job next finds it done.
 */
export class LinkMemos {
  private readonly waiting = new Set<string>();
  private readonly turns = new Map<string, Promise<unknown>>();
  private refreshing: Promise<void> | null = null;
  private stopped = false;

  constructor(
    private readonly sequelize: Sequelize,
    private readonly log: Logger,
  ) {
    onChange(sequelize, (jobId) => this.refresh(jobId));
  }

  /** All links of a job with their states: one query while nothing has changed. */
  async lines(jobId: string): Promise<LinkLine[]> {
    const lines = await this.read(jobId);
    return lineViews(staleOf(lines).length ? await this.inTurn(jobId, () => this.computed(jobId)) : lines);
  }

  /** Computes soon, beside the requests, what a change of a job has made stale. */
  refresh(jobId: string): void {
    if (this.stopped) return;
    this.waiting.add(jobId);
    this.refreshing ??= this.work();
  }

  /** The same for every job: after a new build, a new ground. Where the jobs cannot be read now, each is computed when it is opened. */
  async refreshAll(): Promise<void> {
    try {
      for (const { id } of await JobRow.findAll({ attributes: ['id'] })) this.refresh(id);
    } catch (error) {
      this.log.warn({ err: error }, 'links were not computed');
    }
  }

  /** Ends when what was begun is ended. */
  async stop(): Promise<void> {
    this.stopped = true;
    this.waiting.clear();
    await this.refreshing;
  }

  private async work(): Promise<void> {
    await setTimeout(burstMs);
    for (const jobId of this.waiting) {
      this.waiting.delete(jobId);
      // Whoever opens the job computes it then; nothing else waits for this.
      await this.lines(jobId).catch((error: unknown) =>
        this.log.warn({ err: error, jobId }, 'links were not computed'),
      );
    }
    this.refreshing = null;
  }

  private read(jobId: string): Promise<KeyedLine[]> {
    return this.sequelize.query<KeyedLine>(keyedLines, {
      type: QueryTypes.SELECT,
      replacements: { jobId, build, year: new Date().getFullYear(), day: localDay(new Date()) },
    });
  }

  /** One computation of a job at a time: whoever waits finds what the one before has computed. */
  private async inTurn<Result>(jobId: string, work: () => Promise<Result>): Promise<Result> {
    const turn = (this.turns.get(jobId) ?? Promise.resolve()).then(work, work);
    this.turns.set(jobId, turn);
    try {
      return await turn;
    } finally {
      if (this.turns.get(jobId) === turn) this.turns.delete(jobId);
    }
  }

  private async computed(jobId: string): Promise<KeyedLine[]> {
    const lines = await this.read(jobId);
    const stale = staleOf(lines);
    if (!stale.length) return lines;
    const changed = await memosOf(jobId, stale);
    // Who is heard hears too: those that did not know of each other yet.
    const heardBy = new Map<string, string[]>();
    for (const { id, airId } of stale)
      for (const heard of changed.memos.get(id)?.heard ?? [])
        heardBy.set(heard, [...(heardBy.get(heard) ?? []), airId]);
    const known = new Set(stale);
    const beside = lines.filter(
      (line) => !known.has(line) && heardBy.get(line.airId)?.some((airId) => !line.memo?.heard?.includes(airId)),
    );
    const more = beside.length ? await memosOf(jobId, beside) : { memos: new Map(), failures: new Map() };
    const failures = new Map([...changed.failures, ...more.failures]);
    for (const [linkId, error] of failures) this.log.error({ err: error, linkId }, 'this link could not be computed');
    const computed = [...stale, ...beside];
    for (const line of computed)
      line.memo = changed.memos.get(line.id) ?? more.memos.get(line.id) ?? (failures.has(line.id) ? notComputed : null);
    // What could not be computed is tried again whenever it is asked for.
    const stamps = stampsOf(lines);
    await keep(
      this.sequelize,
      computed.flatMap(({ id, key, memo }) =>
        memo && !failures.has(id) ? [{ id, key: fullKey(key, memo, stamps), memo }] : [],
      ),
    );
    return lines;
  }
}

/** A link without a memo was removed while it was computed. */
function lineViews(lines: readonly KeyedLine[]): LinkLine[] {
  return lines.flatMap(({ key, knownKey, memo, ...line }) => (memo ? [{ ...line, memo }] : []));
}

/** What others hear of each air. */
function stampsOf(lines: readonly KeyedLine[]): ReadonlyMap<string, string> {
  return new Map(lines.map(({ airId, airStamp }) => [airId, airStamp]));
}

/** The key of a memo with the airs that its link hears, as they are now: one that is gone has no stamp, and a memo of an older program knows of none. */
function fullKey(key: string, { heard = [] }: Partial<LinkMemo>, stamps: ReadonlyMap<string, string>): string {
  if (!heard.length) return key;
  return `${key} ${createHash('md5')
    .update(heard.map((airId) => stamps.get(airId) ?? '-').join())
    .digest('hex')}`;
}

function staleOf(lines: readonly KeyedLine[]): KeyedLine[] {
  const stamps = stampsOf(lines);
  return lines.filter(({ key, knownKey, memo }) => !memo || fullKey(key, memo, stamps) !== knownKey);
}

/** Stands for a link whose records make the computation fail: it is listed with the others, and nothing is claimed of it. */
const notComputed: LinkMemo = {
  state: {
    steps: steps.map((step) => ({
      step,
      state: 'open',
      because: "could not be computed; the server's log says why",
      evidence: null,
    })),
    next: null,
  },
  distanceM: null,
  aloneMbps: { nearToFar: 0, farToNear: 0 },
  heard: [],
};

/** Computes links one by one: one that fails stops no other. */
async function memosOf(
  jobId: string,
  stale: readonly KeyedLine[],
): Promise<{ memos: Map<string, LinkMemo>; failures: Map<string, unknown> }> {
  const wanted = new Set(stale.map((line) => line.id));
  const [records, done] = await Promise.all([
    loadAirs(jobId, [...new Set(stale.map((line) => line.airId))]),
    doneOn([...wanted]),
  ]);
  const heard = await heardBy(jobId, records, false);
  const onAir = new Map<string, LinkRecord[]>();
  for (const record of records) onAir.set(record.air.id, [...(onAir.get(record.air.id) ?? []), record]);
  const memos = new Map<string, LinkMemo>();
  const failures = new Map<string, unknown>();
  for (const record of records) {
    if (!wanted.has(record.link.id)) continue;
    if (memos.size % linksATurn === 0) await setImmediate();
    try {
      memos.set(
        record.link.id,
        memoOf(record, onAir.get(record.air.id) ?? [record], done, heard.get(record.link.id) ?? []),
      );
    } catch (error) {
      failures.set(record.link.id, error);
    }
  }
  return { memos, failures };
}

function memoOf(
  record: LinkRecord,
  onAir: readonly LinkRecord[],
  done: DoneRecords,
  heard: readonly HeardAir[],
): LinkMemo {
  const { prediction } = predictionOf(record);
  return {
    state: stateOf(record, onAir, done, heard),
    heard: heard.map(({ airId }) => airId),
    distanceM: prediction?.distanceM ?? null,
    aloneMbps: {
      nearToFar: prediction?.nearToFar.aloneMbps ?? 0,
      farToNear: prediction?.farToNear.aloneMbps ?? 0,
    },
  };
}

/** Keeps what was computed, always in one order: two servers that keep the same links do not block each other. A link that was removed meanwhile has nothing to keep, and one that is being removed is waited for. */
async function keep(sequelize: Sequelize, rows: readonly { id: string; key: string; memo: LinkMemo }[]): Promise<void> {
  await sequelize.query(
    `INSERT INTO link_memo (link_id, key, memo)
       SELECT r.id, r.key, r.memo FROM jsonb_to_recordset(:rows::jsonb) AS r (id uuid, key text, memo jsonb) JOIN link ON link.id = r.id
       ORDER BY r.id FOR KEY SHARE OF link
     ON CONFLICT (link_id) DO UPDATE SET key = excluded.key, memo = excluded.memo`,
    { replacements: { rows: JSON.stringify(rows) } },
  );
}

/** Every link with a key of all that its state rests on, but for the other airs that it hears; links of one air rest on each other. */
const keyedLines = `
  -- What all links of a job share is put together once: woven into the statement, it was read, turned into text and hashed for every link.
  WITH common AS MATERIALIZED (
    SELECT md5(concat_ws('|', :build, :year, j.version, j.country, j.practice,
      (SELECT string_agg(concat_ws(':', country, valid_from, md5(rules::text)), ',' ORDER BY country, valid_from) FROM rule_set
        WHERE valid_from <= to_char(now(), 'YYYY-MM-DD') AND country IN (SELECT j.country UNION
          SELECT s.country FROM sheet s JOIN radio r ON r.id = s.radio_id WHERE r.job_id = j.id)),
      (SELECT string_agg(concat_ws(':', id, version), ',' ORDER BY id) FROM obstacle WHERE job_id = j.id),
      (SELECT string_agg(id::text, ',' ORDER BY id) FROM terrain_file),
      -- a permit and a licence end by themselves
      (SELECT concat_ws('@', string_agg(concat_ws(':', id, version), ',' ORDER BY id), CASE WHEN count(permit_until) > 0 THEN :day END)
        FROM local_rule WHERE job_id = j.id),
      (SELECT concat_ws('@', string_agg(concat_ws(':', id, version), ',' ORDER BY id), :day) FROM licence WHERE job_id = j.id HAVING count(*) > 0),
      (SELECT concat_ws(':', id, version) FROM network WHERE job_id = j.id))) AS stamp
    FROM job j WHERE j.id = :jobId
  ), sheets AS (
    SELECT DISTINCT ON (s.radio_id) s.radio_id, s.revision, s.address FROM sheet s JOIN radio r ON r.id = s.radio_id WHERE r.job_id = :jobId
    ORDER BY s.radio_id, s.revision DESC
  ), owned AS (
    SELECT address, radio_id::text AS owner FROM sheets
    UNION ALL SELECT d.address, d.name FROM known_device d JOIN network n ON n.id = d.network_id WHERE n.job_id = :jobId
  ), clash AS (
    SELECT address, string_agg(owner, ',' ORDER BY owner) AS owners FROM owned GROUP BY address HAVING count(*) > 1
  ), line AS (
    SELECT l.id, l.air_id, a.kind, l.name, np.id AS near_place_id, fp.id AS far_place_id, np.name AS near_place, fp.name AS far_place,
      concat_ws('|', l.id, l.version, a.version, nr.id, nr.version, nr.mounted_at, np.version, ns.revision, fr.id, fr.version, fr.mounted_at, fp.version, fs.revision,
        nc.owners, fc.owners) AS plan,
      concat_ws(':', l.version, a.version, nr.version, np.version, fr.version, fp.version) AS sends
    FROM link l JOIN air a ON a.id = l.air_id
    JOIN radio nr ON nr.id = l.near_radio_id JOIN place np ON np.id = nr.place_id LEFT JOIN sheets ns ON ns.radio_id = nr.id LEFT JOIN clash nc ON nc.address = ns.address
    JOIN radio fr ON fr.id = l.far_radio_id JOIN place fp ON fp.id = fr.place_id LEFT JOIN sheets fs ON fs.radio_id = fr.id LEFT JOIN clash fc ON fc.address = fs.address
    WHERE l.job_id = :jobId
  ), shared AS (
    SELECT air_id, string_agg(plan, ';' ORDER BY id) AS plans FROM line GROUP BY air_id
  ), sent AS (
    SELECT air_id, md5(string_agg(sends, ',' ORDER BY id)) AS stamp FROM line GROUP BY air_id
  ), bench AS (
    SELECT DISTINCT ON (link_id) link_id, id FROM bench_run WHERE link_id IN (SELECT id FROM line) ORDER BY link_id, at DESC
  ), aimed AS (
    SELECT DISTINCT ON (link_id) link_id, id FROM alignment WHERE link_id IN (SELECT id FROM line) AND state = 'finished'
    ORDER BY link_id, started_at DESC
  ), proof AS (
    SELECT link_id, concat(count(*), max(id::text)) AS ids FROM throughput_test WHERE link_id IN (SELECT id FROM line) GROUP BY link_id
  )
  SELECT line.id, line.air_id AS "airId", line.kind, line.name, line.near_place_id AS "nearPlaceId", line.far_place_id AS "farPlaceId",
    line.near_place AS "nearPlace", line.far_place AS "farPlace",
    md5(concat_ws('#', common.stamp, line.plan, shared.plans, bench.id, aimed.id, proof.ids)) AS key,
    sent.stamp AS "airStamp", memo.key AS "knownKey", memo.memo
  FROM line CROSS JOIN common JOIN shared ON shared.air_id = line.air_id JOIN sent ON sent.air_id = line.air_id
  LEFT JOIN bench ON bench.link_id = line.id LEFT JOIN aimed ON aimed.link_id = line.id LEFT JOIN proof ON proof.link_id = line.id
  LEFT JOIN link_memo memo ON memo.link_id = line.id
  ORDER BY line.name, line.id`;
