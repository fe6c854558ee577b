import type { Reading } from '@kivram/core/aiming/reading';
import { ends, otherEnd, type End } from '@kivram/core/budget/plan';
import type { AngleBody, LevelTableBody, TypedLevelBody } from '@kivram/contract/requests/level';
import type { FinishBody, MarkBody, NewAlignmentBody } from '@kivram/contract/requests/work';
import {
  nothingHeardTitle,
  notReadOn,
  type AimEvent,
  type AlignmentSummary,
  type Present,
  type Tap,
} from '@kivram/contract/views/alignment';
import type { LevelTableResult } from '@kivram/contract/views/level';
import type { Logger } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { addressOf, keptIdleMs, openDatabase } from '../database/connection';
import { isDatabaseGone, isDiskFull } from '../database/errors';
import { AlignmentRow } from '../database/models/alignment';
import { ensureComingPartitions } from '../database/readingPartition';
import { storeReadings, type StoredReading } from '../database/readings';
import type { LevelTable } from '../formats/levelTable';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import type { RadioReaders } from '../radio/reader';
import { newSession, noteWays, takeTable, takeTyped, type AimSession, type AimViewer } from './aimSession';
import { marksOf, radiosOf, readingPieces, summariseAlignment } from './alignmentViews';
import { judge } from './alignmentJudge';
import { AlignmentClock } from './alignmentClock';
import { endAlignments } from './alignmentEnds';
import { makeChange } from './changes';
import { roomOf, type JobRoom } from './jobRoom';
import { Leases } from './leases';
import { loadLink, predictionOf, type LinkRecord } from './linkRecords';
import { recordBasis } from './linkStates';
import { SessionSources } from './sessionSources';
import { asksDevices } from './sourceSettings';

/** Readings a second while aiming. */
export const readingsPerSecond = 10;

/** How often leases are renewed, and alignments that nobody used for long are ended. With the length of a lease: nobody reads for at most 8 s when a server dies. */
const renewMs = 2000;

/** Statements that keep readings at one time. They have connections of their own, so that nothing else makes them wait. */
const connections = 4;

/** An alignment that nobody watches and nobody taps for so long is over. */
const idleMinutes = 15;

/**
 * The alignments that this server process runs, each under a lease: reads both radios of each ten times a second, writes what they said, and only then
 * sends it to whoever watches, so that nothing that was seen can be lost. Each alignment is read and written by itself: what goes wrong with one stops no other.
 */
export class AimSessions {
  private readonly sessions = new Map<string, AimSession>();
  /** sessions that are just being made, by the alignment's id */
  private readonly opening = new Map<string, Promise<void>>();
  private readonly leases: Leases;
  private countedAt = performance.now();
  /** the database by connections of its own */
  private readonly own: Sequelize;
  /** why an alignment that should be read is not, by its id */
  private readonly unreadable = new Map<string, ApiProblem>();
  private inTrouble: string | null = null;
  private preparing: Promise<void> | null = null;
  /** leases are renewed once at a time, and a stop waits for it */
  private renewing: Promise<void> | null = null;
  private timers: NodeJS.Timeout[] = [];

  constructor(
    private readonly sequelize: Sequelize,
    private readonly readers: RadioReaders,
    private readonly log: Logger,
  ) {
    this.own = openDatabase(addressOf(sequelize), {
      pool: { max: connections, acquire: 10_000, idle: keptIdleMs },
      // A statement that waits longer than a few readings take is of no use to whoever aims.
      dialectOptions: { statement_timeout: 5000, lock_timeout: 2000 },
    });
    this.leases = new Leases(this.own);
  }

  /** Why readings cannot be kept now; null while they can. */
  get trouble(): string | null {
    return this.inTrouble;
  }

