import type { AxisPlan } from '../guide';
import type { MeanLevel } from '../levels';
import { closeWidths } from '../steering';
import type { AxisRecord } from './axisRecord';
import { knownRestSdDb, longestRestS, settlingS, type Locking } from './locking';
import type { PeakFinder } from './peakFinder';

/** Nearer than so many standard deviations of where it stands nobody can come. */
const closeSds = 0.7;
/** A hand that is told to stop stands so near to the peak, beam widths, one standard deviation. */
const stoppedWidths = 0.2;
/** A place at rest is read until it is known so well, or for so long. */
const placeSdWidths = 0.06;
const longestPlaceS = 8;
/** Where what tells the angle wanders so fast, the peak is to be crossed again soon, and the level has more to say. */
const wanderingWidthsPerS = 0.003;
/** At rest the level is short of the peak where it is so by this much, and by so many standard deviations. */
const shortDb = 0.6;
const shortSds = { withAngles: 2, wandering: 1, byTime: 1.6 } as const;
/** Once it was listened to for as long as anybody will, another stroke is worth more than what is left of the doubt. */
const shortSdsAtLast = 1.2;
/** So many times that much is no fade that will pass. */
const plainlyShort = 2;
/** By time nothing but the level tells how near it stands, so that it is listened to for longer. */
const longestRestByTimeS = 30;

/** What a mount shows that was stopped near the peak: how far off by what tells the angle, and whether its level is that of the peak. */
export class Standing {
  constructor(
    private readonly plan: AxisPlan,
    private readonly record: AxisRecord,
    private readonly finder: PeakFinder,
    private readonly locking: Locking,
  ) {}

  /** Whether what tells the angle wanders so fast, as far as is known, that it counts. */
  get isWandering(): boolean {
    const { record, finder, plan } = this;
    return !record.isByTime && (finder.peak?.driftSdDegPerS ?? 0) > wanderingWidthsPerS * plan.beamWidthDeg;
  }

  /** Whether more angles at rest would still show better where the mount stands. */
  isVague(sinceS: number): boolean {
    const { track, nowS, isByTime } = this.record;
    if (isByTime || !track.isAveraging || nowS - sinceS >= longestPlaceS) return false;
    // Nor are they worth waiting for beyond what is known of the peak.
    const wantedDeg = Math.max(placeSdWidths * this.plan.beamWidthDeg, this.peakSdDeg);
    return track.restDeg(sinceS + settlingS).sdDeg > wantedDeg;
  }

  /**
   * How far the mount was stopped beside where it should be, by what tells the angle.
   * @returns degrees with their sign; 0 where it is not worth a nudge
   */
  offDeg(sinceS: number, targetDeg: number): number {
    const { record, finder, plan } = this;
    const { track } = record;
    const place = track.restDeg(sinceS + settlingS);
    // What wanders has wandered on since the middle of the rest.
    const wanderedDeg = ((finder.peak?.driftDegPerS ?? 0) * (record.nowS - sinceS)) / 2;
    const seenDeg = targetDeg - place.angleDeg - wanderedDeg;
    const unsureDeg = Math.hypot(place.sdDeg, this.peakSdDeg);
    // A hand that was stopped for the peak is near it, whatever a vague angle says.
    const nearDeg = stoppedWidths * plan.beamWidthDeg;
    const offDeg = track.isAveraging ? seenDeg / (1 + (unsureDeg / nearDeg) ** 2) : seenDeg;
    const closeDeg = Math.max(closeWidths * plan.beamWidthDeg, track.resolutionDeg, closeSds * unsureDeg);
    return Math.abs(offDeg) <= closeDeg ? 0 : offDeg;
  }

  /** By how much the level at rest is under what it should be, dB. */
  missingDb(rest: MeanLevel): number {
    const { level } = this.finder;
    return level ? this.locking.shouldDbm(level) - rest.dbm : 0;
  }

  /** Whether the level at rest is too weak for where the mount should stand. */
  isShort(rest: MeanLevel, restedS: number): boolean {
    return this.missingDb(rest) > this.limitDb(rest, restedS);
  }

  /** The same, once it was listened to for long enough: a fade may pass. */
  verdict(rest: MeanLevel, restedS: number): 'short' | 'wait' | 'fine' {
    const missingDb = this.missingDb(rest);
    const isLongest = restedS > this.longestS;
    if (this.isShort(rest, restedS)) {
      const isPlain = !this.record.isByTime || missingDb > plainlyShort * this.limitDb(rest, restedS);
      return isPlain || isLongest ? 'short' : 'wait';
    }
    return rest.sdDb < knownRestSdDb || isLongest || missingDb < -shortDb ? 'fine' : 'wait';
  }

  private get longestS(): number {
    if (this.record.isByTime) return longestRestByTimeS;
    return this.isWandering ? longestRestS : longestRestS / 2;
  }

  private limitDb(rest: MeanLevel, restedS: number): number {
    const isAtLast = this.record.isByTime && restedS > longestRestByTimeS;
    const sds = isAtLast ? shortSdsAtLast : shortSds[this.way];
    return Math.max(shortDb, sds * Math.hypot(rest.sdDb, this.finder.level?.sdDb ?? 0));
  }

  private get way(): keyof typeof shortSds {
    if (this.record.isByTime) return 'byTime';
    return this.isWandering ? 'wandering' : 'withAngles';
  }

  /** How well it is known where the peak is by now. */
  private get peakSdDeg(): number {
    return Math.hypot(this.finder.peak?.sdDeg ?? 0, this.finder.wanderedSdDeg);
  }
}
