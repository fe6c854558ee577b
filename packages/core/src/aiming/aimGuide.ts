import type { BeamWidth } from '../antenna/mainLobe';
import { ends as bothEnds, otherEnd, type End } from '../budget/plan';
import type { Advice, PeakEstimate } from './advice';
import { PhoneTrack, ScaleTrack, TimeTrack, type AngleTrack } from './angleTrack';
import { isSuspicious, sweepSeconds, type AxisGuide } from './guide';
import { HandDelay } from './handDelay';
import type { LobePoint } from './lobeFit';
import type { AngleSource, MountAxis, Reading, Turning } from './reading';
import { StrayWatch, type Stray } from './strayWatch';
import { Pace } from './pace';
import { ShiftGuide } from './shiftGuide';
import { SweepGuide } from './sweep/sweepGuide';

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
  /** degrees per notch of the mount's scales */
  notchDeg: Record<MountAxis, number>;
  /** levels are told afterwards, as a table */
  isLate?: boolean;
}

/** Something the installer did, in seconds since the alignment began. */
export type AimMark =
  | { kind: 'turning'; tS: number; direction: Turning }
  | { kind: 'notch'; tS: number; direction: Turning }
  | { kind: 'locked'; tS: number }
  | { kind: 'eye'; tS: number }
  | { kind: 'otherEnd'; tS: number }
  | { kind: 'endStop'; tS: number }
  /** what one end calls to the other: it turns nothing */
  | { kind: CrewWord; tS: number };

/** What two people who aim the two ends have to say to each other: stay as you are; go on; call me. */
export const crewWords = ['hold', 'go', 'callMe'] as const;
export type CrewWord = (typeof crewWords)[number];

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

/** An axis that gained so much may have moved the best of the other axis; and by so many standard deviations of both peaks, for fading alone makes a difference. */
const gainDb = 2;
const lossDb = 0.8;
const differenceSds = 3;
const mostRounds = 3;
/** A phone that is looked at so often, seconds, turns where its angle has changed by this much, degrees: more than its noise averages to. */
const looksApartS = 1;
/** Where levels come slowly, what comes between them is told no more often than where they come fast: it would push out of memory what it is compared with. */
const repeatsApartS = 0.09;
const turnsByDeg = 0.5;

/**
 * Where the rows of a search run, beam widths beside the first one: half as far apart as a beam reaches with some decibels lost. The last way is back. By time
 * a wide stroke loses the middle of the search, so that only the last row is a wide one.
 */
const rowsAtWidths = { withAngles: [1.5, -1.5, 3, -3, 4.5, -4.5, 0], byTime: [1.5, 3, -1.5, -3, 0] } as const;

