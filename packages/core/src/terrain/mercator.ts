import type { Position } from '../geodesy/coordinates';

/** Equatorial radius of WGS84, the sphere of the map's projection (EPSG:3857). */
const radiusM = 6_378_137;
const eccentricitySquared = 0.00669437999014;

/** Spherical web Mercator (EPSG:3857), in which maps are drawn. x east, y north, in projected metres. */
export function toMercator({ latitudeDeg, longitudeDeg }: Position): { x: number; y: number } {
  const latitude = (latitudeDeg * Math.PI) / 180;
  return {
    x: (radiusM * longitudeDeg * Math.PI) / 180,
    y: radiusM * Math.log(Math.tan(Math.PI / 4 + latitude / 2)),
  };
}

export function fromMercator(x: number, y: number): Position {
  return {
    latitudeDeg: ((2 * Math.atan(Math.exp(y / radiusM)) - Math.PI / 2) * 180) / Math.PI,
    longitudeDeg: ((x / radiusM) * 180) / Math.PI,
  };
}

/**
 * Metres on the ground for one projected metre, eastwards and northwards. They differ by up to 0.7 %, for the projection treats the ellipsoid
 * as a sphere.
 */
export function mercatorScale(latitudeDeg: number): { east: number; north: number } {
  const latitude = (latitudeDeg * Math.PI) / 180;
  const w = 1 - eccentricitySquared * Math.sin(latitude) ** 2;
  const primeVerticalM = radiusM / Math.sqrt(w);
  const meridionalM = (radiusM * (1 - eccentricitySquared)) / w ** 1.5;
  return {
    east: (primeVerticalM * Math.cos(latitude)) / radiusM,
    north: (meridionalM * Math.cos(latitude)) / radiusM,
  };
}

/** Index of the cell of a Mercator window in which a position lies; null outside. */
export function cellAround(
  window: { west: number; north: number; cell: number; columns: number; rows: number },
  position: Position,
): number | null {
  const { x, y } = toMercator(position);
  const column = Math.round((x - window.west) / window.cell);
  const row = Math.round((window.north - y) / window.cell);
  if (column < 0 || row < 0 || column >= window.columns || row >= window.rows) return null;
  return row * window.columns + column;
}
