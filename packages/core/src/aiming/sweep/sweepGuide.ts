import type { Action, AxisAdvice, PeakEstimate } from '../advice';
import type { AngleTrack } from '../angleTrack';
import type { AxisGuide, AxisPlan } from '../guide';
import { HandDelay } from '../handDelay';
import type { MeanLevel } from '../levels';
import type { LobePoint } from '../lobeFit';
import type { AimSample, Turning } from '../reading';
import { flankDropDb, flankWidths, momentS, pastFitWidths, samplesPerLook, shownS } from '../steering';
import { AxisRecord } from './axisRecord';
import { AxisSearch } from './axisSearch';
import { HandWatch } from './handWatch';
import { leastReadings, Locking, restSeconds, settlingS } from './locking';
import type { PeakBelief } from './peakBelief';
import { PeakFinder } from './peakFinder';
import { PresumedHand } from './presumedHand';
import { Standing } from './standing';

/** Where only the level tells that a flank was passed, a fade may look like it: then a stroke goes on so far at most. */
const farFlankWidths = 1.6;
/** Where what tells the angle wanders, strokes are shorter: the peak is to be crossed again soon. */
const shortFlankWidths = 0.7;
/** A way back that takes so much longer than the way out has missed what it went for. */
const openShare = 0.5;
/** It takes a hand so long to feel that the mount goes no further, and to say so. */
const feltS = 0.8;
/** Nobody turns for ever. */
const mostSweeps = 9;
const mostNudges = 3;
/** Where what tells the angle wanders, a nudge says little by the time that it is made. */
const mostNudgesWandering = 1;
/** A nudge the other way takes up the mount's play first, which nobody knows: about so much of it, degrees (common practice, no source). */
const presumedPlayDeg = 0.25;
const mostApproaches = 5;
/** Strokes by time after the last that counts, which met no lobe. */
const spareSweeps = 4;
/** Strokes that are left after a stop beside the peak, and after a pull. */
const sweepsAgain = { short: 2, lost: 3 } as const;
/** So many stops so far under the peak, and what tells the angle is not believed any more. */
const mostFalseStops = 2;
const deniedDb = 2.5;
/** A way of less than a second of turning is gone by feel. */
const byFeelS = 1;
/** While coming back the peak is fitted once more every second; by time, every other reading. */
const samplesPerRefit = 10;
const samplesPerStep = 2;
/** Searches that met no lobe before the guide says that it is not this axis. */
const mostVainSearches = 2;
/** While it waits, the level is looked at over so long, and must have risen by so much: more than fading. */
const listenS = 2;
const worthSearchingDb = 6;
/** A speed read off a noisy angle is believed between these shares of what was asked for. */
const believedSpeeds = { least: 0.5, most: 1.6 } as const;
/** A stop before this share of the expected way would trust a fading peak. */
const earliestShare = 0.35;

/** While one of these is said, nothing is turned. */
const stillActions: readonly Action[] = ['hold', 'stop', 'lock', 'readAgain', 'otherEnd', 'endStop', 'done'];

/**
 * Guides one axis of a mount: out past the peak on one side, past it on the other, as many more strokes as the peak needs to be known, back to it, and
 * through the tightening of the bolts. The track says where the mount was; with none but the time, each stroke has a scale of its own, and the level has the last word.
 */
export class SweepGuide implements AxisGuide {
  private readonly record: AxisRecord;
  private readonly search: AxisSearch;
  private readonly finder: PeakFinder;
  private readonly locking: Locking;
  private readonly standing: Standing;
  private phase: 'search' | 'row' | 'sweep' | 'comeBack' | 'hold' | 'lock' | 'lost' = 'search';
  action: Action = 'search';
  private direction: Turning = 1;
  private remainingDeg: number | null = null;
  private sweeps = 0;
  private approaches = 0;
  private nudges = 0;
  /** stops at which the level denied what the angle said */
  private falseStops = 0;
  /** searches that met no lobe */
  private vain = 0;
  private readonly hand: HandWatch;
  private restSinceS = 0;
  private turnedRoundS = -Infinity;
  /** what the hand is taken to do where nobody taps, once the angle is not believed */
  private presumed: PresumedHand | null = null;
  private comeFromDeg = 0;
  private comingSinceS = 0;
  /** a short way that is gone by feel, until when and to where */
  private byFeel: { untilS: number; toDeg: number } | null = null;
  /** a rough direction, where the axis met side lobes or scatter only */
  private roughDeg: number | null = null;
  /** how far under the peak the mount was left; null where it is on it, as far as is known */
  private leftShortDb: number | null = null;
  /** the level when no lobe was found; null where nothing was heard */
  private lostDbm: number | null = null;

