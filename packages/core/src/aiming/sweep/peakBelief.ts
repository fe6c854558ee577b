import type { TrackTraits } from '../angleTrack';
import { fitLobe, levelAbout, misfit, smoothedMaximumX, type LobeFit, type LobePoint } from '../lobeFit';
import type { Turning } from '../reading';
import { lobeIsWhole } from '../steering';
import { crossingsOf, followPeak } from './wanderingPeak';

/** Where the peak is, as far as strokes through the lobe have shown, and how strong. */
export interface PeakBelief {
  deg: number;
  sdDeg: number;
  dbm: number;
  sdDb: number;
  widthDeg: number;
  halfPlayDeg: number;
  /** how fast its reading wanders, and one standard deviation of it */
  driftDegPerS: number;
  driftSdDegPerS: number;
  /** scatter of single levels about the lobe, and how many of them say no more than one */
  scatterDb: number;
  inflation: number;
  /** by how much one stroke shows the peak stronger or weaker than another, standard deviation; null where strokes are not told apart */
  strokeSdDb: number | null;
  /** how long the level stays where fading has put it, seconds; null likewise */
  fadingS: number | null;
  /** whether both flanks were seen */
  isWhole: boolean;
}

function beliefOf(fit: LobeFit): PeakBelief {
  return {
    deg: fit.x,
    sdDeg: fit.xSd,
    dbm: fit.peakDbm,
    sdDb: fit.peakSdDb,
    widthDeg: fit.width,
    halfPlayDeg: fit.halfPlay,
    driftDegPerS: fit.drift,
    driftSdDegPerS: 0,
    scatterDb: fit.residualSdDb,
    inflation: fit.inflation,
    strokeSdDb: null,
    fadingS: null,
    isWhole: lobeIsWhole(fit),
  };
}

/**
 * What strokes say where degrees mean the same from one stroke to the next: one lobe through all points, of as long ago as the last ones do not deny. What
 * wanders shows in that a lobe through older points too does not fit those of now; where its peak is now, each stroke's own crossing tells.
 */
export function peakOfAll(
  strokes: readonly (readonly LobePoint[])[],
  widthDeg: number,
  traits: TrackTraits,
): PeakBelief | null {
  const points = strokes.flat();
  let believed: { fit: LobeFit; points: readonly LobePoint[] } | null = null;
  for (const memoryS of traits.memoriesS) {
    const part = points.filter((p) => p.agoS <= memoryS);
    const fit = fitLobe(part, {
      width: widthDeg,
      widthRelativeSd: traits.widthSpread,
      halfPlaySd: traits.halfPlaySdDeg,
      driftSd: traits.driftSdDegPerS,
    });
    if (!fit || !isLobe(fit, widthDeg)) continue;
    if (believed && deniedBy(believed.points, believed.fit, fit) > mostDenied) break;
    believed = { fit, points: part };
  }
  if (!believed) return null;
  const belief = beliefOf(believed.fit);
  if (!traits.wanders) return belief;
  const followed = followPeak(crossingsOf(strokes, believed.fit, traits.strokeSdDeg));
  return followed ? { ...belief, ...followed } : belief;
}

/** How much worse another fit describes points than the one that was made for them: twice the logarithm of the likelihoods' ratio, for as many independent points as they are worth. */
function deniedBy(points: readonly LobePoint[], own: LobeFit, other: LobeFit): number {
  const variance = Math.max(own.residualSdDb, 0.5) ** 2 * own.inflation;
  return (misfit(points, other) - misfit(points, own)) / variance;
}

const isLobe = (fit: LobeFit, widthDeg: number): boolean =>
  fit.width > believedWidths.least * widthDeg && fit.width < believedWidths.most * widthDeg;

/** Points of now deny a lobe through older ones too where it fits them so much worse: four times what five unknowns gain by chance. */
const mostDenied = 20;
/** A lobe so much weaker than the best that was met is another lobe; less is a fade, for side lobes lie lower. */
const otherLobeDb = 8;
/** A lobe that seems narrower or wider than these shares of the sheet's is not one. */
const believedWidths = { least: 0.45, most: 2 } as const;
/** Fewer independent points make no lobe. */
const leastEffective = 2.5;
/** How well one stroke tells a peak's level at best: its fading is one piece of all fading. */
const strokeSdDb = 0.5;
const ownWeight = 2;
/** The sheet's width counts as much as that of so many strokes: fits of fading crests alone would lead each other to narrower and narrower lobes. */
const sheetWeight = 1;
/** Play and a slow hand move a peak by less than this from one stroke to the next, beam widths: what lies further off is another lobe, or was lost on the way. */
const mostLagWidths = 1;
/** Once strokes have shown a width, the next one strays from it by so much. */
const laterWidthSpread = 0.2;
/** Before any two strokes were compared, the lag is taken for as much as nothing, with the weight of one stroke. */
const lagWeight = 1;

