import { earthBulgeM } from '../geodesy/tilt';
import { fresnelRadiusM } from '../propagation/fresnel';

/** The usual target: this share of the first zone's radius free of everything (common practice; ITU-R P.530 section 2.2.2 builds on it). */
export const targetZoneShare = 0.6;

/** How a sight line passes over one point. */
export interface Clearance {
  distanceM: number;
  /** the sight line above sea level there */
  sightM: number;
  /** how much the Earth bulges there */
  bulgeM: number;
  /** radius of the first Fresnel zone there */
  zoneM: number;
  /** from the surface, with bulge, up to the sight line; negative when it sticks through */
  clearanceM: number;
  /** of the zone's radius */
  zoneShare: number;
}

export interface SightLine {
  distanceM: number;
  nearAntennaAslM: number;
  farAntennaAslM: number;
  frequencyMHz: number;
  k: number;
}

/** How a sight line passes over a surface at a distance from the near end, the ends themselves excluded. */
export function clearanceAt(line: SightLine, distanceM: number, surfaceM: number): Clearance {
  const rest = line.distanceM - distanceM;
  const sightM = (line.nearAntennaAslM * rest + line.farAntennaAslM * distanceM) / line.distanceM;
  const bulgeM = earthBulgeM(distanceM, rest, line.k);
  const zoneM = fresnelRadiusM(distanceM, rest, line.frequencyMHz);
  const clearanceM = sightM - surfaceM - bulgeM;
  return { distanceM, sightM, bulgeM, zoneM, clearanceM, zoneShare: clearanceM / zoneM };
}

/** Index of the point with the least share of the zone, which matters most. Distances are inside the path. */
export function worstIndex(line: SightLine, distancesM: readonly number[], surfaceM: readonly number[]): number {
  let worst = -1;
  let least = Infinity;
  // The zone's share is h / sqrt(lambda d1 d2 / d); neither its constant parts nor a square with its sign change which is least.
  const slope = (line.farAntennaAslM - line.nearAntennaAslM) / line.distanceM;
  const bend = earthBulgeM(1, 1, line.k);
  for (let i = 0; i < distancesM.length; i++) {
    const d = distancesM[i] as number;
    const product = d * (line.distanceM - d);
    if (product <= 0) continue;
    const clearanceM = line.nearAntennaAslM + slope * d - (surfaceM[i] as number) - bend * product;
    const squared = clearanceM * Math.abs(clearanceM);
    if (squared < least * product) {
      least = squared / product;
      worst = i;
    }
  }
  return worst;
}
