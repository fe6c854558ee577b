import { wrap360 } from './geodesic';

/**
 * The middle of the smallest arc that holds all of some bearings: where an antenna for all of them points. NaN for none.
 * @param bearingsDeg 0 to 360
 */
export function middleBearingDeg(bearingsDeg: readonly number[]): number {
  const sorted = bearingsDeg.map(wrap360).sort((a, b) => a - b);
  let widestGapDeg = -1;
  let middleDeg = NaN;
  sorted.forEach((bearing, i) => {
    const before = sorted[i - 1] ?? (sorted.at(-1) ?? NaN) - 360;
    const gapDeg = bearing - before;
    if (gapDeg <= widestGapDeg) return;
    widestGapDeg = gapDeg;
    // The arc begins after the widest gap and goes round to before it.
    middleDeg = wrap360(bearing + (360 - gapDeg) / 2);
  });
  return middleDeg;
}