interface Stroke {
  /** between readings */
  spacingS: number;
  fit: LobeFit;
}

/** What strokes say where each has degrees of its own: each is fitted by itself, and the next begins where the last one showed the peak. */
export class StrokeBeliefs {
  private readonly strokes: Stroke[] = [];
  private lagSumDeg = 0;
  private lagCount = lagWeight;
  /** the best level that any stroke has met, lobe or not */
  private metDbm = -Infinity;
  /** the last stroke crossed the lobe, so that the next one says how far apart two strokes see it */
  private wasCrossing = false;

  constructor(
    private readonly beamDeg: number,
    private readonly traits: TrackTraits,
  ) {}

  get count(): number {
    return this.good().length;
  }

  /** By how much the peak comes later, in the direction of turning, than the stroke before showed it: play, and a hand that turns round slowly. */
  get lagDeg(): number {
    return this.lagSumDeg / this.lagCount;
  }

  get widthDeg(): number {
    const good = this.good();
    const sum = good.reduce((width, { fit }) => width + fit.width, sheetWeight * this.beamDeg);
    return sum / (good.length + sheetWeight);
  }

  /** The lobe that a stroke in hand has met, where it is the one of before; undefined while it has met none. */
  lobeIn(points: readonly LobePoint[]): LobeFit | undefined {
    const fit = fitLobe(points, { width: this.widthDeg, widthRelativeSd: this.traits.widthSpread });
    const isMet = fit && isLobe(fit, this.beamDeg) && fit.peakDbm > this.bestDbm - otherLobeDb;
    return isMet && points.some((p) => p.x <= fit.x) && points.some((p) => p.x >= fit.x) ? fit : undefined;
  }

  private get bestDbm(): number {
    return Math.max(this.metDbm, ...this.strokes.map((s) => s.fit.peakDbm));
  }

  /** Takes a stroke in. @returns its fit where it crossed the lobe; undefined where it did not */
  take(points: readonly LobePoint[], direction: Turning, before: PeakBelief | null): LobeFit | undefined {
    const width = this.widthDeg;
    const fit = fitLobe(points, {
      width,
      widthRelativeSd: this.count > 1 ? laterWidthSpread : this.traits.widthSpread,
    });
    this.metDbm = Math.max(this.metDbm, levelAbout(points, smoothedMaximumX(points, this.beamDeg), this.beamDeg));
    const followsCrossing = this.wasCrossing;
    this.wasCrossing = !!fit && this.isCrossing(fit, points);
    if (!fit || !this.wasCrossing) return undefined;
    if (before && followsCrossing && Math.abs(fit.x - before.deg) < mostLagWidths * this.beamDeg) {
      this.lagSumDeg += direction * (fit.x - before.deg);
      this.lagCount++;
    }
    const lastedS = (points[0]?.agoS ?? 0) - (points.at(-1)?.agoS ?? 0);
    this.strokes.push({ fit, spacingS: lastedS / Math.max(1, points.length - 1) });
    return fit;
  }

  /** What is known of the peak after the last good stroke; null before the first. */
  belief(): PeakBelief | null {
    const good = this.good();
    const last = this.strokes.at(-1);
    if (!last || !good.length) return null;
    let weights = 0;
    let sum = 0;
    for (const { fit } of good) {
      const weight = 1 / Math.max(strokeSdDb, fit.peakSdDb) ** 2;
      weights += weight;
      sum += weight * fit.peakDbm;
    }
    const strokeSd = this.strokeSd(sum / weights);
    const mean = (of: (fit: LobeFit) => number): number => good.reduce((s, { fit }) => s + of(fit), 0) / good.length;
    return {
      ...beliefOf(last.fit),
      dbm: sum / weights,
      sdDb: Math.max(1 / Math.sqrt(weights), strokeSd / Math.sqrt(good.length)),
      strokeSdDb: strokeSd,
      fadingS: good.reduce((s, { fit, spacingS }) => s + (fit.inflation * spacingS) / 2, 0) / good.length,
      widthDeg: this.widthDeg,
      halfPlayDeg: 0,
      driftDegPerS: 0,
      driftSdDegPerS: 0,
      scatterDb: mean((fit) => fit.residualSdDb),
      inflation: mean((fit) => fit.inflation),
      isWhole: true,
    };
  }

