import type { Action, AxisAdvice, PeakEstimate } from './advice';
import type { AngleTrack } from './angleTrack';
import { isSuspicious, reactionS, recentLevelDbm, searchWidths, type AxisGuide, type AxisPlan } from './guide';
import { fitLobe, smoothedMaximumX, type LobeFit, type LobePoint } from './lobeFit';
import type { AimSample, Turning } from './reading';
import { Rest } from './rest';
import {
  giveUpReaches,
  hasMainLobeShape,
  lobeIsWhole,
  momentS,
  pastFitWidths,
  pastHighestWidths,
  sameCentreWidths,
  shownS,
  widthSpread,
} from './steering';
import { mirrorCentre } from './symmetry';

/** The peak is good enough when its uncertainty costs a few hundredths of a decibel: 12 x 0.05^2 = 0.03 dB. */
const targetSdWidths = 0.05;
/** Coming back is good enough so near to the peak: 12 x 0.06^2 = 0.04 dB. */
const closeWidths = 0.06;
/** A stroke goes on to where the lobe has fallen by nine decibels: the flank is where the peak is told best. */
const flankWidths = 0.9;
/** A level so far under the best has left the lobe, whatever fading does. */
const flankDropDb = 5;
/** Strokes after which the fit is taken as it is, and corrections after which the stop is: nobody turns for ever. */
const mostSweeps = 7;
const mostNudges = 4;
/**
 * Readings of one axis that are looked at: three minutes and more, many times what its strokes take. Whoever lets an alignment stand for hours turns no peak into
 * another by it, and each look costs what there is to look at.
 */
const rememberedSamples = 2000;
/** Looking over all points costs, and half a second of ten readings a second changes little. */
const samplesPerLook = 5;
/** Before so many readings there is no rise to speak of. */
const firstSamples = 8;
/** The level at the best angle is the mean of what was read this near to it. */
const bestReachWidths = 1 / 5;
/** Where the best lobe moved during the search, so much of a flank must still have been seen on its other side. */
const flankSeenShare = 0.8;
/** Searches that met no lobe before the guide says that it is not this axis. */
const mostVainSearches = 2;
/** While it waits, the level is looked at over so long, and must have risen by so much: more than fading. */
const listenS = 2;
const worthSearchingDb = 6;
/** A speed read off a noisy angle is believed between these shares of what was asked for. */
const believedSpeeds = { least: 0.5, most: 1.6 } as const;
/** The angle at rest is averaged over the last two seconds of standing still. */
const restS = 2;
/** Half the play of a mount, one standard deviation: common mounts have up to a degree. */
const halfPlaySdDeg = 0.35;

/**
 * Guides a mount whose angle is known: out past the peak on one side, past it on the other, as many more strokes as the fit
 * needs, and back to the fitted peak.
 */
export class AngleGuide implements AxisGuide {
  private readonly samples: AimSample[] = [];
  private phase: 'search' | 'sweep' | 'comeBack' | 'hold' | 'lost' = 'search';
  private direction: Turning = 1;
  private searched = { right: false, left: false };
  private sweeps = 0;
  private nudges = 0;
  /** searches that met no lobe */
  private vain = 0;
  private fit: LobeFit | undefined;
  private rest: Rest | undefined;
  /** the level when no lobe was found; null where nothing was heard */
  private lostDbm: number | null = null;
  private startDeg: number | undefined;
  /** a rough direction, where the axis met side lobes or scatter only */
  private coarseDeg: number | null = null;
  private action: Action = 'search';
  private remainingDeg: number | null = null;

  constructor(
    private readonly plan: AxisPlan,
    private readonly track: AngleTrack,
  ) {}

  get advice(): AxisAdvice {
    return {
      action: this.action,
      direction: ['hold', 'stop', 'lock', 'readAgain', 'otherEnd', 'done'].includes(this.action) ? 0 : this.direction,
      remainingDeg: this.remainingDeg,
      levelDbm: recentLevelDbm(this.samples, shownS),
      estimate: this.estimate(),
    };
  }

  notch(tS: number, direction: Turning): void {
    this.track.notch(tS, direction);
  }

  locked(tS: number): void {
    this.rest ??= new Rest(tS);
    this.rest.lock(tS, this.samples);
  }

