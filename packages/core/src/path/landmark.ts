import { solveGeodesic, wrap180, type Position } from '../geodesy';

/** Something that can be seen from a place, and how it lies to a bearing. */
export interface LandmarkSight<T> {
  landmark: T;
  distanceM: number;
  /** from the bearing to the landmark, positive to the right */
  rightDeg: number;
  /** how far beside the line it stands, at its own distance */
  asideM: number;
}

const withinDeg = 1;

/**
 * The nearest landmark within a degree of a bearing, for rough aiming by eye. Those closer than 20 m are of no use: there a step aside changes
 * everything.
 */
export function landmarkOnBearing<T extends Position>(
  from: Position,
  bearingDeg: number,
  landmarks: readonly T[],
): LandmarkSight<T> | null {
  let best: LandmarkSight<T> | null = null;
  for (const landmark of landmarks) {
    const { distanceM, azimuthDeg } = solveGeodesic(from, landmark);
    const rightDeg = wrap180(azimuthDeg - bearingDeg);
    if (distanceM < 20 || Math.abs(rightDeg) > withinDeg) continue;
    if (best && best.distanceM <= distanceM) continue;
    best = { landmark, distanceM, rightDeg, asideM: distanceM * Math.sin((rightDeg * Math.PI) / 180) };
  }
  return best;
}

/** How to aim by a landmark: it lies left, so the bearing is right of it. */
export function landmarkWords({ rightDeg }: Pick<LandmarkSight<Position>, 'rightDeg'>): string {
  const offDeg = Math.abs(rightDeg);
  return offDeg < 0.05 ? 'aim straight at it' : `aim ${offDeg.toFixed(1)}° ${rightDeg < 0 ? 'right' : 'left'} of it`;
}
