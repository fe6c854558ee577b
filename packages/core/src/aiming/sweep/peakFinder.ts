import { PhoneTrack, TimeTrack } from '../angleTrack';
import type { AxisPlan } from '../guide';
import type { MeanLevel } from '../levels';
import { fitLobe, smoothedMaximumX } from '../lobeFit';
import type { Turning } from '../reading';
import { closeWidths, sameLobeDb } from '../steering';
import type { AxisRecord } from './axisRecord';
import { lobeS, peakLevel, peakOfAll, StrokeBeliefs, type KnownLevel, type PeakBelief } from './peakBelief';

/** The peak is good enough when its uncertainty costs a few hundredths of a decibel: 12 x 0.05^2 = 0.03 dB. */
const targetSdWidths = 0.04;
/** Without angles the stop is judged by the level, which must be known so well, from so many strokes. */
const targetSdDb = 0.45;
const strokesByTime = 3;
/** How far the width of a stroke by time strays from that of the strokes before. */
const ownWidthSpread = 0.15;
/** Over a way of so many beam widths a hand that turns steadily strays from its own mean speed by less than this. */
const crookedFromWidths = 2;
const crookedWidths = 0.5;
/** Beams are as wide as their sheet says, give or take a fifth, and lobes are of several shapes: beyond this the angles are wrong. */
const trueWidths = { least: 0.62, most: 1.6 } as const;
/** Before any lobe was fitted, readings scatter about so much, and about so many say no more than one. */
const unknownScatterDb = 2;
const unknownInflation = 5;

/** Knows where the peak is, from stroke to stroke, and whether what tells the angle can be believed. */
export class PeakFinder {
  peak: PeakBelief | null = null;
  /** the stroke that ended last crossed the lobe: the peak is known in the degrees of now */
  private isFresh = false;
  private strokes: StrokeBeliefs | null;
  /** levels where the mount was stopped and went on, by time */
  private rests: MeanLevel[] = [];
  /** when one lobe was fitted through all points last */
  private fittedAtS = 0;

  constructor(
    private readonly plan: AxisPlan,
    private readonly record: AxisRecord,
  ) {
    this.strokes = record.isByTime ? new StrokeBeliefs(plan.beamWidthDeg, record.track.traits) : null;
  }

  /** Whether the peak is known well enough to go there. */
  get isKnown(): boolean {
    const { peak, strokes } = this;
    if (!peak?.isWhole) return false;
    return strokes
      ? strokes.count >= strokesByTime && peak.sdDb <= targetSdDb && this.isFresh
      : peak.sdDeg <= targetSdWidths * this.plan.beamWidthDeg;
  }

  /** Whether it is known at all, in the degrees of now. */
  get isSeen(): boolean {
    return this.peak !== null && (this.isFresh || !this.strokes);
  }

  /** Strokes by time that count; null where all points count together. */
  get strokeCount(): number | null {
    return this.strokes?.count ?? null;
  }

  get byTime(): StrokeBeliefs | null {
    return this.strokes;
  }

  /** How far what tells the angle may have wandered since, beside what is known of its wandering: one standard deviation, degrees. */
  get wanderedSdDeg(): number {
    return (this.peak?.driftSdDegPerS ?? 0) * (this.record.nowS - this.fittedAtS);
  }

  /** Takes in what the stroke that ends here has shown. @returns by how much degrees of before must be shifted to be those of now */
  take(direction: Turning): number {
    if (!this.strokes) {
      this.refit(false);
      return 0;
    }
    this.isFresh = false;
    const fit = this.strokes.take(this.record.strokePoints(direction), direction, this.peak);
    if (!fit) return 0;
    const byDeg = this.peak ? fit.x - this.peak.deg : 0;
    this.record.shiftBefore(byDeg);
    this.peak = this.strokes.belief();
    this.isFresh = true;
    return byDeg;
  }

  /**
   * One lobe through all that was read, where degrees mean the same from stroke to stroke; what wanders since the last look is in it.
   * @param onWayBack a fit that leaves the lobe it had is no better one, nor is one to half of what was seen: who stands still meanwhile reads one spot
   */
  refit(onWayBack: boolean): void {
    const { traits } = this.record.track;
    const peak = peakOfAll(this.record.strokes(), this.plan.beamWidthDeg, traits);
    if (peak && !(onWayBack && this.peak && this.isWorse(peak, this.peak))) {
      this.peak = peak;
      this.fittedAtS = this.record.nowS;
    }
  }

  private isWorse(peak: PeakBelief, before: PeakBelief): boolean {
    return peak.dbm < before.dbm - sameLobeDb || (before.isWhole && !peak.isWhole);
  }

