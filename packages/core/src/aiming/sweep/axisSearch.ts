import type { Action } from '../advice';
import { isSuspicious, searchWidths, type AxisPlan } from '../guide';
import { fitLobe, levelAbout, smoothedMaximumX, type LobePoint } from '../lobeFit';
import type { Turning } from '../reading';
import {
  flankDropDb,
  flankWidths,
  giveUpReaches,
  momentS,
  pastHighestWidths,
  sameLobeDb,
  samplesPerLook,
  unknownLobeSpread,
} from '../steering';
import { mirrorCentre } from '../symmetry';
import type { AxisRecord } from './axisRecord';

/** So far under the prediction nothing is a lobe of its own axis: scatter, or the far side lobes of something further on. */
const scatterDb = 18;
/** Fading alone makes no mean over a part of a beam so much stronger than most of a sweep. */
const contrastDb = 9;
/** Two side lobes are alike; a lobe that is so much stronger than all that lies further off than its own flanks stands alone. */
const besideWidths = 1;
const standsOutDb = 6;
/** So much of a flank before the peak must have been seen for the lobe to be whole. */
const flankBeforeWidths = 0.7;
/** Before so many readings there is no rise to speak of. */
const firstSamples = 8;
const nothingMet = { dbm: -Infinity, deg: undefined } as const;
/** Strokes of one search after both of its sides were seen: nobody turns for ever. */
const mostStrokes = 6;

/** What a side that was searched far enough leads to. */
export type SearchEnd =
  | { kind: 'otherSide' }
  | { kind: 'lobe' }
  /** side lobes or scatter: a direction to leave this axis at, until the other one is better known */
  | { kind: 'rough'; deg: number }
  /** nothing but scatter, however far it was searched */
  | { kind: 'scatter'; deg: number }
  | { kind: 'nothing' };

/** The search for a lobe along one axis: a little way to one side, further to the other, and far to both where nothing strong was met. */
export class AxisSearch {
  /** where the mount stood, the middle of what is searched */
  startDeg: number | undefined;
  /** how far to search, widths from where the mount stood: most starts are near */
  private reach: number = searchWidths.near;
  /** the best that was met on the strokes so far */
  private met: { dbm: number; deg: number | undefined } = nothingMet;
  private searched = { right: false, left: false };
  private strokes = 0;
  private isLaterRow = false;

  constructor(
    private readonly plan: AxisPlan,
    private readonly record: AxisRecord,
  ) {}

  /** What the stroke in hand is like now, and whether it has gone far enough; null between two looks. */
  look(direction: Turning): { action: Action; isOver: boolean } | null {
    const { record } = this;
    if (record.count % samplesPerLook) return null;
    const width = this.plan.beamWidthDeg;
    const { slack } = record.track.traits;
    const reach = this.reach * width * (record.isFirstStroke && !this.isLaterRow ? slack.out : slack.back);
    const points = record.strokePoints(direction);
    const bestDeg = smoothedMaximumX(points, width);
    const bestDbm = levelAbout(points, bestDeg, this.plan.beamWidthDeg);
    const level = record.levels.recentDbm(momentS);
    const past = bestDeg === undefined ? 0 : (record.hereDeg - bestDeg) * direction;
    const travelled = (record.hereDeg - (this.startDeg ?? record.hereDeg)) * direction;
    const met = Math.max(bestDbm, this.met.dbm);
    const isRising = level === null || past < pastHighestWidths * width;
    const fallen = level === null || level < bestDbm - flankDropDb;
    const left = past >= flankWidths * width && fallen && bestDbm > met - sameLobeDb;
    // What has just become stronger than all before is no place to turn round at, nor is one on the way to what was met before.
    const isBest = level !== null && level > bestDbm;
    const isOut =
      travelled >= reach &&
      !isBest &&
      !this.isAhead(direction) &&
      (past >= flankWidths * width || bestDbm < met - sameLobeDb);
    const isTooFar = travelled >= giveUpReaches * reach && (level === null || (!isRising && fallen));
    return {
      action: !isRising ? 'past' : record.count < firstSamples ? 'search' : 'rising',
      isOver: isTooFar || isOut || (left && !this.isSuspicious(met)),
    };
  }

  /** Whether the best that was met, and its far flank, are still to come on this stroke; by time nobody knows where that was. */
  private isAhead(direction: Turning): boolean {
    const { record, met, plan } = this;
    if (record.isByTime || met.deg === undefined) return false;
    return (record.hereDeg - met.deg) * direction < flankWidths * plan.beamWidthDeg;
  }