  /** @param rowsLeft how often the other axis may be turned for another row to search */
  constructor(
    private readonly plan: AxisPlan,
    track: AngleTrack,
    private readonly delay = new HandDelay(),
    private rowsLeft = 0,
  ) {
    this.record = new AxisRecord(track);
    this.search = new AxisSearch(plan, this.record);
    this.finder = new PeakFinder(plan, this.record);
    this.hand = new HandWatch(delay, plan);
    this.locking = new Locking(this.record, this.finder, plan.beamWidthDeg);
    this.standing = new Standing(plan, this.record, this.finder, this.locking);
  }

  get advice(): AxisAdvice {
    return {
      action: this.action,
      direction: stillActions.includes(this.action) ? 0 : this.direction,
      remainingDeg: this.remainingDeg,
      levelDbm: this.record.levels.recentDbm(shownS),
      estimate: this.estimate(),
    };
  }

  /** Whether nothing but the time of turning tells the angle, any more or from the beginning. */
  get isByTime(): boolean {
    return this.record.isByTime;
  }

  /** Whether this axis met nothing but scatter, and wants the other one turned before it searches again. */
  get wantsRow(): boolean {
    return this.phase === 'row';
  }

  /** Where it is turned to now, in the degrees of its points. */
  get hereDeg(): number {
    return this.record.hereDeg;
  }

  points(): LobePoint[] {
    return this.record.points();
  }

  notch(tS: number, direction: Turning): void {
    this.record.track.notch(tS, direction);
    this.hand.notch(tS, direction, this.direction);
  }

  locked(tS: number): void {
    this.locking.locked(tS, this.restSinceS, this.roughDeg !== null);
    this.phase = 'lock';
    this.action = 'readAgain';
  }

  /** The mount goes no further: what lies beyond is not for this axis to find. */
  endStop(tS: number): void {
    // Who has just been told to turn round has felt the end of the stroke before.
    if (tS - this.turnedRoundS < this.delay.seconds + feltS) return;
    if (this.phase === 'search') this.leaveSide();
    else if (this.phase === 'sweep') this.evaluate();
    else if (this.phase === 'comeBack') this.giveUp('endStop');
  }

  /** The other axis was turned: what was read before belongs to another row. */
  searchRow(rowsLeft: number): void {
    this.rowsLeft = rowsLeft;
    this.record.beginRow();
    this.finder.forget();
    this.direction = this.search.beginRow() || this.direction;
    this.phase = 'search';
    this.action = 'search';
    this.hand.toldToTurn(this.record.nowS);
  }

  push(told: AimSample): void {
    const sample = this.presumed ? { ...told, turning: this.presumed.turning(told, this.delay.seconds) } : told;
    this.hand.turns(sample, this.record.turning, this.direction);
    this.record.push(sample, (this.phase === 'hold' && sample.tS > this.restSinceS) || this.phase === 'lock');
    this.search.startDeg ??= this.record.hereDeg;
    if (this.phase === 'lock') this.readLock();
    else if (this.phase === 'hold') this.hold();
    else if (this.phase === 'lost') this.listen();
    else if (this.phase === 'row') return;
    // Where nothing else tells the angle, or nothing was said yet, a hand that has not turned round yet is on no stroke.
    else if ((this.isByTime || this.plan.isLate) && sample.turning !== this.direction) return;
    else if (this.phase === 'search') this.lookForLobe();
    else if (this.phase === 'sweep') this.sweep();
    else this.comeBack();
  }

  /** The peak to be on; null where only a rough direction is known. */
  private get sharpPeak(): PeakBelief | null {
    return this.roughDeg === null ? this.finder.peak : null;
  }

  private lookForLobe(): void {
    const seen = this.search.look(this.direction);
    if (!seen) return;
    this.action = seen.action;
    if (seen.isOver) this.leaveSide();
  }

  /** One side was searched far enough: the other one, or on to what was found. */
  private leaveSide(): void {
    const decide = this.search.leave(this.direction);
    if (!this.endStroke()) return this.reverse();
    const end = decide(!this.isByTime || this.rowsLeft === 0);
    if (end.kind === 'otherSide') return this.reverse();
    if (end.kind === 'nothing') return this.giveUp('otherEnd');
    if (end.kind === 'lobe') return this.decide();
    if (end.kind === 'scatter' && this.rowsLeft > 0) {
      this.phase = 'row';
      this.action = 'nextRow';
      return;
    }
    this.roughDeg = end.deg;
    this.reverse();
    this.startComingBack();
  }

