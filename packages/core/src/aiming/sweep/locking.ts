import { mainLobeLossDb } from '../../antenna/mainLobe';
import type { MeanLevel } from '../levels';
import type { AxisRecord } from './axisRecord';
import { slowFading, type KnownLevel, type PeakBelief } from './peakBelief';
import type { PeakFinder } from './peakFinder';

/** Seconds of reading at rest before and after the bolts are tightened: at least, and at most where the level fades slowly. */
export const restSeconds = 2.5;
export const longestRestS = 12;
/** By time nothing but the level tells whether tightening has moved the mount. */
const longestLockByTimeS = 20;
/** A rest holds so many new readings at least. */
export const leastReadings = 3;
/** A rest is long enough when its level is known so well. */
export const knownRestSdDb = 0.35;
/** After a stop the first moment of a rest may still be turning, seconds. */
export const settlingS = 0.3;

/** A level that drops so much through tightening has moved the mount; and so many standard deviations of the difference, by time more where the fading is slow. */
const movedDb = 0.5;
const movedSds = { byTime: 1.1, withAngles: 3 } as const;
/** Each time that it was loosened again asks for so much more: two fades in a row are likelier than bolts that pull anew. */
const oftenShare = 0.35;
/** The same for an angle, in beam widths: 12 x 0.1^2 = 0.1 dB. */
const movedWidths = 0.1;
const movedAngleSds = 2.5;
/** By time, less than so many standard deviations is believed to be a pull only where the next tightening goes to the same side. */
const sureSds = 1.6;
/** Nobody loosens and tightens for ever. */
const mostLocks = 5;
/** By time a place is known no better than this from one stroke to the next. */
const unsureWidths = 0.1;
/** A level lost by more than this says no more of how far the mount was pulled: the lobe's parabola ends. */
const mostLostDb = 12;

/** What tightening did, as far as it can be told. */
export type LockEnd =
  | { kind: 'held'; shortDb: number | null }
  /** it was pulled by so much, and the way back is known */
  | { kind: 'pulled' }
  /** it lost level, and strokes must show to which side it went */
  | { kind: 'lost' }
  /** nothing was heard before, nor after: nothing is known */
  | { kind: 'silent' };

interface Stand {
  level: MeanLevel;
  angleDeg: number;
  angleSdDeg: number;
  /** the middle of the rest in which the angle was read */
  atS: number;
}

/** The tightening of the bolts: holds what was heard before, compares after, and learns how far they pull the mount. */
export class Locking {
  /** to be aimed so far beside the peak, because tightening pulls the mount back */
  leadDeg = 0;
  private before: Stand | null = null;
  private lockedAtS: number | null = null;
  private locks = 0;
  /** the spot where tightening left the mount, until a stroke has shown how far from the peak that is, with the level lost */
  private pulledTo: { angleDeg: number; droppedDb: number; isSure: boolean } | null = null;
  /** the side that a pull seemed to go to that may have been a fade */
  private seemedSide = 0;

  constructor(
    private readonly record: AxisRecord,
    private readonly finder: PeakFinder,
    private readonly beamWidthDeg: number,
  ) {}

  /** Level that a mount at rest should show: the peak's, or that of so far beside it. */
  shouldDbm(peak: KnownLevel): number {
    return peak.dbm - mainLobeLossDb(this.leadDeg, this.finder.peak?.widthDeg ?? this.beamWidthDeg);
  }

  /** "Lock" is said: from here on the level and the place are what tightening has to leave; what is read while it goes on changes nothing. */
  say(restSinceS: number, isRough: boolean): void {
    const { record } = this;
    const peak = isRough ? null : this.finder.level;
    const place = record.track.restDeg(restSinceS + settlingS);
    const heard = record.levels.recentDbm(restSeconds) ?? -Infinity;
    const rest = this.finder.levelSince(restSinceS) ?? { dbm: heard, sdDb: 1, count: 0 };
    this.before = {
      level: !peak ? rest : this.leadDeg ? { ...rest, ...peak } : blend(rest, peak),
      // Where it stands beside the peak, tightening should bring it to the peak.
      angleDeg: place.angleDeg - this.leadDeg,
      angleSdDeg: place.sdDeg,
      atS: (restSinceS + record.nowS) / 2,
    };
    this.lockedAtS = null;
  }

