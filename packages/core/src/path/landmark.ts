import type { Position } from '../geodesy/coordinates';
import { solveGeodesic, wrap180 } from '../geodesy/geodesic';
import { earthBulgeM } from '../geodesy/tilt';
import { bridgedGroundM, type TerrainProfile } from '../terrain/profile';

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

/** Closer than this a step aside changes everything; farther, a spire or a mast is not told from its neighbours (common practice, no source). */
const usefulM = { least: 20, most: 15_000 };

/** Light bends less than radio: the effective radius by the mean optical refraction of 0.14 (a handbook value of surveying, from memory). */
const opticalK = 1 / (1 - 0.14);

/** A landmark sticks out at least this much above the ground it is noted at (common practice, no source). */
const landmarkTopM = 10;

/** The landmarks within a degree of a bearing, nearest first, for rough aiming by eye. Whether they are seen is asked of the ground between. */
export function landmarksOnBearing<T extends Position>(
  from: Position,
  bearingDeg: number,
  landmarks: readonly T[],
): LandmarkSight<T>[] {
  return landmarks
    .map((landmark) => {
      const { distanceM, azimuthDeg } = solveGeodesic(from, landmark);
      const rightDeg = wrap180(azimuthDeg - bearingDeg);
      return { landmark, distanceM, rightDeg, asideM: distanceM * Math.sin((rightDeg * Math.PI) / 180) };
    })
    .filter(
      ({ distanceM, rightDeg }) =>
        distanceM >= usefulM.least && distanceM <= usefulM.most && Math.abs(rightDeg) <= withinDeg,
    )
    .sort((a, b) => a.distanceM - b.distanceM);
}

/**
 * Whether an eye sees a landmark over the ground between them.
 * @param eyeAslM of the eye at the profile's near end
 * @param groundAslM of the landmark at its far end
 * @returns null where no terrain is known between them
 */
export function landmarkIsSeen(profile: TerrainProfile, eyeAslM: number, groundAslM: number): boolean | null {
  const groundM = bridgedGroundM(profile);
  if (!groundM) return null;
  const topM = groundAslM + landmarkTopM;
  const last = groundM.length - 1;
  return groundM.slice(1, last).every((heightM, i) => {
    const share = (i + 1) / last;
    const bulgeM = earthBulgeM(share * profile.distanceM, (1 - share) * profile.distanceM, opticalK);
    return heightM + bulgeM < eyeAslM + share * (topM - eyeAslM);
  });
}

/** How to aim by a landmark: it lies left, so the bearing is right of it. */
export function landmarkWords({ rightDeg }: Pick<LandmarkSight<Position>, 'rightDeg'>): string {
  const offDeg = Math.abs(rightDeg);
  return offDeg < 0.05 ? 'aim straight at it' : `aim ${offDeg.toFixed(1)}° ${rightDeg < 0 ? 'right' : 'left'} of it`;
}