  /** Takes in what the stroke that ends here has shown. @returns whether the angles are still believed */
  private endStroke(): boolean {
    const { finder, search, locking } = this;
    if (finder.isCrooked) {
      this.distrustTrack();
      return false;
    }
    const byDeg = finder.take(this.direction);
    if (search.startDeg !== undefined) search.startDeg += byDeg;
    if (finder.peak && finder.isSeen) locking.learnFrom(finder.peak);
    return true;
  }

  private evaluate(): void {
    if (this.endStroke()) this.decide();
    else this.reverse();
  }

  /** Decides between another stroke through the lobe and coming back. */
  private decide(): void {
    const { finder } = this;
    if (this.sweeps >= 1 && finder.isBent) {
      this.distrustTrack();
      return this.reverse();
    }
    this.reverse();
    // Without angles a place beside the peak is reached from the other side, over the peak, which shows where it is.
    const isWrongWay = this.isByTime && this.locking.leadDeg * this.direction < 0;
    const isDone = finder.isKnown || (this.sweeps >= mostSweeps && finder.isSeen);
    if (isDone && !isWrongWay) this.startComingBack();
    else if (this.sweeps >= mostSweeps + (finder.peak ? spareSweeps : 0)) {
      // Nothing to fit anywhere in reach: once more from the beginning, then it is not this axis that is wrong.
      if (++this.vain >= mostVainSearches) return this.giveUp('otherEnd');
      this.searchAnew();
    } else {
      this.phase = 'sweep';
      this.sweeps++;
    }
  }

  /** Where the peak was known, it is near there still, and in this row. */
  private searchAnew(): void {
    this.sweeps = 0;
    if (this.finder.peak) this.rowsLeft = 0;
    this.search.restart(this.finder.peak?.deg);
    this.phase = 'search';
  }

  /** What tells the angle leads beside the peak: from here on time and level alone do. */
  private distrustTrack(): void {
    this.presumed ??= new PresumedHand(this.record.nowS);
    this.search.centreOn(this.finder.distrustTrack(this.search.startDeg ?? 0));
    this.locking.leadDeg = 0;
    this.searchAnew();
  }

  /** There is no lobe on either side, or the mount does not reach it: the other end, or what hides it, comes first. */
  private giveUp(why: 'otherEnd' | 'endStop'): void {
    this.phase = 'lost';
    this.action = why;
    this.remainingDeg = null;
    this.lostDbm = this.record.levels.recentDbm(listenS);
  }

  /** Whoever has found something at the other end makes this one worth another search. */
  private listen(): void {
    const level = this.record.levels.recentDbm(listenS);
    if (level === null || level < (this.lostDbm ?? -Infinity) + worthSearchingDb) return;
    this.vain = 0;
    this.record.beginStroke();
    this.searchAnew();
    this.action = 'search';
  }

  private sweep(): void {
    const { finder, record, search } = this;
    if (finder.byTime) return this.sweepByTime();
    const past = (record.hereDeg - (finder.peak?.deg ?? search.startDeg ?? 0)) * this.direction;
    this.action = past > pastFitWidths * this.plan.beamWidthDeg ? 'past' : 'rising';
    if (past >= (this.standing.isWandering ? shortFlankWidths : flankWidths) * this.plan.beamWidthDeg) this.evaluate();
  }

  /** Without angles a stroke ends past the lobe that its own levels show; one that shows none goes on as far as the lobe can be, give or take what time leaves open. */
  private sweepByTime(): void {
    const { finder, record, search, direction } = this;
    if (!finder.byTime || record.count % samplesPerLook) return;
    const width = finder.byTime.widthDeg;
    const points = record.strokePoints(direction);
    const fit = finder.byTime.lobeIn(points);
    if (fit) {
      const past = (record.hereDeg - fit.x) * direction;
      this.action = past > pastFitWidths * width ? 'past' : 'rising';
      const level = record.levels.recentDbm(momentS);
      const fallen = level === null || level < fit.peakDbm - flankDropDb;
      if (past >= (fallen ? flankWidths : farFlankWidths) * width) this.evaluate();
      return;
    }
    this.action = 'rising';
    const fromDeg = points[0]?.x ?? record.hereDeg;
    const aheadDeg = ((finder.peak?.deg ?? search.startDeg ?? fromDeg) - fromDeg) * direction;
    const mostDeg = (1 + openShare) * Math.max(0, aheadDeg) + farFlankWidths * width;
    if ((record.hereDeg - fromDeg) * direction > mostDeg) this.evaluate();
  }

