import type { Position } from '@kivram/core/geodesy/coordinates';
import { solveGeodesic, wrap180 } from '@kivram/core/geodesy/geodesic';

/** A longitude counted on from another, so that what lies across the antimeridian lies beside it and not round the world. */
export function longitudeBeside(longitudeDeg: number, besideDeg: number): number {
  return besideDeg + wrap180(longitudeDeg - besideDeg);
}

export interface Extent<P> {
  /** from which longitudes are counted */
  centreDeg: number;
  /** south-west and north-east; null where there is nothing */
  corners: [Position, Position] | null;
  /** what lies so far from the others that its position is likely wrong; it is left out of the corners */
  astray: { place: P; distanceM: number }[];
}

/** Places closer than this are never far off; beyond it, those many times farther than most are. */
const nearM = 50_000;
const timesFarther = 8;

/** What a map of some places shows at first: where most of them are, so that one swapped coordinate does not shrink all others to a dot. */
export function extentOf<P extends Position>(places: readonly P[]): Extent<P> {
  const [first] = places;
  if (!first) return { centreDeg: 0, corners: null, astray: [] };
  const beside = places.map((p) => ({ ...p, longitudeDeg: longitudeBeside(p.longitudeDeg, first.longitudeDeg) }));
  const centre = {
    latitudeDeg: median(beside.map((p) => p.latitudeDeg)),
    longitudeDeg: median(beside.map((p) => p.longitudeDeg)),
  };
  const distancesM = places.map((p) => solveGeodesic(centre, p).distanceM);
  const farM = Math.max(nearM, timesFarther * median(distancesM));
  const astray = places.flatMap((place, i) => {
    const distanceM = distancesM[i] ?? 0;
    return distanceM > farM ? [{ place, distanceM }] : [];
  });
  const kept = places
    .filter((_, i) => (distancesM[i] ?? 0) <= farM)
    .map((p) => ({ ...p, longitudeDeg: longitudeBeside(p.longitudeDeg, centre.longitudeDeg) }));
  if (!kept.length) return { centreDeg: centre.longitudeDeg, corners: null, astray };
  const of = (pick: (p: Position) => number) => kept.map(pick);
  const [latitudes, longitudes] = [of((p) => p.latitudeDeg), of((p) => p.longitudeDeg)];
  return {
    centreDeg: centre.longitudeDeg,
    corners: [
      { latitudeDeg: Math.min(...latitudes), longitudeDeg: Math.min(...longitudes) },
      { latitudeDeg: Math.max(...latitudes), longitudeDeg: Math.max(...longitudes) },
    ],
    astray,
  };
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}
