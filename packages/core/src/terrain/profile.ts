import { geodesicPositions, solveGeodesic, type Position } from '../geodesy';

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
  return groundM.filter((h) => h === null).length / groundM.length;
}

/** Heights with the gaps bridged by straight lines between what is known. @returns null when nothing is known */
export function bridgedGroundM({ groundM }: TerrainProfile): number[] | null {
  const known = groundM.flatMap((h, i) => (h === null ? [] : [i]));
  const first = known[0];
  if (first === undefined) return null;
  let before = first;
  let next = 0;
  return groundM.map((h, i) => {
    if (h !== null) {
      before = i;
      return h;
    }
    while ((known[next] ?? Infinity) < i) next++;
    const after = known[next] ?? before;
    const from = groundM[before] ?? 0;
    const to = groundM[after] ?? 0;
    return after <= before || i < before ? from : from + ((to - from) * (i - before)) / (after - before);
  });
}
