import type { BeamWidth } from '../antenna';
import { ends as bothEnds, otherEnd, type End } from '../budget';
import type { Advice, PeakEstimate } from './advice';
import { AngleGuide } from './angleGuide';
import { PhoneTrack, ScaleTrack } from './angleTrack';
import { isSuspicious, sweepSeconds, type AxisGuide } from './guide';
import type { LobePoint } from './lobeFit';
import type { AngleSource, MountAxis, Reading, Turning } from './reading';
import { StrayWatch, type Stray } from './strayWatch';
import { TimeGuide } from './timeGuide';

/** What the guide of a whole alignment is told beforehand. */
export interface AimPlan {
  near: EndAim;
  far: EndAim;
  /** first school: one end after the other; second: both left-right, then both up-down */
  order: 'endByEnd' | 'axisByAxis';
  /** which ends are to be aimed; both unless one is fixed */
  ends?: readonly End[];
}

export interface EndAim {
  beam: BeamWidth;
  expectedDbm: number | null;
  source: AngleSource;
  /** degrees per notch of the mount's scale */
  notchDeg: number;
}

/** Something the installer did, in seconds since the alignment began. */
export type AimMark =
  | { kind: 'turning'; tS: number; direction: Turning }
  | { kind: 'notch'; tS: number; direction: Turning }
  | { kind: 'locked'; tS: number }
  | { kind: 'eye'; tS: number }
  | { kind: 'otherEnd'; tS: number };

/** One axis of one end: what the guide is working on, or has done. */
export interface AimStep {
  end: End;
  axis: MountAxis;
  /** a second look after the other axis gained much */
  again: boolean;
  outcome: PeakEstimate | null;
  /** left as it was, by eye */
  byEye: boolean;
  /** levels over position along this axis, once it is done */
  points: LobePoint[];
}

/** Noise of a phone's angle sensor, one standard deviation (common practice, no source). */
export const phoneNoiseDeg = 1.5;

/** An axis that gained so much may have moved the best of the other axis. */
const gainDb = 2;
const lossDb = 0.8;
const mostRounds = 3;

/** Leads through a whole alignment, axis after axis. Feed it the readings and marks in order; replaying them gives the same state. */
export class AimGuide {
  readonly done: AimStep[] = [];
  private queue: AimStep[];
  private guide: AxisGuide | undefined;
  private turning: Turning = 0;
  private lastEstimate: PeakEstimate | null = null;
  private readonly watch: StrayWatch;
  private stray: ReturnType<StrayWatch['strayFrom']> = null;

  constructor(private readonly plan: AimPlan) {
    const ends = plan.ends ?? bothEnds;
    const step = (end: End, axis: MountAxis): AimStep => ({
      end,
      axis,
      again: false,
      outcome: null,
      byEye: false,
      points: [],
    });
    this.queue =
      plan.order === 'endByEnd'
        ? ends.flatMap((end) => [step(end, 'azimuth'), step(end, 'tilt')])
        : (['azimuth', 'tilt'] as const).flatMap((axis) => ends.map((end) => step(end, axis)));
    this.watch = new StrayWatch({ near: plan.near.beam, far: plan.far.beam });
    this.open();
  }

  get step(): AimStep | undefined {
    return this.queue[0];
  }

  get finished(): boolean {
    return this.queue.length === 0;
  }

  get advice(): Advice {
    const stray: Stray | null = this.stray?.stray ?? null;
    if (this.guide) return { ...this.guide.advice, stray };
    return { action: 'done', direction: 0, remainingDeg: null, levelDbm: null, estimate: this.lastEstimate, stray };
  }

  /** Levels over position of the axis in hand, for drawing. */
  points(): LobePoint[] {
    return this.guide?.points() ?? [];
  }

  push(reading: Reading): void {
    const step = this.step;
    if (!step) return;
    this.lookForStray(reading, step);
    if (reading.end !== step.end || this.stray) return;
    const angleDeg = step.axis === 'azimuth' ? reading.phoneAzimuthDeg : reading.phoneTiltDeg;
    this.guide?.push({ tS: reading.tS, rslDbm: reading.rslDbm, angleDeg, turning: this.turning });
    if (this.guide?.advice.action === 'done') this.close(false);
  }

