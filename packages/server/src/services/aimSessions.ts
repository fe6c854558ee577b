import {
  AimGuide,
  diagnoseEnds,
  diagnosePeak,
  scaleNotchDeg,
  type AimMark,
  type End,
  type Reading,
} from '@kivram/core';
import type { AimEvent, AlignmentEndResult, AlignmentSummary, MarkBody, NewAlignmentBody } from '@kivram/contract';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { AlignmentRow, ReadingRow, type AlignmentPlan } from '../database/models';
import { ensureReadingPartition } from '../database/readingPartition';
import { ApiProblem, notFound } from '../http/problem';
import type { RadioReader, RadioReaders } from '../radio/reader';
import { marksOf, readingsOf, summariseAlignment } from './alignmentViews';
import { noteEvent } from './events';
import { loadLink, tryPredict, type LoadedLink } from './links';

/** Readings a second while aiming. */
export const readingsPerSecond = 10;

interface Session {
  id: string;
  startedAtMs: number;
  sources: Record<End, string>;
  reader: RadioReader;
  viewers: Set<(event: AimEvent) => void>;
}

/**
 * The alignments that are running: reads both radios of each ten times a second, writes the readings of all of them in one
 * statement, and only then sends them to whoever watches, so that nothing that was seen can be lost.
 */
export class AimSessions {
  private readonly sessions = new Map<string, Session>();
  private timer: NodeJS.Timeout | undefined;
  private writing = false;

  constructor(
    private readonly sequelize: Sequelize,
    private readonly readers: RadioReaders,
    private readonly log: Logger,
  ) {}

  /** Takes up the alignments that were running when the server last ended. */
  async resume(): Promise<void> {
    for (const row of await AlignmentRow.findAll({ where: { state: 'running' } })) await this.open(row);
  }

  async start(linkId: string, body: NewAlignmentBody): Promise<AlignmentSummary> {
    const loaded = await loadLink(linkId);
    const { prediction, predictionError } = tryPredict(loaded);
    if (!prediction) throw new ApiProblem(422, 'No geometry', predictionError ?? 'The link has no geometry.');
    const row = await this.sequelize.transaction(async (transaction) => {
      const made = await AlignmentRow.create(
        {
          linkId,
          state: 'running',
          startedAt: new Date(),
          crewMemberId: body.crewMemberId,
          plan: {
            nearSource: body.nearSource,
            farSource: body.farSource,
            order: body.order,
            expectedDbm: { near: prediction.near.rslDbm, far: prediction.far.rslDbm },
          },
        },
        { transaction },
      );
      await noteEvent(
        {
          jobId: loaded.row.jobId,
          linkId,
          crewMemberId: body.crewMemberId,
          kind: 'alignment',
          summary: 'Began to aim',
        },
        transaction,
      );
      return made;
    });
    await this.open(row);
    return summariseAlignment(row);
  }

  async mark(alignmentId: string, body: MarkBody): Promise<AlignmentSummary> {
    const row = await this.running(alignmentId);
    const tS = (Date.now() - row.startedAt.getTime()) / 1000;
    await this.sequelize.query(
      `INSERT INTO aim_mark (alignment_id, sequence, t_s, kind, direction)
       SELECT :id, coalesce(max(sequence), 0) + 1, :tS, :kind, :direction FROM aim_mark WHERE alignment_id = :id`,
      { replacements: { id: alignmentId, tS, kind: body.kind, direction: body.direction ?? null } },
    );
    const mark = (
      body.direction === undefined ? { kind: body.kind, tS } : { kind: body.kind, tS, direction: body.direction }
    ) as AimMark;
    this.send(alignmentId, { type: 'mark', mark });
    return summariseAlignment(row);
  }

  async finish(alignmentId: string, crewMemberId: string): Promise<AlignmentSummary> {
    const row = await this.running(alignmentId);
    const loaded = await loadLink(row.linkId);
    const result = await judge(row, loaded);
    return this.end(row, loaded, 'finished', crewMemberId, result);
  }

  async abandon(alignmentId: string, crewMemberId: string): Promise<AlignmentSummary> {
    const row = await this.running(alignmentId);
    const loaded = await loadLink(row.linkId);
    return this.end(row, loaded, 'abandoned', crewMemberId, null);
  }

  /** Sends this alignment's readings and marks from now on; call the returned function to stop. */
  watch(alignmentId: string, viewer: (event: AimEvent) => void): (() => void) | undefined {
    const session = this.sessions.get(alignmentId);
    session?.viewers.add(viewer);
    return session && (() => session.viewers.delete(viewer));
  }

  stop(): void {
    clearInterval(this.timer);
    this.sessions.clear();
  }

  private async running(alignmentId: string): Promise<AlignmentRow> {
    const row = await AlignmentRow.findByPk(alignmentId);
    if (!row) throw notFound('alignment');
    if (row.state !== 'running')
      throw new ApiProblem(409, 'Already ended', 'This alignment has ended. Start another one.');
    return row;
  }

  private async open(row: AlignmentRow): Promise<void> {
    this.sessions.set(row.id, {
      id: row.id,
      startedAtMs: row.startedAt.getTime(),
      sources: { near: row.plan.nearSource, far: row.plan.farSource },
      reader: await this.readers.readerOf(row.linkId),
      viewers: new Set(),
    });
    this.timer ??= setInterval(() => void this.tick(), 1000 / readingsPerSecond);
  }

  private close(alignmentId: string): void {
    this.sessions.delete(alignmentId);
    if (!this.sessions.size) {
      clearInterval(this.timer);
      this.timer = undefined;
    }
  }

