import type { Position } from '../geodesy/coordinates';
import { geodesicPositions, solveGeodesic } from '../geodesy/geodesic';

/** Ground heights at equal steps along the geodesic from near to far, both ends included. */
export interface TerrainProfile {
  distanceM: number;
  /** above sea level; null where no terrain is known */
  groundM: (number | null)[];
}

/** How finely a profile is sampled: about two samples a cell, within limits. */
export function profilePositions(
  near: Position,
  far: Position,
  cellM: number,
): { distanceM: number; positions: Position[] } {
  const { distanceM } = solveGeodesic(near, far);
  const count = Math.min(2001, Math.max(101, Math.ceil((2 * distanceM) / Math.max(0.5, cellM)) + 1));
  return { distanceM, positions: geodesicPositions(near, far, count) };
}

/** Part of a profile without terrain, 0 to 1. */
export function voidShare({ groundM }: TerrainProfile): number {
  let voids = 0;
  for (const heightM of groundM) if (heightM === null) voids++;
  return voids / groundM.length;
}

/** Heights with the gaps bridged by straight lines between what is known. @returns null when nothing is known */
export function bridgedGroundM({ groundM }: TerrainProfile): readonly number[] | null {
  if (isWhole(groundM)) return groundM;
  const bridged = new Array<number>(groundM.length).fill(0);
  let last = -1;
  for (let i = 0; i < groundM.length; i++) {
    const known = groundM[i];
    if (typeof known !== 'number') continue;
    const from = last < 0 ? known : (bridged[last] as number);
    for (let gap = last + 1; gap < i; gap++) bridged[gap] = from + ((known - from) * (gap - last)) / (i - last);
    bridged[i] = known;
    last = i;
  }
  if (last < 0) return null;
  return bridged.fill(bridged[last] as number, last + 1);
}

function isWhole(groundM: readonly (number | null)[]): groundM is readonly number[] {
  return groundM.length > 0 && !groundM.includes(null);
}