  /** How much strokes differ in their peaks, with what each should by itself as two more of them. */
  private strokeSd(meanDbm: number): number {
    const good = this.good();
    const squares = good.reduce((sum, { fit }) => sum + (fit.peakDbm - meanDbm) ** 2, 0);
    const own = good.reduce((sum, { fit }) => sum + Math.max(strokeSdDb, fit.peakSdDb) ** 2, 0) / good.length;
    return Math.sqrt((squares + ownWeight * own) / (good.length - 1 + ownWeight));
  }

  private isCrossing(fit: LobeFit, points: readonly LobePoint[]): boolean {
    let [least, most] = [Infinity, -Infinity];
    for (const { x } of points) {
      least = Math.min(least, x);
      most = Math.max(most, x);
    }
    return (
      lobeIsWhole(fit) &&
      fit.x > least &&
      fit.x < most &&
      fit.peakDbm > this.bestDbm - otherLobeDb &&
      isLobe(fit, this.beamDeg) &&
      fit.effectivePoints > leastEffective
    );
  }

  /** Strokes through the best lobe: those of a weaker one drop out. */
  private good(): Stroke[] {
    const best = this.bestDbm;
    return this.strokes.filter((s) => s.fit.peakDbm > best - otherLobeDb);
  }
}

/** No lobe is quite the one that is fitted: its peak is known no better than this. */
const shapeSdDb = 0.35;
/** A fit climbs onto what fades upwards slowly, so that strokes which differ much are all rather too strong: by such a share of how they differ. */
const climbPerS = 0.6;
const mostClimb = 0.9;

/** Who was stopped near a peak and went on because the level lacked much stood so far under it, give or take so much, dB. */
const stoppedShort = { db: 0.5, sdDb: 0.7 } as const;

/** A level with one standard deviation. */
export interface KnownLevel {
  dbm: number;
  sdDb: number;
}

/**
 * The level of the peak: as strokes have shown it, and as it was heard where the mount was stopped for it and went on. Strokes err upwards, rests downwards.
 * @param rests levels at such stops
 */
export function peakLevel(peak: PeakBelief, rests: readonly KnownLevel[]): KnownLevel {
  const { dbm, sdDb, strokeSdDb, fadingS } = peak;
  const climbSdDb = Math.min(mostClimb, climbPerS * (fadingS ?? 0)) * (strokeSdDb ?? 0);
  const told = [
    { dbm, sdDb: Math.hypot(sdDb, shapeSdDb, climbSdDb) },
    ...rests.map((rest) => ({ dbm: rest.dbm + stoppedShort.db, sdDb: Math.hypot(rest.sdDb, stoppedShort.sdDb) })),
  ];
  const weights = told.reduce((sum, level) => sum + level.sdDb ** -2, 0);
  return {
    dbm: told.reduce((sum, level) => sum + level.dbm / level.sdDb ** 2, 0) / weights,
    sdDb: 1 / Math.sqrt(weights),
  };
}

/** A stroke tells the level of the peak from about so many seconds. */
export const lobeS = 5;

/** Strokes differ by so many times what their own scatter foretells where the fading is a quick one: no lobe is quite the one that is fitted. */
const quickRatio = 1.4;
const mostSlow = 2.5;

/**
 * How many times worse than it seems a rest knows its level. Fading that is slower than a stroke is taken for the lobe by a fit, and is not among its
 * scatter: it shows in that strokes differ more than they should.
 */
export function slowFading(peak: Pick<PeakBelief, 'strokeSdDb' | 'scatterDb' | 'fadingS'> | null): number {
  if (!peak?.strokeSdDb || !peak.fadingS) return 1;
  const foretoldDb = peak.scatterDb * Math.sqrt((2 * peak.fadingS) / lobeS);
  return Math.min(mostSlow, Math.max(1, peak.strokeSdDb / foretoldDb / quickRatio));
}