  mark(mark: AimMark): void {
    if (mark.kind === 'turning') this.turning = mark.direction;
    else if (mark.kind === 'notch') this.guide?.notch(mark.tS, mark.direction);
    else if (mark.kind === 'locked') this.guide?.locked(mark.tS);
    else if (mark.kind === 'otherEnd') this.goToOtherEnd();
    else this.close(true);
  }

  /**
   * While something else is turned, readings say nothing about the axis in hand; when it stands again, this axis begins anew, and the one that was turned is
   * looked at again.
   */
  private lookForStray(reading: Reading, step: AimStep): void {
    if (this.plan[reading.end].source !== 'phone') return;
    const action = this.guide?.advice.action;
    // Bolts move a mount a little in both axes: that is told by reading again, not by this.
    if (action === 'lock' || action === 'readAgain' || action === 'moved') this.watch.forget();
    this.watch.push(reading);
    const found = this.watch.strayFrom(step.end, step.axis);
    const gone = this.stray;
    this.stray = found ?? null;
    if (!gone || found) return;
    if (this.done.some((s) => s.end === gone.end && s.axis === gone.axis)) this.queueAgain(gone.end, gone.axis);
    this.open();
  }

  private queueAgain(end: End, axis: MountAxis): void {
    if (this.queue.slice(1).some((s) => s.end === end && s.axis === axis)) return;
    this.queue.splice(1, 0, { end, axis, again: true, outcome: null, byEye: false, points: [] });
  }

  /** Leaves this end for later and goes on at the other, from its beginning where it was done already. */
  private goToOtherEnd(): void {
    const here = this.step?.end;
    if (!here || !(this.plan.ends ?? bothEnds).includes(otherEnd(here))) return;
    const there = this.queue.filter((s) => s.end !== here);
    const first: AimStep[] = there.length
      ? there
      : (['azimuth', 'tilt'] as const).map((axis) => ({
          end: otherEnd(here),
          axis,
          again: false,
          outcome: null,
          byEye: false,
          points: [],
        }));
    this.queue = [...first, ...this.queue.filter((s) => s.end === here)];
    this.open();
  }

  /** Ends the axis in hand and decides whether the other one needs a second look. */
  private close(byEye: boolean): void {
    const step = this.queue.shift();
    if (!step) return;
    const outcome = this.guide?.advice.estimate ?? null;
    this.lastEstimate = outcome;
    this.done.push({ ...step, outcome, byEye, points: this.points() });
    this.lookAgain(step, outcome);
    this.open();
  }

  /**
   * Queues the end's other axis once more where this one gained much, since its best may have moved, or lost; or where both are done and the level
   * is still so weak that the search went through side lobes only.
   */
  private lookAgain(step: AimStep, outcome: PeakEstimate | null): void {
    const here = this.done.filter((s) => s.end === step.end);
    const before = here.filter((s) => s.axis !== step.axis).at(-1);
    if (!before || here.length >= 2 * mostRounds || this.queue.some((s) => s.end === step.end)) return;
    const gained = outcome && (!before.outcome || outcome.peakDbm - before.outcome.peakDbm > gainDb);
    const weak = isSuspicious(outcome?.peakDbm ?? -Infinity, this.plan[step.end].expectedDbm);
    // A lower peak than before means that the other axis was not left on its peak.
    const lost = outcome && before.outcome && before.outcome.peakDbm - outcome.peakDbm > lossDb;
    if (!gained && !lost && !(weak && here.length < 4)) return;
    this.queue.unshift({ end: step.end, axis: before.axis, again: !weak, outcome: null, byEye: false, points: [] });
  }

  private open(): void {
    const step = this.step;
    this.turning = 0;
    this.stray = null;
    this.watch.forget();
    this.guide = step && makeGuide(this.plan[step.end], step);
  }
}

function makeGuide({ beam, expectedDbm, source, notchDeg }: EndAim, step: AimStep): AxisGuide {
  const beamWidthDeg = step.axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
  const speedDegPerS = beamWidthDeg / sweepSeconds;
  const plan = { beamWidthDeg, expectedDbm, speedDegPerS, nearPeak: step.again };
  if (source === 'none') return new TimeGuide(plan);
  const track = source === 'phone' ? new PhoneTrack(phoneNoiseDeg, speedDegPerS) : new ScaleTrack(notchDeg);
  return new AngleGuide(plan, track);
}
