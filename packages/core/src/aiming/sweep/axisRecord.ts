import { TimeTrack, type AngleTrack } from '../angleTrack';
import { Levels } from '../levels';
import type { LobePoint } from '../lobeFit';
import type { AimSample, Turning } from '../reading';

/**
 * Readings of one axis that are looked at: three minutes and more, many times what its strokes take. Whoever lets an alignment stand for hours turns no peak into
 * another by it, and each look costs what there is to look at.
 */
const rememberedSamples = 2000;

/** Everything that was read while one axis was in hand: levels over where the mount was, stroke after stroke and row after row. */
export class AxisRecord {
  readonly levels = new Levels();
  private samples: AimSample[] = [];
  /** whether the mount stood still at a sample: many levels of one spot say little of where the peak is */
  private resting: boolean[] = [];
  /** index of the first sample of the stroke in hand, and of the row that is searched */
  private strokeFrom = 0;
  private rowFrom = 0;
  /** where strokes of the row began */
  private strokesFrom: number[] = [];

  constructor(public track: AngleTrack) {}

  /** Whether nothing but the time of turning tells the angle. */
  get isByTime(): boolean {
    return this.track instanceof TimeTrack;
  }

  get count(): number {
    return this.samples.length;
  }

  get nowS(): number {
    return this.samples.at(-1)?.tS ?? 0;
  }

  get turning(): Turning {
    return this.samples.at(-1)?.turning ?? 0;
  }

  get hereDeg(): number {
    return this.track.now().angleDeg;
  }

  get isFirstStroke(): boolean {
    return this.strokeFrom <= this.rowFrom;
  }

  push(sample: AimSample, isResting: boolean): void {
    this.samples.push(sample);
    this.resting.push(isResting);
    this.track.push(sample);
    this.levels.push(sample);
    if (this.samples.length >= 2 * rememberedSamples) this.forget(rememberedSamples);
  }

  /** Levels over position on all strokes of the row. */
  points(): LobePoint[] {
    return this.pointsFrom(this.rowFrom, null);
  }

  /** Levels over position on the stroke in hand; by time only while the hand turned the way of the stroke. */
  strokePoints(direction: Turning): LobePoint[] {
    return this.pointsFrom(this.strokeFrom, this.isByTime ? direction : null);
  }

  /** Positions on the stroke in hand, sample after sample. */
  strokeAngles(): number[] {
    return this.track.smoothedDeg().slice(this.strokeFrom);
  }

  /** The same, stroke after stroke. */
  strokes(): LobePoint[][] {
    const from = [this.rowFrom, ...this.strokesFrom.filter((i) => i > this.rowFrom)];
    return from.map((first, i) => this.pointsFrom(first, null, from[i + 1])).filter((points) => points.length > 0);
  }

  beginStroke(): void {
    this.strokeFrom = this.samples.length;
    this.strokesFrom.push(this.strokeFrom);
  }

  beginRow(): void {
    this.rowFrom = this.samples.length;
    this.strokesFrom = [];
    this.beginStroke();
  }

  /** What was before the stroke in hand lies elsewhere, as this stroke has shown. */
  shiftBefore(byDeg: number): void {
    if (this.track instanceof TimeTrack) this.track.shiftBefore(this.strokeFrom, byDeg);
  }

  /** Begins anew with another way of knowing the angle. */
  replaceTrack(track: AngleTrack): void {
    this.track = track;
    this.samples = [];
    this.resting = [];
    this.beginRow();
  }

  private pointsFrom(from: number, onlyTurning: Turning | null, to = this.samples.length): LobePoint[] {
    const positions = this.track.smoothedDeg();
    const pushed = this.track.pushedFrom();
    const { nowS } = this;
    const points: LobePoint[] = [];
    for (let i = from; i < to; i++) {
      const sample = this.samples[i];
      if (!sample || sample.rslDbm === null || sample.isRepeat) continue;
      const at = this.measuredAt(i, from);
      if (this.resting[at]) continue;
      if (onlyTurning !== null && this.samples[at]?.turning !== onlyTurning) continue;
      points.push({
        x: positions[at] ?? 0,
        levelDbm: sample.rslDbm,
        pushedFrom: pushed[at] ?? 0,
        agoS: nowS - sample.tS + (sample.ageS ?? 0),
      });
    }
    return points;
  }

  /** Index of the sample at whose moment a level was measured: a late answer belongs to where the mount was then. */
  private measuredAt(index: number, from: number): number {
    const { tS = 0, ageS = 0 } = this.samples[index] ?? {};
    let at = index;
    while (at > from && (this.samples[at]?.tS ?? 0) > tS - ageS) at--;
    return at;
  }

  private forget(count: number): void {
    this.samples.splice(0, count);
    this.resting.splice(0, count);
    this.track.forget(count);
    this.strokeFrom = Math.max(0, this.strokeFrom - count);
    this.rowFrom = Math.max(0, this.rowFrom - count);
    this.strokesFrom = this.strokesFrom.map((i) => Math.max(0, i - count));
  }
}