  private startComingBack(): void {
    const { hereDeg } = this.record;
    this.phase = 'comeBack';
    this.approaches++;
    this.byFeel = null;
    if (!this.isByTime) this.direction = (this.targetDeg(0) >= hereDeg ? 1 : -1) as Turning;
    this.action = 'comeBack';
    this.comeFromDeg = hereDeg;
    this.comingSinceS = this.record.nowS;
    this.hand.toldToComeBack();
    this.remainingDeg = Math.abs(this.targetDeg(this.direction) - hereDeg);
    this.tellTrack(this.direction);
    if (!this.isByTime) this.goByFeel(hereDeg, this.direction * this.remainingDeg);
  }

  /** A short way is gone by feel: no notch and no angle tells when it is over, the time does. */
  private goByFeel(fromDeg: number, byDeg: number): void {
    const { speedDegPerS } = this.plan;
    if (Math.abs(byDeg) >= speedDegPerS * byFeelS) return;
    const untilS = this.record.nowS + this.delay.seconds + Math.abs(byDeg) / speedDegPerS;
    this.byFeel = { untilS, toDeg: fromDeg + byDeg };
  }

  private comeBack(): void {
    const { record, finder, plan } = this;
    if (this.isByTime && record.count % samplesPerStep) return;
    if (!this.isByTime && this.roughDeg === null && record.count % samplesPerRefit === 0) finder.refit(true);
    const { angleDeg, speedDegPerS } = record.track.now();
    const remaining = (this.targetDeg(this.direction) - angleDeg) * this.direction;
    const speed = Math.min(
      believedSpeeds.most * plan.speedDegPerS,
      Math.max(believedSpeeds.least * plan.speedDegPerS, Math.abs(speedDegPerS)),
    );
    this.remainingDeg = Math.max(0, remaining);
    this.action = 'comeBack';
    if (this.byFeel) {
      if (record.nowS <= this.byFeel.untilS) return;
      record.track.settleAt(this.byFeel.toDeg);
      return this.sayStop(null);
    }
    // A hand that has only just heard where to go has not turned for as long as it will run on.
    const runsOnS = Math.min(this.delay.seconds, record.nowS - this.comingSinceS);
    if (remaining > speed * runsOnS || this.isTooEarly(angleDeg)) return;
    this.sayStop(this.targetDeg(this.direction));
    record.track.stopAt(this.restSinceS);
  }

  private isTooEarly(angleDeg: number): boolean {
    if (!this.isByTime || this.roughDeg !== null) return false;
    const wayDeg = Math.abs((this.finder.peak?.deg ?? angleDeg) - this.comeFromDeg);
    return Math.abs(angleDeg - this.comeFromDeg) < earliestShare * wayDeg;
  }

  /** @param toDeg where it was to stop; null where it went by feel */
  private sayStop(toDeg: number | null): void {
    this.action = 'stop';
    this.phase = 'hold';
    this.byFeel = null;
    this.hand.toldToStop(this.record.nowS, toDeg);
    this.restSinceS = this.record.nowS + this.delay.seconds;
    this.tellTrack(0);
  }

  private hold(): void {
    const { record, finder } = this;
    this.action = 'hold';
    if (this.isByTime && record.turning !== 0) this.restSinceS = record.nowS;
    if (record.nowS - this.restSinceS < restSeconds) return;
    this.hand.rests(record.track.resolutionDeg);
    if (record.levels.countSince(this.restSinceS) < leastReadings || this.standing.isVague(this.restSinceS)) return;
    if (record.levels.recentDbm(restSeconds) === null) return this.giveUp('otherEnd');
    const rest = finder.levelSince(this.restSinceS);
    if (this.roughDeg === null && !rest) return;
    if (this.nudge()) return;
    if (this.roughDeg === null && rest) {
      const verdict = this.verdictOn(rest);
      if (verdict === 'wait') return;
      if (verdict === 'short') return this.tryAgain(rest);
    }
    this.remainingDeg = null;
    this.locking.say(this.restSinceS, this.roughDeg !== null);
    this.phase = 'lock';
    this.action = 'lock';
  }