  /** Takes note of the stroke that ends here, before its points change their places. @returns what to do with them */
  leave(direction: Turning): (mayGoFar: boolean) => SearchEnd {
    this.searched[direction > 0 ? 'right' : 'left'] = true;
    const points = this.record.isByTime ? this.record.strokePoints(direction) : this.record.points();
    const bestDeg = smoothedMaximumX(points, this.plan.beamWidthDeg);
    const bestDbm = levelAbout(points, bestDeg, this.plan.beamWidthDeg);
    if (bestDbm > this.met.dbm) this.met = { dbm: bestDbm, deg: bestDeg };
    return (mayGoFar) => this.end(points, bestDeg, mayGoFar);
  }

  private end(points: readonly LobePoint[], bestDeg: number | undefined, mayGoFar: boolean): SearchEnd {
    const bothSides = this.searched.right && this.searched.left;
    if (!bothSides || (bestDeg !== undefined && this.lacksFlank(points, bestDeg))) return { kind: 'otherSide' };
    // Where nothing at all is heard, searching further on hears nothing either: the other end comes first.
    if (bestDeg === undefined) return { kind: 'nothing' };
    const bestDbm = levelAbout(points, bestDeg, this.plan.beamWidthDeg);
    const isWeak = bestDbm < (this.plan.expectedDbm ?? -Infinity) - scatterDb;
    const isScatter = isWeak && bestDbm < medianOf(points) + contrastDb;
    if (isScatter && mayGoFar && this.reach < searchWidths.far && !this.plan.nearPeak) {
      this.reach = searchWidths.far;
      this.searched = { right: false, left: false };
      return { kind: 'otherSide' };
    }
    const deg = this.isSuspicious(bestDbm) ? this.roughDeg(points, isScatter) : null;
    if (deg === null) return { kind: 'lobe' };
    return { kind: isScatter && !this.plan.nearPeak ? 'scatter' : 'rough', deg };
  }

  /** Searches again from the beginning, around where the peak was known. */
  restart(peakDeg?: number): void {
    this.startDeg = peakDeg ?? this.startDeg;
    this.searched = { right: false, left: false };
    this.strokes = 0;
  }

  /** Another row is searched: the other axis was turned. @returns the way to turn, where the mount stands at one side of the row */
  beginRow(): Turning {
    this.isLaterRow = true;
    this.met = nothingMet;
    this.reach = searchWidths.near;
    const off = this.record.hereDeg - (this.startDeg ?? 0);
    const isOut = Math.abs(off) > flankWidths * this.plan.beamWidthDeg;
    this.searched = { right: isOut && off > 0, left: isOut && off < 0 };
    if (!isOut) return 0;
    return off > 0 ? -1 : 1;
  }

  /** Searches again around another middle. */
  centreOn(deg: number): void {
    this.startDeg = deg;
    this.reach = searchWidths.near;
    this.met = nothingMet;
    this.restart();
  }

  private isSuspicious(levelDbm: number): boolean {
    return !this.plan.nearPeak && isSuspicious(levelDbm, this.plan.expectedDbm);
  }

  /** Both flanks of the best lobe must have been seen; if the best moved since, its other flank may be missing. What lies beyond the search is not waited for. */
  private lacksFlank(points: readonly LobePoint[], bestDeg: number): boolean {
    const width = this.plan.beamWidthDeg;
    const seen = (side: Turning): boolean => points.some((p) => (p.x - bestDeg) * side >= flankBeforeWidths * width);
    if (seen(1) && seen(-1)) return false;
    const way = Math.abs(bestDeg - (this.startDeg ?? bestDeg));
    return way <= giveUpReaches * this.reach * width && ++this.strokes < mostStrokes;
  }

  /**
   * Where to leave an axis that met nothing strong: in the middle of what it met, or where the installer began. Null where one lobe stands out of all it
   * met: that is worth a closer look, whichever it is.
   */
  private roughDeg(points: readonly LobePoint[], isScatter: boolean): number | null {
    const width = this.plan.beamWidthDeg;
    const fit = isScatter ? undefined : fitLobe(points, { width, widthRelativeSd: unknownLobeSpread });
    if (fit) {
      const others = points.filter((p) => Math.abs(p.x - fit.x) > besideWidths * width);
      if (levelAbout(others, smoothedMaximumX(others, width), width) < fit.peakDbm - standsOutDb) return null;
    }
    return mirrorCentre(points, width) ?? fit?.x ?? this.startDeg ?? 0;
  }
}

function medianOf(points: readonly LobePoint[]): number {
  const sorted = points.map((p) => p.levelDbm).sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? -Infinity;
}
