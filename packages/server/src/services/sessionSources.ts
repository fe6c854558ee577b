import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { AngleSource, Reading } from '@kivram/core/aiming/reading';
import { ends, otherEnd, type End } from '@kivram/core/budget/plan';
import type { AngleBody } from '@kivram/contract/requests/level';
import type { AimEvent } from '@kivram/contract/views/alignment';
import { readInTime, type RadioReader, type RadioReaders } from '../radio/reader';
import type { RadioEnds } from './alignmentViews';

/** An attitude that the phone told longer ago is not that of now, ms. */
const freshAngleMs = 700;

/** What tells levels and angles at both ends of one running alignment; each may change while it runs. */
export class SessionSources {
  private readonly angles: Partial<Record<End, AngleBody & { toldAt: number }>> = {};
  private readonly saidTrouble: Record<End, string | null> = { near: null, far: null };

  private constructor(
    private readonly from: RadioReaders,
    private readonly linkId: string,
    private readonly radios: RadioEnds,
    private readonly angleBy: Record<End, AngleSource>,
    private readonly readers: Record<End, RadioReader>,
  ) {}

  static async open(
    from: RadioReaders,
    linkId: string,
    radios: RadioEnds,
    angleBy: Record<End, AngleSource>,
  ): Promise<SessionSources> {
    const near = await from.readerOf(radios.near, radios.far, linkId);
    const far = await from.readerOf(radios.far, radios.near, linkId);
    return new SessionSources(from, linkId, radios, angleBy, { near, far });
  }

  wayOf(end: End): LevelWay {
    return this.readers[end].way;
  }

  /** The way in which an end is read was changed. */
  async reopen(end: End): Promise<void> {
    const before = this.readers[end];
    this.readers[end] = await this.from.readerOf(this.radios[end], this.radios[otherEnd(end)], this.linkId);
    before.close();
  }

  /** Takes a level that somebody typed. @returns whether levels are typed at this end */
  tell(end: End, rslDbm: number | null): boolean {
    const reader = this.readers[end];
    reader.tell?.(rslDbm);
    return !!reader.tell;
  }

  /** Levels that were typed and not read yet. */
  get waiting(): number {
    return ends.reduce((sum, end) => sum + (this.readers[end].waiting ?? 0), 0);
  }

  /** What a table ended with goes on being shown. */
  hold(end: End, rslDbm: number | null): void {
    this.readers[end].hold?.(rslDbm);
  }

  tellAngle(angle: AngleBody): void {
    this.angles[angle.end] = { ...angle, toldAt: performance.now() };
  }

  /** What both radios say at a moment, with the angles of that moment. */
  async read(tS: number): Promise<Reading[]> {
    const heard = await Promise.all(ends.map((end) => readInTime(this.readers[end], tS)));
    return ends.map((end, i): Reading => {
      const reading = heard[i] as (typeof heard)[number];
      return { ...reading, ...this.anglesAt(end, reading), end, tS };
    });
  }

  /** What has changed of why nothing comes, for whoever watches. */
  *news(): Generator<AimEvent> {
    for (const end of ends) {
      const { trouble, way } = this.readers[end];
      if (trouble === this.saidTrouble[end]) continue;
      this.saidTrouble[end] = trouble;
      yield { type: 'source', end, way, trouble };
    }
  }

  /** The state of both, for whoever begins to watch. */
  now(): AimEvent[] {
    return ends.map((end) => ({ type: 'source', end, way: this.wayOf(end), trouble: this.readers[end].trouble }));
  }

  close(): void {
    for (const end of ends) this.readers[end].close();
  }

  /** Of a phone on the antenna, where one is said to be there: a real one before that of the stand-in world. */
  private anglesAt(end: End, reading: Pick<Reading, 'phoneAzimuthDeg' | 'phoneTiltDeg'>): typeof reading {
    if (this.angleBy[end] !== 'phone') return { phoneAzimuthDeg: null, phoneTiltDeg: null };
    const told = this.angles[end];
    if (told && performance.now() - told.toldAt < freshAngleMs)
      return { phoneAzimuthDeg: told.azimuthDeg, phoneTiltDeg: told.tiltDeg };
    const { phoneAzimuthDeg, phoneTiltDeg } = reading;
    return { phoneAzimuthDeg, phoneTiltDeg };
  }
}