  /** Where the stroke in hand meets, or met, the peak; where degrees differ from stroke to stroke, as its own levels show with what was known before. */
  expectedDeg(direction: Turning): number | undefined {
    const { peak, strokes, record } = this;
    if (!strokes) return peak ? peak.deg + peak.driftDegPerS * (record.nowS - this.fittedAtS) : undefined;
    const points = record.strokePoints(direction);
    const { widthSpread, waySpread } = record.track.traits;
    if (!peak) return fitLobe(points, { width: strokes.widthDeg, widthRelativeSd: widthSpread })?.x;
    const x = peak.deg + strokes.lagDeg * direction;
    const wayDeg = x - (points[0]?.x ?? peak.deg);
    const prior = {
      width: peak.widthDeg,
      widthRelativeSd: ownWidthSpread,
      peakDbm: peak.dbm,
      peakSdDb: peak.sdDb,
      x,
      xSd: Math.hypot(waySpread * wayDeg, closeWidths * peak.widthDeg, peak.sdDeg),
    };
    return fitLobe(points, prior, x)?.x ?? x;
  }

  /** The level of the peak, which a mount on it should show; null where none is known. */
  get level(): KnownLevel | null {
    return this.peak && peakLevel(this.peak, this.rests);
  }

  /** It was stopped for the peak, and heard this. What tells an angle says better how far beside the peak that was. */
  rested(rest: MeanLevel): void {
    if (this.strokes) this.rests.push(rest);
  }

  /** The level at rest since a moment. It is known no better than one stroke knows its peak, as often as the time of a lobe fits into it. */
  levelSince(sinceS: number): MeanLevel | null {
    const { peak, record } = this;
    const { nowS } = record;
    const scatterDb = peak?.scatterDb ?? unknownScatterDb;
    const level = record.levels.between(sinceS, nowS, scatterDb, peak?.inflation ?? unknownInflation);
    if (!level || !peak?.strokeSdDb) return level;
    return { ...level, sdDb: Math.max(level.sdDb, peak.strokeSdDb * Math.sqrt(lobeS / Math.max(1, nowS - sinceS))) };
  }

  /** Whether the angles of a stroke are far from those of a hand that turns steadily: iron pulls a compass more here than there. */
  get isCrooked(): boolean {
    if (!(this.record.track instanceof PhoneTrack)) return false;
    const angles = this.record.strokeAngles();
    const from = Math.round(angles.length * 0.1);
    const part = angles.slice(from, angles.length - from);
    const wayWidths = Math.abs((part.at(-1) ?? 0) - (part[0] ?? 0)) / this.plan.beamWidthDeg;
    if (wayWidths < crookedFromWidths) return false;
    const longer = Math.sqrt(Math.max(1, wayWidths / (2 * crookedFromWidths)));
    return scatterAboutLine(part) > crookedWidths * longer * this.plan.beamWidthDeg;
  }

  /** Whether the lobe is so narrow or wide that its degrees are none. */
  get isBent(): boolean {
    const { peak } = this;
    if (!peak?.isWhole || this.strokes) return false;
    const ratio = peak.widthDeg / this.plan.beamWidthDeg;
    return ratio < trueWidths.least || ratio > trueWidths.most;
  }

  /** From here on time and level alone tell where the peak is. @returns where the best was by the old angles, in degrees from here */
  distrustTrack(startDeg: number): number {
    const { record } = this;
    const bestDeg = this.peak?.deg ?? smoothedMaximumX(record.points(), this.plan.beamWidthDeg) ?? startDeg;
    const fromHereDeg = bestDeg - record.hereDeg;
    record.replaceTrack(new TimeTrack(this.plan.speedDegPerS));
    this.strokes = new StrokeBeliefs(this.plan.beamWidthDeg, record.track.traits);
    this.forget();
    return fromHereDeg;
  }

  forget(): void {
    this.peak = null;
    this.isFresh = false;
    this.rests = [];
  }
}

/** Standard deviation of evenly spaced values about the straight line through them. */
function scatterAboutLine(values: readonly number[]): number {
  const n = values.length;
  const middle = (n - 1) / 2;
  const mean = values.reduce((sum, y) => sum + y, 0) / n;
  let along = 0;
  let length = 0;
  values.forEach((y, i) => {
    along += (i - middle) * (y - mean);
    length += (i - middle) ** 2;
  });
  const slope = along / Math.max(1, length);
  return Math.sqrt(values.reduce((sum, y, i) => sum + (y - mean - slope * (i - middle)) ** 2, 0) / Math.max(1, n));
}