  private async end(
    row: AlignmentRow,
    loaded: LoadedLink,
    state: 'finished' | 'abandoned',
    crewMemberId: string,
    result: AlignmentSummary['result'],
  ): Promise<AlignmentSummary> {
    await this.sequelize.transaction(async (transaction) => {
      await row.update({ state, finishedAt: new Date(), result }, { transaction });
      const summary = result
        ? `Aimed: near ${words(result.near)}, far ${words(result.far)}`
        : 'Broke off aiming; the readings are kept';
      await noteEvent(
        {
          jobId: loaded.row.jobId,
          linkId: row.linkId,
          crewMemberId,
          kind: 'alignment',
          summary,
          detail: { alignmentId: row.id },
        },
        transaction,
      );
    });
    this.send(row.id, { type: 'ended', state });
    this.close(row.id);
    return summariseAlignment(row);
  }

  private async tick(): Promise<void> {
    if (this.writing || !this.sessions.size) return; // a slow disk makes fewer readings, not a queue
    this.writing = true;
    try {
      const atMs = Date.now();
      const batches = [...this.sessions.values()].map((session) => ({ session, readings: take(session, atMs) }));
      await ensureReadingPartition(this.sequelize, new Date(atMs));
      await ReadingRow.bulkCreate(
        batches.flatMap(({ session, readings }) =>
          readings.map(({ end, ...reading }) => ({
            alignmentId: session.id,
            at: new Date(atMs),
            linkEnd: end,
            ...reading,
          })),
        ),
      );
      for (const { session, readings } of batches) {
        const event: AimEvent = { type: 'reading', readings, atMs };
        for (const viewer of session.viewers) viewer(event);
      }
    } catch (error) {
      this.log.error({ err: error }, 'readings could not be written');
    } finally {
      this.writing = false;
    }
  }

  private send(alignmentId: string, event: AimEvent): void {
    for (const viewer of this.sessions.get(alignmentId)?.viewers ?? []) viewer(event);
  }
}

/** Both readings of the moment; without a phone on the antenna there is no angle. */
function take(session: Session, atMs: number): Reading[] {
  const tS = (atMs - session.startedAtMs) / 1000;
  return session.reader
    .read(tS)
    .map((r) => (session.sources[r.end] === 'phone' ? r : { ...r, phoneAzimuthDeg: null, phoneTiltDeg: null }));
}

/** The guide of an alignment, as its plan sets it up. */
export function guideFor(plan: AlignmentPlan, loaded: Pick<LoadedLink, End>): AimGuide {
  const aim = (end: End) => ({
    beam: loaded[end].model.beamWidth,
    expectedDbm: plan.expectedDbm[end],
    source: end === 'near' ? plan.nearSource : plan.farSource,
    notchDeg: scaleNotchDeg(loaded[end].model.beamWidth.azimuthDeg),
  });
  return new AimGuide({ near: aim('near'), far: aim('far'), order: plan.order });
}

/** Replays an alignment through the guide and judges both ends by what the replay shows. */
export async function judge(row: AlignmentRow, loaded: LoadedLink): Promise<NonNullable<AlignmentSummary['result']>> {
  const [readings, marks] = await Promise.all([readingsOf(row.id), marksOf(row.id)]);
  const { plan } = row;
  const guide = replay(guideFor(plan, loaded), readings, marks);
  const result = (end: End): AlignmentEndResult => {
    const last = readings.filter((r) => r.end === end).slice(-3 * readingsPerSecond);
    const levels = last.flatMap((r) => (r.rslDbm === null ? [] : [r.rslDbm]));
    const rslDbm = levels.length * 2 > last.length ? mean(levels) : null;
    const chains = loaded[end].model.streams;
    const chainsDbm =
      rslDbm === null ? [] : Array.from({ length: chains }, (_, i) => mean(last.flatMap((r) => r.chainsDbm[i] ?? [])));
    const swept = guide.done.filter((s) => s.end === end && s.axis === 'azimuth').at(-1)?.points;
    // An axis that was left before the guide was content has its sweep all the same.
    const unfinished = guide.step?.end === end && guide.step.axis === 'azimuth' ? guide.points() : [];
    return {
      end,
      rslDbm,
      chainsDbm,
      expectedDbm: plan.expectedDbm[end],
      ...diagnosePeak({
        peakDbm: rslDbm,
        expectedDbm: plan.expectedDbm[end],
        points: swept ?? unfinished,
        beamWidthDeg: loaded[end].model.beamWidth.azimuthDeg,
        chainsDbm,
      }),
    };
  };
  const [near, far] = [result('near'), result('far')];
  const diagnosed = diagnoseEnds(near, far);
  return { near: { ...near, ...diagnosed.near }, far: { ...far, ...diagnosed.far } };
}

/** Feeds readings and marks to a guide in the order in which they happened. */
export function replay(guide: AimGuide, readings: readonly Reading[], marks: readonly AimMark[]): AimGuide {
  let next = 0;
  for (const reading of readings) {
    for (; next < marks.length && (marks[next]?.tS ?? Infinity) <= reading.tS; next++)
      guide.mark(marks[next] as AimMark);
    guide.push(reading);
  }
  for (const mark of marks.slice(next)) guide.mark(mark);
  return guide;
}

function words(result: AlignmentEndResult): string {
  const level = result.rslDbm === null ? 'heard nothing' : `${result.rslDbm.toFixed(1)} dBm`;
  return `${level} (predicted ${result.expectedDbm.toFixed(1)})`;
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);
}