  /** Whether the mount was stopped beside where it should be, by what tells the angle, and is worth a nudge. */
  private nudge(): boolean {
    const { standing, restSinceS } = this;
    if (this.isByTime || this.nudges >= (standing.isWandering ? mostNudgesWandering : mostNudges)) return false;
    const { track } = this.record;
    const place = track.restDeg(restSinceS + settlingS);
    if (track.isAveraging) this.hand.restsAt(place, this.direction);
    const offDeg = standing.offDeg(restSinceS, this.targetDeg(this.direction));
    if (!offDeg) return false;
    this.nudges++;
    this.phase = 'comeBack';
    this.comingSinceS = this.record.nowS;
    this.hand.toldToComeBack();
    const nudgeTo: Turning = offDeg > 0 ? 1 : -1;
    const wayDeg = Math.abs(offDeg) + (track.isAveraging && nudgeTo !== this.direction ? presumedPlayDeg : 0);
    this.direction = nudgeTo;
    this.action = 'comeBack';
    this.remainingDeg = wayDeg;
    this.tellTrack(this.direction);
    this.goByFeel(place.angleDeg, nudgeTo * wayDeg);
    return true;
  }

  /** Whether the level at rest is too weak for where the mount should stand; after many approaches it is taken as it is, and what it lacks is told. */
  private verdictOn(rest: MeanLevel): 'short' | 'wait' | 'fine' {
    const { standing } = this;
    const restedS = this.record.nowS - this.restSinceS;
    if (this.approaches < mostApproaches) return standing.verdict(rest, restedS);
    this.leftShortDb = standing.isShort(rest, restedS) ? standing.missingDb(rest) : null;
    return 'fine';
  }

  /** The level says that the mount is not on the peak: once more through the lobe. */
  private tryAgain(rest: MeanLevel): void {
    const { locking, standing, finder } = this;
    const isDenied = !this.isByTime && !locking.leadDeg && standing.missingDb(rest) > deniedDb;
    if (isDenied && ++this.falseStops >= mostFalseStops) {
      this.distrustTrack();
      return this.reverse();
    }
    if (!locking.leadDeg) finder.rested(rest);
    this.sweepOn(sweepsAgain.short);
    this.action = 'turnBack';
    this.remainingDeg = null;
    this.hand.toldToTurn(this.record.nowS);
  }

  /** On the way in hand out to the flank, and as many strokes as are left. */
  private sweepOn(left: number): void {
    this.phase = 'sweep';
    this.tellTrack(this.direction);
    this.nudges = 0;
    this.sweeps = Math.min(this.sweeps, mostSweeps - left);
    if (this.isByTime) this.record.beginStroke();
  }

  /** Reads again after the bolts were tightened. */
  private readLock(): void {
    const end = this.locking.end(this.roughDeg !== null);
    if (!end) return;
    if (end.kind === 'held') {
      this.leftShortDb = end.shortDb ?? this.leftShortDb;
      this.action = 'done';
      return;
    }
    if (end.kind === 'silent') return this.giveUp('otherEnd');
    this.approaches = Math.min(this.approaches, mostApproaches - 2);
    if (end.kind === 'lost') this.sweepOn(sweepsAgain.lost);
    else {
      this.nudges = 0;
      this.startComingBack();
    }
    this.action = 'moved';
  }

  /** Reading of the track where the mount should be stopped when it is pushed in this direction. */
  private targetDeg(direction: Turning): number {
    if (this.roughDeg !== null) return this.roughDeg;
    const { finder, search, locking } = this;
    const onPeakDeg = finder.expectedDeg(this.direction) ?? finder.peak?.deg ?? search.startDeg ?? 0;
    return onPeakDeg + (finder.peak?.halfPlayDeg ?? 0) * direction + locking.leadDeg;
  }

  private reverse(): void {
    this.direction = -this.direction as Turning;
    this.turnedRoundS = this.record.nowS;
    this.action = 'turnBack';
    this.hand.toldToTurn(this.record.nowS);
    this.tellTrack(this.direction);
    this.record.beginStroke();
  }

  private tellTrack(direction: Turning): void {
    this.record.track.told(this.record.nowS, direction, this.delay.seconds);
    this.presumed?.told(this.record.nowS, direction);
  }

  private estimate(): PeakEstimate | null {
    const { sharpPeak: peak, finder } = this;
    if (!peak || (!this.isByTime && !this.sweeps && this.phase === 'search')) return null;
    return {
      angleDeg: this.isByTime ? null : peak.deg,
      peakDbm: peak.dbm,
      sdDeg: peak.sdDeg,
      sdDb: peak.sdDb,
      widthRatio: peak.widthDeg / this.plan.beamWidthDeg,
      strokes: finder.strokeCount ?? this.sweeps + 2,
      shortDb: this.leftShortDb,
    };
  }
}
