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
}

/** A guide along one axis of one mount: takes samples, says what to do. */
export interface AxisGuide {
  push(sample: AimSample): void;
  notch(tS: number, direction: Turning): void;
  locked(tS: number): void;
  readonly advice: AxisAdvice;
  /** levels over position for drawing; positions are degrees, or seconds times the asked speed where only time is known */
  points(): LobePoint[];
}

/** Seconds to sweep once through the beam between its 3 dB points. */
export const sweepSeconds = 6;

/** Time from hearing "stop" to the hand standing still. */
export const reactionS = 0.3;

/** A first maximum this far under the prediction may be a side lobe: look further before believing it. */
const suspiciousShortfallDb = 8;

/** Whether a level is so far under the prediction that it may come from a side lobe. */
export function isSuspicious(levelDbm: number, expectedDbm: number | null): boolean {
  return levelDbm === -Infinity || (expectedDbm !== null && levelDbm < expectedDbm - suspiciousShortfallDb);
}

/** Starts lie within three beam widths of the peak; a little more is searched. */
export const searchWidths = 3.4;

/** Mean level over the last seconds of samples; null where fewer than half were heard. */
export function recentLevelDbm(samples: readonly AimSample[], seconds: number): number | null {
  const last = samples.at(-1);
  if (!last) return null;
  let sum = 0;
  let heard = 0;
  let count = 0;
  for (let i = samples.length - 1; i >= 0; i--) {
    const sample = samples[i];
    if (!sample || sample.tS < last.tS - seconds) break;
    count++;
    if (sample.rslDbm !== null) {
      sum += sample.rslDbm;
      heard++;
    }
  }
  return heard * 2 >= count && heard > 0 ? sum / heard : null;
}