  /** Takes up the alignments that nobody runs: those of a server that ended, or ended without a word. */
  async resume(): Promise<void> {
    await ensureComingPartitions(this.sequelize, new Date());
    await this.adopt();
    this.timers.push(
      setInterval(() => (this.renewing ??= this.renew().finally(() => (this.renewing = null))), renewMs),
    );
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
          // What it is read by is known as soon as it is opened.
          evidenceKind: 'standin',
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

  /**
   * Notes a tap. The same tap sent twice is one tap; taps that come at once all count. A reading that was under way before the tap is shown before it, one
   * that was begun after the tap after it: whoever watches hears everything in the order in which it is kept.
   */
  async mark(alignmentId: string, body: MarkBody): Promise<AlignmentSummary> {
    const session = this.sessions.get(alignmentId);
    const before = session?.taking;
    const shown = this.keepTap(alignmentId, body, performance.now()).then(async ({ row, mark }) => {
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

  /** Writes a tap made at a moment of the monotonic clock. @returns no mark where the same tap was written before */
  private async keepTap(
    alignmentId: string,
    body: MarkBody,
    madeAt: number,
  ): Promise<{ row: AlignmentRow; mark: Tap | null }> {
    const row = await this.running(alignmentId);
    const radios = await radiosOf(row.linkId);
    const session = this.sessions.get(alignmentId);
    const tS = session
      ? session.clock.secondsAt(madeAt)
      : this.readers.clockSpeed * Math.max(0, (Date.now() - row.startedAt.getTime()) / 1000);
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
    const { id, end, kind, direction } = body;
    const tap = direction === undefined ? { id, end, kind, tS } : { id, end, kind, tS, direction };
    return { row, mark: tap as Tap };
  }

  /** Takes a level that somebody read off a radio. */
  tellLevel(alignmentId: string, level: TypedLevelBody): void {
    takeTyped(this.sessionOf(alignmentId), level);
  }

  tellAngle(alignmentId: string, angle: AngleBody): void {
    this.sessionOf(alignmentId).sources.tellAngle(angle);
  }

  /** Takes levels of the past with their times; whoever watches reads everything anew. */
  async pasteLevels(alignmentId: string, body: LevelTableBody, table: LevelTable): Promise<LevelTableResult> {
    const store = (part: StoredReading[]) => storeReadings(this.own, alignmentId, part, { holder: this.leases.holder });
    const result = await takeTable(this.sessionOf(alignmentId), body, table, store);
    if (!result) throw ended();
    this.send(alignmentId, { type: 'readAgain' });
    return result;
  }

  /** Somebody has the alignment open, and says where they are. */
  join(alignmentId: string, present: Present): Present[] {
    const session = this.sessionOf(alignmentId);
    if (session.crew.join(present)) this.sendCrew(session);
    return session.crew.present();
  }

  /** The way in which an end of a link is read was changed: what runs goes on with it. */
  async changeSource(linkId: string, end: End): Promise<void> {
    for (const session of this.sessions.values()) {
      if (session.linkId !== linkId) continue;
      await session.sources.reopen(end);
      const row = await AlignmentRow.findByPk(session.id, { rejectOnEmpty: true });
      await noteWays(row, session.sources, session.clock.secondsAt(performance.now()));
      for (const event of session.sources.now()) this.send(session.id, event);
    }
  }

  /** @throws ApiProblem where an end that was to be aimed has no level, unless that is meant */
  async finish(alignmentId: string, { silent }: FinishBody, author: Author): Promise<AlignmentSummary> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    await this.takeTyped(alignmentId);
    const record = await loadLink(row.linkId);
    const radios = { near: record.near.radio.id, far: record.far.radio.id };
    const marks = await marksOf(row.id, radios);
    const readings: Reading[] = [];
    for await (const piece of readingPieces(row.id, radios)) for (const reading of piece) readings.push(reading);
    const result = await judge(row.plan, record, readings, marks, row.levelsFrom);
    const mute = row.plan.ends.filter((end) => result[end].rslDbm === null);
    if (mute.length && !silent && row.state === 'running') throw nothingHeard(mute, readings);
    const words = (end: End): string => {
      const { rslDbm, expectedDbm } = result[end];
      return `${end} ${rslDbm === null ? 'heard nothing' : `${rslDbm.toFixed(1)} dBm`} (predicted ${expectedDbm.toFixed(1)})`;
    };
    return this.end(row, record, 'finished', author, result, `Aimed: ${words('near')}, ${words('far')}`);
  }

  /** Reads on what is not read any more because the server died of it, as it seemed: somebody asks for it. */
  async readOn(alignmentId: string): Promise<AlignmentSummary> {
    const row = await this.running(alignmentId);
    await this.leases.forgive(leaseOf(alignmentId));
    await this.adopt();
    return summariseAlignment(row);
  }

  async abandon(alignmentId: string, author: Author): Promise<AlignmentSummary> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    const record = await loadLink(row.linkId);
    return this.end(row, record, 'abandoned', author, null, 'Broke off aiming; the readings are kept');
  }

  /**
   * Sends this alignment's readings and marks from now on; call the returned function to stop.
   * @throws ApiProblem that says why nothing of it will come
   */
  async watch(alignmentId: string, viewer: AimViewer): Promise<() => void> {
    const session = this.sessions.get(alignmentId);
    if (!session) {
      await this.running(alignmentId);
      throw (
        this.unreadable.get(alignmentId) ??
        new ApiProblem(
          409,
          'Not read',
          'This alignment is read by another server, or soon by this one. Wait some seconds.',
        )
      );
    }
    viewer.begin?.();
    for (const event of session.sources.now()) viewer.show(event);
    viewer.show({ type: 'crew', present: session.crew.present() });
    session.viewers.add(viewer);
    return () => {
      session.viewers.delete(viewer);
      session.usedAtMs = performance.now();
    };
  }

  /** Ends the reading; another server may take the alignments up at once. */
  async stop(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    this.timers = [];
    // What it takes up now would be kept by nobody.
    await this.renewing;
    const taking = [...this.sessions.values()].map((session) => session.taking);
    for (const session of this.sessions.values()) this.drop(session);
    await Promise.all(taking);
    await this.leases
      .releaseAll()
      .catch((error: unknown) => this.log.warn({ err: error }, 'leases run out by themselves'));
    await this.own.close();
  }

  /** @throws ApiProblem where it is not read here */
  private sessionOf(alignmentId: string): AimSession {
    const session = this.sessions.get(alignmentId);
    if (session) return session;
    throw (
      this.unreadable.get(alignmentId) ??
      new ApiProblem(409, 'Not read', 'This alignment has ended, or is read by another server. Load the page again.')
    );
  }

  private sendCrew(session: AimSession): void {
    this.send(session.id, { type: 'crew', present: session.crew.present() });
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
      const shortLives = mine.get(leaseOf(row.id));
      if (shortLives === undefined) continue;
      try {
        if (shortLives >= mostShortLives && (await asksDevices(row.linkId))) throw diedOfIt();
        await this.open(row);
        this.unreadable.delete(row.id);
      } catch (error) {
        // Said once; it is tried again, for what is missing may be mended.
        if (!this.unreadable.has(row.id))
          this.log.warn({ err: error, alignmentId: row.id }, 'this alignment cannot be read on; its readings are kept');
        this.unreadable.set(
          row.id,
          error instanceof ApiProblem && error.title === notReadOn
            ? error
            : new ApiProblem(
                409,
                'Not read',
                `This alignment cannot be read: ${error instanceof Error ? error.message : String(error)}`,
              ),
        );
      }
    }
  }

  /**
   * Reads an alignment from now on. Who starts it and who takes up what nobody reads may come upon it at once: it is opened once, for whoever watched the
   * first of two would hear no more.
   * @throws Error where there is nothing to read: the link has lost its geometry, or its radios cannot be reached
   */
  private open(row: AlignmentRow): Promise<void> {
    if (this.sessions.has(row.id)) return Promise.resolve();
    const opening = this.opening.get(row.id) ?? this.begin(row).finally(() => this.opening.delete(row.id));
    this.opening.set(row.id, opening);
    return opening;
  }

  private async begin(row: AlignmentRow): Promise<void> {
    const record = await loadLink(row.linkId);
    const { prediction, predictionError } = predictionOf(record);
    if (!prediction) throw new Error(predictionError ?? 'The link has no geometry.');
    const radios = await radiosOf(row.linkId);
    const angleBy = { near: row.plan.nearSource, far: row.plan.farSource };
    const sources = await SessionSources.open(this.readers, row.linkId, radios, angleBy);
    const clock = new AlignmentClock(await this.secondsSoFar(row), this.readers.clockSpeed);
    await noteWays(row, sources, clock.secondsAt(performance.now()));
    this.sessions.set(row.id, newSession(row, record.job.id, clock, radios, sources));
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
    const session = this.sessions.get(alignmentId);
    if (session) this.drop(session);
    await this.leases.release([leaseOf(alignmentId)]);
  }

  private drop(session: AimSession): void {
    this.sessions.delete(session.id);
    session.sources.close();
    for (const viewer of session.viewers) viewer.leave();
    // A reading may be on its way to the database: when it is there, nobody is left to be shown it.
    session.viewers.clear();
  }

  private tick(): void {
    for (const session of this.sessions.values()) void this.takeOnce(session);
  }

  /** One reading at a time: a slow disk makes fewer readings, not a queue. */
  private takeOnce(session: AimSession): Promise<void> {
    session.taking ??= this.take(session)
      .catch((error: unknown) => this.log.error({ err: error, alignmentId: session.id }, 'nothing could be read'))
      .finally(() => (session.taking = null));
    return session.taking;
  }

  /** Reads what was typed just before the end: it is not lost for being young. */
  private async takeTyped(alignmentId: string): Promise<void> {
    const session = this.sessions.get(alignmentId);
    for (let turn = 0; session?.sources.waiting && turn < mostTypedAtOnce; turn++) await this.takeOnce(session);
  }

  /** Reads both radios, keeps what they said, then shows it. */
  private async take(session: AimSession): Promise<void> {
    const earlierTaps = [...session.taps];
    try {
      const at = session.clock.now();
      // Whoever looks holds it against the same clock, also where that was set meanwhile.
      const atMs = Date.now();
      const tS = session.clock.secondsAt(performance.now());
      const readings = await session.sources.read(tS);
      const stored = await storeReadings(
        this.own,
        session.id,
        readings.map(({ end, ...reading }) => ({
          ...reading,
          radioId: session.radios[end],
          peerId: session.radios[otherEnd(end)],
          at: at.toISOString(),
        })),
        { holder: this.leases.holder },
      );
      // Somebody else ended it, or reads it now.
      if (!stored) return await this.leave(session);
      this.inTrouble = null;
      await Promise.all(earlierTaps);
      const event: AimEvent = { type: 'reading', readings, atMs };
      for (const viewer of session.viewers) viewer.show(event);
      for (const news of session.sources.news()) this.send(session.id, news);
      if (session.crew.forgetGone()) this.sendCrew(session);
    } catch (error) {
      await this.lost(session, error);
    }
  }

  /** Readings that cannot be kept are not shown; whoever watches is told. An alignment that is gone, as when its job was replaced, is dropped. */
  private async lost(session: AimSession, error: unknown): Promise<void> {
    const everywhere = isDatabaseGone(error) || isDiskFull(error);
    // Ten times a second would fill the disk with what is known.
    if (!everywhere || this.inTrouble === null)
      this.log.error({ err: error, alignmentId: session.id }, 'readings could not be written');
    const words = troubleOf(error);
    if (everywhere) this.inTrouble = words;
    for (const viewer of session.viewers) viewer.show({ type: 'trouble', words });
    const row = await AlignmentRow.findByPk(session.id).catch(() => undefined);
    if (row === undefined) return; // the database does not answer now; it will
    if (row?.state !== 'running') await this.close(session.id, row?.state === 'finished' ? 'finished' : 'abandoned');
  }

  /** Nothing was stored: the alignment has ended; or its lease has run out, while the database did not answer, and is this process's again or another's. */
  private async leave(session: AimSession): Promise<void> {
    const row = await AlignmentRow.findByPk(session.id);
    if (row?.state !== 'running') return this.close(session.id, row?.state === 'finished' ? 'finished' : 'abandoned');
    const mine = await this.leases.take([leaseOf(session.id)]);
    if (!mine.size) this.drop(session);
  }

  /** Keeps this process's leases, takes up what another server left, and ends what nobody has used for long. */
  private async renew(): Promise<void> {
    try {
      const mine = await this.leases.take([...this.sessions.keys()].map(leaseOf));
      for (const session of this.sessions.values()) if (!mine.has(leaseOf(session.id))) this.drop(session);
      await this.adopt();
      const room = roomOf(this.sequelize);
      const idleSince = performance.now() - idleMinutes * 60_000;
      for (const session of this.sessions.values()) {
        if (!session.viewers.size && session.usedAtMs < idleSince) await this.endByItself(session, nobodyUsedIt);
        else if (room.isFull(session.jobId)) await this.endByItself(session, jobIsFull);
      }
      this.countReadings(room);
      // Made a week ahead: it may wait for those who write, and leases must not.
      this.preparing ??= ensureComingPartitions(this.own, new Date())
        .catch((error: unknown) => this.log.warn({ err: error }, 'partitions could not be made'))
        .finally(() => (this.preparing = null));
    } catch (error) {
      this.log.error({ err: error }, 'leases could not be renewed');
    }
  }

  /** Readings come without a change, so that their jobs are counted now and then. */
  private countReadings(room: JobRoom): void {
    if (performance.now() - this.countedAt < countMs) return;
    this.countedAt = performance.now();
    for (const jobId of new Set([...this.sessions.values()].map((session) => session.jobId)))
      room.count(jobId).catch((error: unknown) => this.log.warn({ err: error, jobId }, 'a job was not counted'));
  }

  /** Ends an alignment in the program's own name; what it has is kept. */
  private async endByItself(session: AimSession, summary: string): Promise<void> {
    await endAlignments(this.sequelize, { alignmentId: session.id }, summary);
    await this.close(session.id, 'abandoned');
  }

  /** How far into an alignment its last reading was taken: another server may have taken it, by another clock. */
  private async secondsSoFar(row: AlignmentRow): Promise<number> {
    const [last] = await this.sequelize.query<{ tS: number | null }>(
      'SELECT max(t_s) AS "tS" FROM (SELECT t_s FROM reading WHERE alignment_id = :id ORDER BY at DESC LIMIT 100) AS r',
      { type: QueryTypes.SELECT, replacements: { id: row.id } },
    );
    const byTheClock = (this.readers.clockSpeed * (Date.now() - row.startedAt.getTime())) / 1000;
    return Math.max(0, byTheClock, (last?.tS ?? 0) + 0.001);
  }

  private touch(alignmentId: string): void {
    const session = this.sessions.get(alignmentId);
    if (session) session.usedAtMs = performance.now();
  }

  private send(alignmentId: string, event: AimEvent): void {
    for (const viewer of this.sessions.get(alignmentId)?.viewers ?? []) viewer.show(event);
  }
}

/** What keeps readings from being kept, in words for whoever aims. */
function troubleOf(error: unknown): string {
  if (isDiskFull(error))
    return 'The disk of this computer is full: readings cannot be saved. Free some space: reading goes on by itself.';
  if (isDatabaseGone(error))
    return 'The database does not answer: readings cannot be kept. It is started again by itself; wait some seconds.';
  return 'The readings of this alignment cannot be kept. The log of the server says why.';
}

/** Asks before "nothing was heard" is put on record: who typed no level since the mount was turned did not mean it. */
function nothingHeard(mute: readonly End[], readings: readonly Reading[]): ApiProblem {
  const why = mute.map((end) =>
    readings.some((r) => r.end === end && r.rslDbm !== null)
      ? `the ${end} end was heard, and not since its mount was turned`
      : `the ${end} end heard nothing`,
  );
  const words = why.join(', and ');
  return new ApiProblem(
    409,
    nothingHeardTitle,
    `${words.charAt(0).toUpperCase()}${words.slice(1)}. Read the level once more, or store it so.`,
  );
}

/** Levels that a hand types between two readings, at the most. */
const mostTypedAtOnce = 20;

const nobodyUsedIt = `Nobody used the alignment for ${idleMinutes} minutes, so it was ended; the readings are kept`;
const jobIsFull = 'The job holds all that its file can carry, so the alignment was ended; the readings are kept';

/** How often jobs are counted whose links are aimed, ms: twenty thousand readings of a link. */
const countMs = 1000_000;

/** So many servers in a row that died soon after they began to read an alignment died of it, as it seems. */
const mostShortLives = 3;

const diedOfIt = (): ApiProblem =>
  new ApiProblem(
    409,
    notReadOn,
    `Kivram ended ${mostShortLives} times soon after it had begun to ask these radios, so it does not by itself. What was read is kept.`,
  );

const ended = (): ApiProblem => new ApiProblem(409, 'Already ended', 'This alignment has ended. Start another one.');

function leaseOf(alignmentId: string): string {
  return `alignment ${alignmentId}`;
}