/** Leads through a whole alignment, axis after axis. Feed it the readings and marks in order; replaying them gives the same state. */
export class AimGuide {
  readonly done: AimStep[] = [];
  private queue: AimStep[];
  private guide: SweepGuide | undefined;
  /** turns the other axis to the next row of a search */
  private shift: ShiftGuide | undefined;
  /** rows that were searched at this end, and where the last one ran, widths from the first */
  private rows = { searched: 0, atWidths: 0 };
  private turning: Turning = 0;
  /** both ends may be turned by one person, or by two who hear each other */
  private readonly delay = new HandDelay();
  private readonly pace = new Pace();
  /** an angle of the phone that was looked at to see which way it turns */
  private seen: { tS: number; angleDeg: number } | null = null;
  /** from when on what is no new level is told again, by the time of the guide */
  private nextRepeatS = 0;
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
    const step = this.queue[0];
    return step && this.shift ? { ...step, axis: otherAxis(step.axis) } : step;
  }

  private get inHand(): AxisGuide | undefined {
    return this.shift ?? this.guide;
  }

  get finished(): boolean {
    return this.queue.length === 0;
  }

  get advice(): Advice {
    const stray: Stray | null = this.stray?.stray ?? null;
    const byTime = this.guide?.isByTime ?? false;
    if (this.inHand) return { ...this.inHand.advice, byTime, stray };
    return {
      action: 'done',
      direction: 0,
      remainingDeg: null,
      levelDbm: null,
      estimate: this.lastEstimate,
      byTime: false,
      stray,
    };
  }

  /** How fast to turn: a beam width in some seconds, and in more where levels come slowly. */
  get speedDegPerS(): number | null {
    const { widthDeg } = this;
    return widthDeg === null ? null : widthDeg / sweepSeconds / this.pace.slowness;
  }

  /** Beam width of the axis in hand; null where nothing is left to do. */
  get widthDeg(): number | null {
    const { step } = this;
    return step ? widthOf(this.plan[step.end].beam, step.axis) : null;
  }

  /** Where the axis in hand is turned to, in the degrees of its points; null where none is in hand. */
  get hereDeg(): number | null {
    return this.shift ? null : (this.guide?.hereDeg ?? null);
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
    if (!reading.isRepeat) this.pace.news(reading.tS);
    const angleDeg = step.axis === 'azimuth' ? reading.phoneAzimuthDeg : reading.phoneTiltDeg;
    this.lookAtPhone(reading, angleDeg);
    const tS = this.pace.guideS(reading.tS);
    if (reading.isRepeat && tS < this.nextRepeatS) return;
    this.nextRepeatS = Math.max(this.nextRepeatS + repeatsApartS, tS);
    this.inHand?.push({
      tS,
      rslDbm: reading.rslDbm,
      isRepeat: reading.isRepeat,
      ageS: (reading.ageS ?? 0) / this.pace.slowness,
      angleDeg,
      turning: this.turning,
    });
    if (this.shift?.action === 'done') this.endShift();
    else if (this.guide?.wantsRow && !this.shift) this.beginShift(step);
    else if (this.guide?.action === 'done') this.close(false);
  }

  mark(mark: AimMark): void {
    if (mark.kind === 'turning') this.turning = mark.direction;
    else if (mark.kind === 'notch') this.notch(mark.tS, mark.direction);
    else if (mark.kind === 'locked') this.inHand?.locked(this.pace.guideS(mark.tS));
    else if (mark.kind === 'otherEnd') this.goToOtherEnd();
    else if (mark.kind === 'endStop') this.inHand?.endStop(this.pace.guideS(mark.tS));
    else if (mark.kind === 'eye') this.close(true);
  }

  private notch(tS: number, direction: Turning): void {
    this.inHand?.notch(this.pace.guideS(tS), direction);
    if (this.isLate) this.turning = direction;
  }

  private get isLate(): boolean {
    return !!this.step && !!this.plan[this.step.end].isLate;
  }

  /** Which way a phone turns, where nobody taps it and what is said is heard too late to tell. */
  private lookAtPhone({ tS }: Reading, angleDeg: number | null): void {
    if (!this.isLate || angleDeg === null) return;
    const before = this.seen;
    if (before && tS - before.tS < looksApartS) return;
    this.seen = { tS, angleDeg };
    const byDeg = before ? angleDeg - before.angleDeg : 0;
    this.turning = Math.abs(byDeg) < turnsByDeg ? 0 : byDeg > 0 ? 1 : -1;
  }

  /**
   * While something else is turned, readings say nothing about the axis in hand; when it stands again, this axis begins anew, and the one that was turned is
   * looked at again.
   */
  private lookForStray(reading: Reading, step: AimStep): void {
    if (this.plan[reading.end].source !== 'phone') return;
    const action = this.guide?.action;
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

  /** Nothing strong along this row: the other axis is turned to where the next one runs. */
  private beginShift({ end, axis }: AimStep): void {
    const toWidths = this.rowsAt[this.rows.searched++] ?? 0;
    const plan = this.plan[end];
    const widthDeg = widthOf(plan.beam, otherAxis(axis));
    const byDeg = (toWidths - this.rows.atWidths) * widthDeg;
    this.rows.atWidths = toWidths;
    this.turning = 0;
    this.watch.forget();
    this.shift = new ShiftGuide(byDeg, widthDeg / sweepSeconds, makeTrack(plan, otherAxis(axis)), this.delay);
  }

  private endShift(): void {
    this.shift = undefined;
    this.turning = 0;
    this.watch.forget();
    this.guide?.searchRow(Math.max(0, this.rowsAt.length - this.rows.searched));
  }

  private get rowsAt(): readonly number[] {
    return rowsAtWidths[this.guide?.isByTime ? 'byTime' : 'withAngles'];
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
    const noiseDb = differenceSds * Math.hypot(outcome?.sdDb ?? 0, before.outcome?.sdDb ?? 0);
    const gained = outcome && (!before.outcome || outcome.peakDbm - before.outcome.peakDbm > Math.max(gainDb, noiseDb));
    const weak = isSuspicious(outcome?.peakDbm ?? -Infinity, this.plan[step.end].expectedDbm);
    // A lower peak than before means that the other axis was not left on its peak.
    const lost = outcome && before.outcome && before.outcome.peakDbm - outcome.peakDbm > Math.max(lossDb, noiseDb);
    if (!gained && !lost && !(weak && here.length < 2 * mostRounds - 1)) return;
    this.queue.unshift({ end: step.end, axis: before.axis, again: !weak, outcome: null, byEye: false, points: [] });
  }

  private open(): void {
    const step = this.step;
    this.turning = 0;
    this.seen = null;
    this.stray = null;
    this.shift = undefined;
    this.watch.forget();
    if (step?.end !== this.done.at(-1)?.end) this.pace.forget();
    // Rows are searched once at an end, with the first axis in hand; later both axes are known.
    const isFirst = !!step && !this.done.some((s) => s.end === step.end);
    if (isFirst) this.rows = { searched: 0, atWidths: 0 };
    this.guide = step && makeGuide(this.plan[step.end], step, this.delay, isFirst ? rowsAtWidths.byTime.length : 0);
  }
}

function makeGuide(plan: EndAim, step: AimStep, delay: HandDelay, rows: number): SweepGuide {
  const beamWidthDeg = widthOf(plan.beam, step.axis);
  const speedDegPerS = beamWidthDeg / sweepSeconds;
  const { expectedDbm, isLate } = plan;
  const axisPlan = { beamWidthDeg, expectedDbm, speedDegPerS, nearPeak: step.again, isLate };
  return new SweepGuide(axisPlan, makeTrack(plan, step.axis), delay, rows);
}

function makeTrack({ beam, source, notchDeg }: EndAim, axis: MountAxis): AngleTrack {
  const speedDegPerS = widthOf(beam, axis) / sweepSeconds;
  if (source === 'phone') return new PhoneTrack(phoneNoiseDeg, speedDegPerS);
  return source === 'scale' ? new ScaleTrack(notchDeg[axis]) : new TimeTrack(speedDegPerS);
}

const otherAxis = (axis: MountAxis): MountAxis => (axis === 'azimuth' ? 'tilt' : 'azimuth');

const widthOf = (beam: BeamWidth, axis: MountAxis): number =>
  axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
