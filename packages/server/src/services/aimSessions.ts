import { ends, otherEnd, type End, type Reading } from '@kivram/core';
import type { AimEvent, AlignmentSummary, AlignmentView, MarkBody, NewAlignmentBody, Tap } from '@kivram/contract';
import type { Logger } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { AlignmentRow, LinkRow } from '../database/models';
import { ensureComingPartitions } from '../database/readingPartition';
import { storeReadings } from '../database/readings';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/problem';
import { readInTime, type RadioReader, type RadioReaders } from '../radio/reader';
import { marksOf, readingsOf, summariseAlignment, type RadioEnds } from './alignmentViews';
import { judge } from './alignmentJudge';
import { makeChange } from './changes';
import { Leases } from './leases';
import { loadLink, predictionOf, type LinkRecord } from './linkRecords';
import { recordBasis } from './linkStates';

/** Readings a second while aiming. */
export const readingsPerSecond = 10;

/** How often leases are renewed, and alignments that nobody used for long are ended. */
const renewMs = 5000;

/** An alignment that nobody watches and nobody taps for so long is over. */
const idleMinutes = 15;

interface Session {
  id: string;
  linkId: string;
  startedAtMs: number;
  sources: Record<End, string>;
  radios: RadioEnds;
  readers: Record<End, RadioReader>;
  viewers: Set<(event: AimEvent) => void>;
  /** when somebody last watched or tapped */
  usedAtMs: number;
  /** the reading under way */
  taking: Promise<void> | null;
  /** taps that are not shown yet */
  taps: Set<Promise<unknown>>;
}

/**
 * The alignments that this server process runs, each under a lease: reads both radios of each ten times a second, writes what they said, and only then
 * sends it to whoever watches, so that nothing that was seen can be lost. Each alignment is read and written by itself: what goes wrong with one stops no other.
 */
export class AimSessions {
  private readonly sessions = new Map<string, Session>();
  private readonly leases: Leases;
  private timers: NodeJS.Timeout[] = [];

  constructor(
    private readonly sequelize: Sequelize,
    private readonly readers: RadioReaders,
    private readonly log: Logger,
  ) {
    this.leases = new Leases(sequelize);
  }

  /** Takes up the alignments that nobody runs: those of a server that ended, or ended without a word. */
  async resume(): Promise<void> {
    await ensureComingPartitions(this.sequelize, new Date());
    await this.adopt();
    this.timers.push(setInterval(() => void this.renew(), renewMs));
    this.timers.push(setInterval(() => this.tick(), 1000 / readingsPerSecond / this.readers.clockSpeed));
  }

  async start(linkId: string, body: NewAlignmentBody, author: Author): Promise<AlignmentSummary> {
    const record = await loadLink(linkId);
    const { prediction, predictionError } = predictionOf(record);
    if (!prediction) throw new ApiProblem(422, 'No geometry', predictionError ?? 'The link has no geometry.');
    const turned = ends.filter((end) => record[end].radio.azimuthDeg === null);
    if (!turned.length) {
      throw new ApiProblem(422, 'Nothing to turn', 'Both antennas serve other links too and stay where they point.');
    }
    const id = await makeChange(this.sequelize, record.job.id, author, async ({ transaction, crewMemberId, note }) => {
      const made = await AlignmentRow.create(
        {
          linkId,
          state: 'running',
          startedAt: new Date(),
          crewMemberId,
          plan: {
            nearSource: body.nearSource,
            farSource: body.farSource,
            order: body.order,
            ends: turned,
            expectedDbm: { near: prediction.near.rslDbm, far: prediction.far.rslDbm },
          },
          evidenceKind: this.readers.kind,
          basis: recordBasis(record),
        },
        { transaction },
      );
      await note({ linkId, kind: 'alignment', summary: 'Began to aim' });
      return made.id;
    });
    const row = await AlignmentRow.findByPk(id, { rejectOnEmpty: true });
    if (row.state === 'running' && !this.sessions.has(id) && (await this.leases.take([leaseOf(id)])).size)
      await this.open(row);
    return summariseAlignment(row);
  }

