import type { Action, Advice, PeakEstimate } from './advice';
import type { AngleTrack } from './angleTrack';
import { isSuspicious, reactionS, recentLevelDbm, searchWidths, type AxisGuide, type AxisPlan } from './guide';
import { fitLobe, smoothedMaximumX, type LobeFit, type LobePoint } from './lobeFit';
import type { AimSample, Turning } from './reading';
import { Rest } from './rest';
import { mirrorCentre } from './symmetry';

/** The peak is good enough when its uncertainty costs a few hundredths of a decibel: 12 x 0.05^2 = 0.03 dB. */
const targetSdWidths = 0.05;
/** Coming back is good enough so near to the peak: 12 x 0.06^2 = 0.04 dB. */
const closeWidths = 0.06;
const flankWidths = 0.9;
const flankDropDb = 5;
const mostSweeps = 7;
const mostNudges = 4;

/**
 * Guides a mount whose angle is known: out past the peak on one side, past it on the other, as many more strokes as the fit
 * needs, and back to the fitted peak.
 */
export class AngleGuide implements AxisGuide {
  private readonly samples: AimSample[] = [];
  private phase: 'search' | 'sweep' | 'comeBack' | 'hold' = 'search';
  private direction: Turning = 1;
  private searched = { right: false, left: false };
  private sweeps = 0;
  private nudges = 0;
  private fit: LobeFit | undefined;
  private rest: Rest | undefined;
  private startDeg: number | undefined;
  /** a rough direction, where the axis met side lobes or scatter only */
  private coarseDeg: number | null = null;
  private action: Action = 'search';
  private remainingDeg: number | null = null;

  constructor(
    private readonly plan: AxisPlan,
    private readonly track: AngleTrack,
  ) {}

  get advice(): Advice {
    return {
      action: this.action,
      direction: ['hold', 'stop', 'lock', 'readAgain', 'done'].includes(this.action) ? 0 : this.direction,
      remainingDeg: this.remainingDeg,
      levelDbm: recentLevelDbm(this.samples, 0.8),
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
    if (this.samples.length % 5) return; // half a second changes little, and looking over all points costs
    const points = this.points();
    const bestDeg = smoothedMaximumX(points, this.plan.beamWidthDeg);
    const level = recentLevelDbm(this.samples, 0.5);
    const bestDbm = bestDeg === undefined ? -Infinity : levelNear(points, bestDeg, this.plan.beamWidthDeg / 5);
    const width = this.plan.beamWidthDeg;
    const past = bestDeg === undefined ? 0 : (angleDeg - bestDeg) * this.direction;
    const travelled = (angleDeg - (this.startDeg ?? angleDeg)) * this.direction;
    const fallen = level === null || level < bestDbm - flankDropDb;
    const suspicious = !this.plan.nearPeak && isSuspicious(bestDbm, this.plan.expectedDbm);
    this.action = level === null || past < 0.35 * width ? (this.samples.length < 8 ? 'search' : 'rising') : 'past';
    const seenEnough = suspicious ? travelled >= searchWidths * width : fallen;
    const nothing = travelled >= 1.5 * searchWidths * width;
    if (!nothing && (past < flankWidths * width || !seenEnough)) return;

    this.searched[this.direction > 0 ? 'right' : 'left'] = true;
    if (this.searched.right && this.searched.left) {
      // Both flanks of the best lobe must have been seen; if the best moved since, its other flank may be missing.
      const seen = (side: Turning): boolean => {
        const reach = Math.max(...points.map((p) => (p.x - (bestDeg ?? 0)) * side));
        return reach >= 0.8 * flankWidths * width;
      };
      if (bestDeg === undefined || (seen(1) && seen(-1))) {
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
    const fit = fitLobe(points, { width, widthRelativeSd: 0.6 });
    const mainShape = fit && fit.width > 0.8 * width && fit.width < 1.5 * width && fit.effectivePoints > 4;
    if (mainShape && centre !== undefined && Math.abs(fit.x - centre) < 0.35 * width) return null;
    return centre ?? this.startDeg ?? 0;
  }

  /** Decides between another stroke through the lobe and coming back. */
  private evaluate(): void {
    this.refit();
    const fit = this.fit;
    const good =
      fit && fit.xSd <= targetSdWidths * this.plan.beamWidthDeg && fit.reachAbove > 0.4 && fit.reachBelow > 0.4;
    if (!fit && this.sweeps >= mostSweeps) {
      // Nothing to fit anywhere in reach: say so by searching on.
      this.sweeps = 0;
      this.searched = { right: false, left: false };
      this.phase = 'search';
      this.reverse();
    } else if (good || (fit && this.sweeps >= mostSweeps)) this.startComingBack();
    else {
      this.phase = 'sweep';
      this.sweeps++;
      this.reverse();
    }
  }

  private sweep(angleDeg: number): void {
    const centre = this.fit?.x ?? this.startDeg ?? 0;
    this.action = (angleDeg - centre) * this.direction > 0.3 * this.plan.beamWidthDeg ? 'past' : 'rising';
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
      1.6 * this.plan.speedDegPerS,
      Math.max(0.5 * this.plan.speedDegPerS, Math.abs(here.speedDegPerS)),
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
    const offDeg = this.targetDeg(this.direction) - this.track.restDeg(2);
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
    this.fit = fitLobe(this.points(), { width, widthRelativeSd: 0.15, halfPlaySd: 0.35 });
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