  /** The bolts are tight. */
  locked(tS: number, restSinceS: number, isRough: boolean): void {
    if (!this.before) this.say(restSinceS, isRough);
    this.lockedAtS = tS;
  }

  /** @returns what tightening did; null while the bolts are not tight, or it was not read for long enough */
  end(isRough: boolean): LockEnd | null {
    const { before, lockedAtS, record, finder } = this;
    if (lockedAtS === null || !before) return null;
    const readS = record.nowS - lockedAtS;
    const isLongest = readS >= (record.isByTime ? longestLockByTimeS : longestRestS);
    if (readS < restSeconds || (record.levels.countSince(lockedAtS) < leastReadings && !isLongest)) return null;
    const level = finder.levelSince(lockedAtS);
    if (level && level.sdDb > knownRestSdDb && !isLongest) return null;
    if (!level && before.level.dbm === -Infinity) return { kind: 'silent' };
    if (isRough) return { kind: 'held', shortDb: null };

    const place = record.track.restDeg(lockedAtS);
    const laterS = (lockedAtS + record.nowS) / 2 - before.atS;
    const shiftDeg = place.angleDeg - before.angleDeg - (finder.peak?.driftDegPerS ?? 0) * laterS;
    const wanderedSdDeg = (finder.peak?.driftSdDegPerS ?? 0) * laterS;
    const angleSdDeg = Math.hypot(before.angleSdDeg, place.sdDeg, wanderedSdDeg);
    const turned = Math.abs(shiftDeg) > Math.max(movedWidths * this.beamWidthDeg, movedAngleSds * angleSdDeg);
    const droppedDb = level ? before.level.dbm - level.dbm : Infinity;
    const slowness = slowFading(finder.peak);
    const sds = record.isByTime ? slowness * (1 + oftenShare * this.locks) * movedSds.byTime : movedSds.withAngles;
    const dropped = droppedDb > Math.max(movedDb, sds * Math.hypot(before.level.sdDb, level?.sdDb ?? 0));
    if (!turned && !dropped) return { kind: 'held', shortDb: null };
    if (++this.locks >= mostLocks) return { kind: 'held', shortDb: droppedDb };
    this.before = null;
    this.lockedAtS = null;
    if (turned) {
      this.leadDeg -= shiftDeg;
      return { kind: 'pulled' };
    }
    const isSure = droppedDb > slowness * sureSds * Math.hypot(before.level.sdDb, level?.sdDb ?? 0);
    this.pulledTo = { angleDeg: place.angleDeg, droppedDb, isSure };
    return { kind: 'lost' };
  }

  /** The stroke after a pull shows on which side of the peak it left the mount, and how far off; by time the lost level tells that better. */
  learnFrom(peak: PeakBelief): void {
    const { pulledTo } = this;
    if (!pulledTo) return;
    const seenDeg = pulledTo.angleDeg - peak.deg;
    const lostDb = Math.min(mostLostDb, Math.max(0, pulledTo.droppedDb));
    // A level that faded looks like a pull; the stroke after it then met the peak where the mount stood.
    const mostDeg = 1.5 * Math.abs(seenDeg) + unsureWidths * peak.widthDeg;
    const byLevelDeg = Math.min(peak.widthDeg * Math.sqrt(lostDb / 12), mostDeg);
    const side = Math.sign(seenDeg);
    const isBelieved = !this.record.isByTime || pulledTo.isSure || side === this.seemedSide;
    this.seemedSide = side;
    this.pulledTo = null;
    if (!isBelieved) return;
    this.leadDeg -= this.record.isByTime ? side * byLevelDeg : seenDeg;
  }
}

/** Two means of the same level, each with the weight of what it knows. */
function blend(rest: MeanLevel, peak: KnownLevel): MeanLevel {
  const [a, b] = [1 / rest.sdDb ** 2, 1 / peak.sdDb ** 2];
  return { dbm: (a * rest.dbm + b * peak.dbm) / (a + b), sdDb: 1 / Math.sqrt(a + b), count: rest.count };
}