  push(sample: AimSample): void {
    this.samples.push(sample);
    this.track.push(sample.tS, sample.angleDeg, sample.turning);
    if (this.samples.length >= 2 * rememberedSamples) {
      this.samples.splice(0, rememberedSamples);
      this.track.forget(rememberedSamples);
    }
    const here = this.track.now();
    this.startDeg ??= here.angleDeg;

    const locked = this.rest?.afterLock(sample.tS, this.samples);
    if (locked) {
      this.action = locked;
      if (locked === 'moved') this.startComingBack();
      return;
    }
    if (this.phase === 'search') this.search(here.angleDeg);
    else if (this.phase === 'sweep') this.sweep(here.angleDeg);
    else if (this.phase === 'comeBack') this.comeBack(here, sample);
    else if (this.phase === 'lost') this.listen();
    else this.hold(sample.tS);
  }

  points(): LobePoint[] {
    const positions = this.track.smoothedDeg();
    const pushed = this.track.pushedFrom();
    const points: LobePoint[] = [];
    for (let i = 0; i < this.samples.length; i++) {
      const levelDbm = this.samples[i]?.rslDbm;
      if (levelDbm != null) points.push({ x: positions[i] ?? 0, levelDbm, pushedFrom: pushed[i] ?? 0 });
    }
    return points;
  }

  private search(angleDeg: number): void {
    if (this.samples.length % samplesPerLook) return;
    const points = this.points();
    const bestDeg = smoothedMaximumX(points, this.plan.beamWidthDeg);
    const level = recentLevelDbm(this.samples, momentS);
    const bestDbm =
      bestDeg === undefined ? -Infinity : levelNear(points, bestDeg, bestReachWidths * this.plan.beamWidthDeg);
    const width = this.plan.beamWidthDeg;
    const past = bestDeg === undefined ? 0 : (angleDeg - bestDeg) * this.direction;
    const travelled = (angleDeg - (this.startDeg ?? angleDeg)) * this.direction;
    const fallen = level === null || level < bestDbm - flankDropDb;
    const suspicious = !this.plan.nearPeak && isSuspicious(bestDbm, this.plan.expectedDbm);
    this.action =
      level === null || past < pastHighestWidths * width
        ? this.samples.length < firstSamples
          ? 'search'
          : 'rising'
        : 'past';
    const seenEnough = suspicious ? travelled >= searchWidths * width : fallen;
    const nothing = travelled >= giveUpReaches * searchWidths * width;
    if (!nothing && (past < flankWidths * width || !seenEnough)) return;

    this.searched[this.direction > 0 ? 'right' : 'left'] = true;
    if (this.searched.right && this.searched.left) {
      // Both flanks of the best lobe must have been seen; if the best moved since, its other flank may be missing.
      const seen = (side: Turning): boolean => {
        const reach = Math.max(...points.map((p) => (p.x - (bestDeg ?? 0)) * side));
        return reach >= flankSeenShare * flankWidths * width;
      };
      if (bestDeg === undefined || (seen(1) && seen(-1))) {
        if (bestDeg === undefined) return this.giveUp();
        this.coarseDeg = suspicious ? this.coarseDirection(points) : null;
        if (this.coarseDeg === null) this.evaluate();
        else this.startComingBack();
        return;
      }
    }
    this.reverse();
  }

  /**
   * Where to leave an axis that met nothing strong: in the middle of what it met, or where the installer began. Null where the lobe it
   * met is a main lobe after all, only weak.
   */
  private coarseDirection(points: readonly LobePoint[]): number | null {
    const width = this.plan.beamWidthDeg;
    const centre = mirrorCentre(points, width);
    const fit = fitLobe(points, { width, widthRelativeSd: widthSpread.unknownLobe });
    const apart = Math.abs((fit?.x ?? NaN) - (centre ?? NaN));
    if (hasMainLobeShape(fit, width, 'withAngles') && apart < sameCentreWidths.withAngles * width) return null;
    return centre ?? this.startDeg ?? 0;
  }

  /** Decides between another stroke through the lobe and coming back. */
  private evaluate(): void {
    this.refit();
    const fit = this.fit;
    const good = fit && fit.xSd <= targetSdWidths * this.plan.beamWidthDeg && lobeIsWhole(fit);
    if (!fit && this.sweeps >= mostSweeps) {
      // Nothing to fit anywhere in reach: once more from the beginning, then it is not this axis that is wrong.
      if (++this.vain >= mostVainSearches) return this.giveUp();
      this.searchAnew();
      this.reverse();
    } else if (good || (fit && this.sweeps >= mostSweeps)) this.startComingBack();
    else {
      this.phase = 'sweep';
      this.sweeps++;
      this.reverse();
    }
  }