  /** One alignment with all its readings and marks. */
  async view(alignmentId: string): Promise<AlignmentView> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    const radios = await radiosOf(row.linkId);
    const [samples, marks] = await Promise.all([readingsOf(row.id, radios), marksOf(row.id)]);
    return { ...summariseAlignment(row), expectedDbm: row.plan.expectedDbm, samples, marks };
  }

  /**
   * Notes a tap. The same tap sent twice is one tap; taps that come at once all count. A reading that was under way before the tap is shown before it, one
   * that was begun after the tap after it: whoever watches hears everything in the order in which it is kept.
   */
  async mark(alignmentId: string, body: MarkBody): Promise<AlignmentSummary> {
    const session = this.sessions.get(alignmentId);
    const before = session?.taking;
    const shown = this.keepTap(alignmentId, body, Date.now()).then(async ({ row, mark }) => {
      await before;
      if (mark) this.send(alignmentId, { type: 'mark', mark });
      return summariseAlignment(row);
    });
    const settled = shown.catch(() => undefined);
    session?.taps.add(settled);
    try {
      return await shown;
    } finally {
      session?.taps.delete(settled);
    }
  }

  /** Writes a tap made at a moment. @returns no mark where the same tap was written before */
  private async keepTap(
    alignmentId: string,
    body: MarkBody,
    atMs: number,
  ): Promise<{ row: AlignmentRow; mark: Tap | null }> {
    const row = await this.running(alignmentId);
    const radios = await radiosOf(row.linkId);
    const tS = this.secondsSince(row.startedAt.getTime(), atMs);
    const made = await this.sequelize.query<{ id: string }>(
      `INSERT INTO aim_mark (id, alignment_id, radio_id, peer_id, t_s, kind, direction)
       VALUES (:id, :alignmentId, :radioId, :peerId, :tS, :kind, :direction) ON CONFLICT (id) DO NOTHING RETURNING id`,
      {
        type: QueryTypes.SELECT,
        replacements: {
          id: body.id,
          alignmentId,
          radioId: radios[body.end],
          peerId: radios[otherEnd(body.end)],
          tS,
          kind: body.kind,
          direction: body.direction ?? null,
        },
      },
    );
    if (!made.length) return { row, mark: null };
    this.touch(alignmentId);
    const { id, kind, direction } = body;
    return { row, mark: (direction === undefined ? { id, kind, tS } : { id, kind, tS, direction }) as Tap };
  }

  async finish(alignmentId: string, author: Author): Promise<AlignmentSummary> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    const record = await loadLink(row.linkId);
    const radios = { near: record.near.radio.id, far: record.far.radio.id };
    const [readings, marks] = await Promise.all([readingsOf(row.id, radios), marksOf(row.id)]);
    const result = judge(row.plan, record, readings, marks);
    const words = (end: End): string => {
      const { rslDbm, expectedDbm } = result[end];
      return `${end} ${rslDbm === null ? 'heard nothing' : `${rslDbm.toFixed(1)} dBm`} (predicted ${expectedDbm.toFixed(1)})`;
    };
    return this.end(row, record, 'finished', author, result, `Aimed: ${words('near')}, ${words('far')}`);
  }

  async abandon(alignmentId: string, author: Author): Promise<AlignmentSummary> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    const record = await loadLink(row.linkId);
    return this.end(row, record, 'abandoned', author, null, 'Broke off aiming; the readings are kept');
  }

  /** Sends this alignment's readings and marks from now on; call the returned function to stop. */
  watch(alignmentId: string, viewer: (event: AimEvent) => void): (() => void) | undefined {
    const session = this.sessions.get(alignmentId);
    session?.viewers.add(viewer);
    return (
      session &&
      (() => {
        session.viewers.delete(viewer);
        session.usedAtMs = Date.now();
      })
    );
  }

  /** Ends the reading; another server may take the alignments up at once. */
  async stop(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    this.timers = [];
    this.sessions.clear();
    await this.leases.releaseAll();
  }

  private async running(alignmentId: string): Promise<AlignmentRow> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    if (row.state !== 'running') throw ended();
    return row;
  }

  /** Takes the leases of running alignments that nobody holds, and reads them from then on. One that cannot be read is skipped, and said. */
  private async adopt(): Promise<void> {
    const rows = await AlignmentRow.findAll({ where: { state: 'running' } });
    const free = rows.filter((row) => !this.sessions.has(row.id));
    const mine = await this.leases.take(free.map((row) => leaseOf(row.id)));
    for (const row of free) {
      if (!mine.has(leaseOf(row.id))) continue;
      try {
        await this.open(row);
      } catch (error) {
        this.log.warn({ err: error, alignmentId: row.id }, 'this alignment cannot be read on; its readings are kept');
      }
    }
  }

  private async open(row: AlignmentRow): Promise<void> {
    const radios = await radiosOf(row.linkId);
    const reader = (end: End): Promise<RadioReader> =>
      this.readers.readerOf(radios[end], radios[otherEnd(end)], row.linkId);
    this.sessions.set(row.id, {
      id: row.id,
      linkId: row.linkId,
      startedAtMs: row.startedAt.getTime(),
      sources: { near: row.plan.nearSource, far: row.plan.farSource },
      radios,
      readers: { near: await reader('near'), far: await reader('far') },
      viewers: new Set(),
      usedAtMs: Date.now(),
      taking: null,
      taps: new Set(),
    });
  }

  private async end(
    row: AlignmentRow,
    record: LinkRecord,
    state: 'finished' | 'abandoned',
    author: Author,
    result: AlignmentSummary['result'],
    summary: string,
  ): Promise<AlignmentSummary> {
    await makeChange(this.sequelize, record.job.id, author, async ({ transaction, note }) => {
      // Of several who end it at once only the first does; the row is locked until it is done.
      const locked = await AlignmentRow.findByPk(row.id, { transaction, lock: true });
      if (locked?.state !== 'running') throw ended();
      await locked.update({ state, finishedAt: new Date(), result }, { transaction });
      await note({ linkId: row.linkId, kind: 'alignment', summary, detail: { alignmentId: row.id } });
      return null;
    });
    await this.close(row.id, state);
    return summariseAlignment(await row.reload());
  }

  private async close(alignmentId: string, state: 'finished' | 'abandoned'): Promise<void> {
    this.send(alignmentId, { type: 'ended', state });
    this.sessions.delete(alignmentId);
    await this.leases.release([leaseOf(alignmentId)]);
  }

  private tick(): void {
    // A slow disk makes fewer readings, not a queue.
    for (const session of this.sessions.values()) {
      session.taking ??= this.take(session)
        .catch((error: unknown) => this.log.error({ err: error, alignmentId: session.id }, 'nothing could be read'))
        .finally(() => (session.taking = null));
    }
  }

  /** Reads both radios, keeps what they said, then shows it. */
  private async take(session: Session): Promise<void> {
    const earlierTaps = [...session.taps];
    try {
      const at = new Date();
      const tS = this.secondsSince(session.startedAtMs, at.getTime());
      const heard = await Promise.all(ends.map((end) => readInTime(session.readers[end], tS)));
      const readings = ends.map((end, i): Reading => {
        const reading = heard[i] as (typeof heard)[number];
        // Without a phone on the antenna there is no angle.
        const angles = session.sources[end] === 'phone' ? {} : { phoneAzimuthDeg: null, phoneTiltDeg: null };
        return { ...reading, ...angles, end, tS };
      });
      await storeReadings(
        this.sequelize,
        session.id,
        readings.map(({ end, ...reading }) => ({
          ...reading,
          radioId: session.radios[end],
          peerId: session.radios[otherEnd(end)],
          at: at.toISOString(),
        })),
      );
      await Promise.all(earlierTaps);
      const event: AimEvent = { type: 'reading', readings, atMs: at.getTime() };
      for (const viewer of session.viewers) viewer(event);
    } catch (error) {
      await this.lost(session, error);
    }
  }

  /** Readings that cannot be kept are not shown. An alignment that is gone, as when its job was replaced, is dropped. */
  private async lost(session: Session, error: unknown): Promise<void> {
    this.log.error({ err: error, alignmentId: session.id }, 'readings could not be written');
    const row = await AlignmentRow.findByPk(session.id).catch(() => undefined);
    if (row === undefined) return; // the database does not answer now; it will
    if (row?.state !== 'running') await this.close(session.id, row?.state === 'finished' ? 'finished' : 'abandoned');
  }

  /** Keeps this process's leases, takes up what another server left, and ends what nobody has used for long. */
  private async renew(): Promise<void> {
    try {
      await ensureComingPartitions(this.sequelize, new Date());
      const names = [...this.sessions.keys()].map(leaseOf);
      const mine = await this.leases.take(names);
      for (const id of this.sessions.keys()) if (!mine.has(leaseOf(id))) this.sessions.delete(id);
      await this.adopt();
      const idleSince = Date.now() - idleMinutes * 60_000;
      for (const session of this.sessions.values()) {
        if (!session.viewers.size && session.usedAtMs < idleSince) await this.endIdle(session);
      }
    } catch (error) {
      this.log.error({ err: error }, 'leases could not be renewed');
    }
  }

  /** Ends an alignment that was left alone, in the program's own name; what it has is kept. */
  private async endIdle(session: Session): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      const row = await AlignmentRow.findByPk(session.id, { transaction, lock: true });
      if (row?.state !== 'running') return;
      await row.update({ state: 'abandoned', finishedAt: new Date() }, { transaction });
      await this.sequelize.query(
        `INSERT INTO event (job_id, link_id, kind, summary, detail)
         SELECT job_id, id, 'alignment', :summary, :detail::jsonb FROM link WHERE id = :linkId`,
        {
          transaction,
          replacements: {
            linkId: session.linkId,
            summary: `Nobody used the alignment for ${idleMinutes} minutes, so it was ended; the readings are kept`,
            detail: JSON.stringify({ alignmentId: session.id }),
          },
        },
      );
    });
    await this.close(session.id, 'abandoned');
  }

  /** Seconds that have passed for the radios. */
  private secondsSince(startedAtMs: number, nowMs = Date.now()): number {
    return (this.readers.clockSpeed * (nowMs - startedAtMs)) / 1000;
  }

  private touch(alignmentId: string): void {
    const session = this.sessions.get(alignmentId);
    if (session) session.usedAtMs = Date.now();
  }

  private send(alignmentId: string, event: AimEvent): void {
    for (const viewer of this.sessions.get(alignmentId)?.viewers ?? []) viewer(event);
  }
}

const ended = (): ApiProblem => new ApiProblem(409, 'Already ended', 'This alignment has ended. Start another one.');

function leaseOf(alignmentId: string): string {
  return `alignment ${alignmentId}`;
}

async function radiosOf(linkId: string): Promise<RadioEnds> {
  const link = await LinkRow.findByPk(linkId, { attributes: ['nearRadioId', 'farRadioId'] });
  if (!link) throw notFound('link');
  return { near: link.nearRadioId, far: link.farRadioId };
}
