import { sideLobeAtLeastDb } from './diagnosis';
import type { AxisAdvice } from './advice';
import type { AimSample, Turning } from './reading';
import type { LobePoint } from './lobeFit';

/** What a guide along one axis is told beforehand. */
export interface AxisPlan {
  beamWidthDeg: number;
  /** level to expect at the peak, both ends aimed; null where no prediction stands */
  expectedDbm: number | null;
  /** turning speed the installer is asked for: about six seconds through the beam */
  speedDegPerS: number;
  /** the peak is known to be near: no wide search for a better lobe */
  nearPeak: boolean;
  /** levels are told afterwards, as a table: what is said is heard long after it would have been true */
  isLate?: boolean;
}

/** A guide along one axis of one mount: takes samples, says what to do. */
export interface AxisGuide {
  push(sample: AimSample): void;
  notch(tS: number, direction: Turning): void;
  locked(tS: number): void;
  /** the mount goes no further this way */
  endStop(tS: number): void;
  readonly advice: AxisAdvice;
  /** the action of the advice alone, which is asked for after every reading */
  readonly action: AxisAdvice['action'];
  /** levels over position for drawing; positions are degrees, or seconds times the asked speed where only time is known */
  points(): LobePoint[];
}

/** Seconds to sweep once through the beam between its 3 dB points. */
export const sweepSeconds = 6;

/** A first maximum this far under the prediction may be a side lobe: look further before believing it. A little less than what is asked about at the end, which fading may make of it. */
const suspiciousShortfallDb = sideLobeAtLeastDb - 1.5;

/** Whether a level is so far under the prediction that it may come from a side lobe. */
export function isSuspicious(levelDbm: number, expectedDbm: number | null): boolean {
  return levelDbm === -Infinity || (expectedDbm !== null && levelDbm < expectedDbm - suspiciousShortfallDb);
}

/** Most starts lie within three beam widths of the peak, nearly all within five; a little more is searched. */
export const searchWidths = { near: 3.4, far: 5.4 } as const;
