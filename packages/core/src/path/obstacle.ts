import type { Position } from '../geodesy/coordinates';
import { solveGeodesic } from '../geodesy/geodesic';
import { earthRadiusM } from '../geodesy/tilt';

export const obstacleKinds = ['trees', 'building', 'vehicle', 'water'] as const;
export type ObstacleKind = (typeof obstacleKinds)[number];

/** Something on the ground that the terrain does not know, as the installer saw it. */
export interface Obstacle {
  id: string;
  name: string;
  kind: ObstacleKind;
  /** a point, or the corners of a line (a row of trees, a wall) or of an area (a wood); empty for water, which is everywhere below its level */
  footprint: Position[];
  /** the corners go round an area, all of which is covered */
  isArea?: boolean;
  /** thickness of the line, or diameter of the point; an area has none */
  widthM: number;
  /** above the ground; for water above the terrain's zero */
  heightM: number;
  growthMPerYear: number;
  measuredYear: number;
  confidence: 'measured' | 'estimated';
}

/** The stretch of a path that an obstacle covers. */
export interface Stretch {
  fromM: number;
  toM: number;
}

/**
 * Where an obstacle lies on the path from near to far. A line covers the hull of all stretches in which some part of it, as wide as it is, covers the path; an area may be
 * crossed several times. @returns none when it stands beside the path
 */
export function stretchesOnPath(obstacle: Obstacle, near: Position, far: Position): Stretch[] {
  const line = solveGeodesic(near, far);
  const corners = obstacle.footprint.map((position) => alongAndAcross(near, position, line.azimuthDeg));
  const stretches = obstacle.isArea ? areaOnAxis(corners) : lineOnAxis(corners, obstacle);
  return stretches.flatMap(({ fromM, toM }) => {
    const within = { fromM: Math.max(0, fromM), toM: Math.min(line.distanceM, toM) };
    return within.fromM < within.toM ? [within] : [];
  });
}

/** The stretches of the axis within a polygon, by the even-odd rule: between each two of its crossings. */
function areaOnAxis(corners: readonly PlanePoint[]): Stretch[] {
  const crossings: number[] = [];
  corners.forEach((a, i) => {
    const b = corners[(i + 1) % corners.length] ?? a;
    // A corner on the axis counts once: with the edge that goes up from it.
    if (a.y >= 0 !== b.y >= 0) crossings.push(a.x + ((b.x - a.x) * a.y) / (a.y - b.y));
  });
  crossings.sort((a, b) => a - b);
  return crossings.flatMap((fromM, i) => (i % 2 === 0 ? [{ fromM, toM: crossings[i + 1] ?? fromM }] : []));
}

function lineOnAxis(corners: readonly PlanePoint[], obstacle: Obstacle): Stretch[] {
  const radius = obstacle.widthM / 2;
  let fromM = Infinity;
  let toM = -Infinity;
  corners.forEach((a, i) => {
    const covered = capsuleOnAxis(a, corners[i + 1] ?? a, radius);
    if (!covered) return;
    fromM = Math.min(fromM, covered.fromM);
    toM = Math.max(toM, covered.toM);
  });
  return fromM < toM ? [{ fromM, toM }] : [];
}

interface PlanePoint {
  x: number;
  y: number;
}

/** Distance along the path and to its right: spherical right triangle on the geodesic's own distance and azimuth, good to 0.3 % of the offset. */
function alongAndAcross(near: Position, position: Position, pathAzimuthDeg: number): PlanePoint {
  const { distanceM, azimuthDeg } = solveGeodesic(near, position);
  const arc = distanceM / earthRadiusM;
  const angle = ((azimuthDeg - pathAzimuthDeg) * Math.PI) / 180;
  return {
    x: earthRadiusM * Math.atan2(Math.sin(arc) * Math.cos(angle), Math.cos(arc)),
    y: earthRadiusM * Math.asin(Math.sin(arc) * Math.sin(angle)),
  };
}

/** The part of the axis y = 0 within a radius of the segment from a to b. It is one interval, for the shape is convex. */
function capsuleOnAxis(a: PlanePoint, b: PlanePoint, radius: number): Stretch | null {
  const crossings: number[] = [];
  for (const { x, y } of [a, b]) {
    const half = radius ** 2 - y ** 2;
    if (half >= 0) crossings.push(x - Math.sqrt(half), x + Math.sqrt(half));
  }
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  if (length > 0) {
    const [ux, uy] = [(b.x - a.x) / length, (b.y - a.y) / length];
    for (const side of [-radius, radius]) {
      // The long sides of the capsule: a + t u + side n, where they cross the axis.
      const t = uy === 0 ? NaN : -(a.y + side * ux) / uy;
      if (t >= 0 && t <= length) crossings.push(a.x + t * ux - side * uy);
    }
  }
  return crossings.length ? { fromM: Math.min(...crossings), toM: Math.max(...crossings) } : null;
}
