import geodesic from 'geographiclib-geodesic';
import type { Position } from './coordinates';

export interface Geodesic {
  /** along the WGS84 ellipsoid */
  distanceM: number;
  /** at the near end towards the far end, true north, 0 to 360 */
  azimuthDeg: number;
  /** at the far end towards the near end, true north, 0 to 360 */
  reverseAzimuthDeg: number;
}

/**
 * The shortest line on WGS84 between two positions: the inverse problem of Karney, "Algorithms for geodesics",
 * J. Geodesy 87 (2013), by its author's library; error below 15 nm.
 */
export function solveGeodesic(near: Position, far: Position): Geodesic {
  const line = geodesic.Geodesic.WGS84.Inverse(near.latitudeDeg, near.longitudeDeg, far.latitudeDeg, far.longitudeDeg);
  return {
    distanceM: line.s12 ?? NaN,
    azimuthDeg: wrap360(line.azi1 ?? NaN),
    reverseAzimuthDeg: wrap360((line.azi2 ?? NaN) + 180),
  };
}

/** The same angle in [0, 360). */
export function wrap360(angleDeg: number): number {
  return ((angleDeg % 360) + 360) % 360;
}

/** The same angle in [-180, 180). */
export function wrap180(angleDeg: number): number {
  return wrap360(angleDeg + 180) - 180;
}

/** The position a distance away along the geodesic that leaves at an azimuth: Karney's direct problem. */
export function positionAt(from: Position, azimuthDeg: number, distanceM: number): Position {
  const end = geodesic.Geodesic.WGS84.Direct(from.latitudeDeg, from.longitudeDeg, azimuthDeg, distanceM);
  return { latitudeDeg: end.lat2 ?? NaN, longitudeDeg: end.lon2 ?? NaN };
}

/** Positions at equal steps along the geodesic, both ends included. @param count at least 2 */
export function geodesicPositions(near: Position, far: Position, count: number): Position[] {
  const line = geodesic.Geodesic.WGS84.InverseLine(
    near.latitudeDeg,
    near.longitudeDeg,
    far.latitudeDeg,
    far.longitudeDeg,
  );
  const stepM = line.s13 / (count - 1);
  return Array.from({ length: count }, (_, i) => {
    const { lat2, lon2 } = line.Position(i * stepM);
    return { latitudeDeg: lat2 ?? NaN, longitudeDeg: lon2 ?? NaN };
  });
}