  private searchAnew(): void {
    this.sweeps = 0;
    this.searched = { right: false, left: false };
    this.phase = 'search';
  }

  /** There is no lobe on either side: the other end, or what hides it, comes first. */
  private giveUp(): void {
    this.phase = 'lost';
    this.action = 'otherEnd';
    this.rest = undefined;
    this.remainingDeg = null;
    this.lostDbm = recentLevelDbm(this.samples, listenS);
  }

  /** Whoever has found something at the other end makes this one worth another search. */
  private listen(): void {
    const level = recentLevelDbm(this.samples, listenS);
    if (level === null || level < (this.lostDbm ?? -Infinity) + worthSearchingDb) return;
    this.vain = 0;
    this.searchAnew();
    this.action = 'search';
  }

  private sweep(angleDeg: number): void {
    const centre = this.fit?.x ?? this.startDeg ?? 0;
    this.action = (angleDeg - centre) * this.direction > pastFitWidths * this.plan.beamWidthDeg ? 'past' : 'rising';
    if ((angleDeg - centre) * this.direction >= flankWidths * this.plan.beamWidthDeg) this.evaluate();
  }

  private startComingBack(): void {
    this.phase = 'comeBack';
    this.rest = undefined;
    const here = this.track.now().angleDeg;
    this.direction = (this.targetDeg(0) >= here ? 1 : -1) as Turning;
  }

  private comeBack(here: { angleDeg: number; speedDegPerS: number }, sample: AimSample): void {
    const target = this.targetDeg(this.direction);
    const remaining = (target - here.angleDeg) * this.direction;
    const speed = Math.min(
      believedSpeeds.most * this.plan.speedDegPerS,
      Math.max(believedSpeeds.least * this.plan.speedDegPerS, Math.abs(here.speedDegPerS)),
    );
    this.remainingDeg = Math.max(0, remaining);
    this.action = 'comeBack';
    if (remaining > speed * reactionS) return;
    this.action = 'stop';
    this.phase = 'hold';
    this.rest = new Rest(sample.tS + reactionS);
    this.track.stopAt(sample.tS + reactionS);
  }

  private hold(tS: number): void {
    this.action = 'hold';
    if (!this.rest?.ripe(tS)) return;
    const offDeg = this.targetDeg(this.direction) - this.track.restDeg(restS);
    this.remainingDeg = Math.abs(offDeg);
    const closeDeg = Math.max(closeWidths * this.plan.beamWidthDeg, this.track.resolutionDeg);
    if (Math.abs(offDeg) > closeDeg && this.nudges < mostNudges) {
      this.nudges++;
      this.phase = 'comeBack';
      this.rest = undefined;
      this.direction = offDeg > 0 ? 1 : -1;
      this.action = 'comeBack';
      return;
    }
    if (recentLevelDbm(this.samples, restS) === null) return this.giveUp();
    this.action = 'lock';
  }

  /** Reading of the angle scale at the peak when the mount is pushed in this direction. */
  private targetDeg(direction: Turning): number {
    if (this.coarseDeg !== null) return this.coarseDeg;
    return (this.fit?.x ?? this.startDeg ?? 0) + (this.fit?.halfPlay ?? 0) * direction;
  }

  private reverse(): void {
    this.direction = -this.direction as Turning;
    this.action = 'turnBack';
  }

  private refit(): void {
    const width = this.plan.beamWidthDeg;
    this.fit = fitLobe(this.points(), { width, widthRelativeSd: widthSpread.withAngles, halfPlaySd: halfPlaySdDeg });
  }

  private estimate(): PeakEstimate | null {
    const fit = this.coarseDeg === null ? this.fit : undefined;
    return fit
      ? {
          angleDeg: fit.x,
          peakDbm: fit.peakDbm,
          sdDeg: fit.xSd,
          widthRatio: fit.width / this.plan.beamWidthDeg,
          strokes: this.sweeps + 2,
        }
      : null;
  }
}

function levelNear(points: readonly LobePoint[], x: number, reach: number): number {
  const near = points.filter((p) => Math.abs(p.x - x) <= reach);
  return near.reduce((sum, p) => sum + p.levelDbm, 0) / Math.max(1, near.length);
}
