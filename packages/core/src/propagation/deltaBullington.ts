import { earthRadiusM } from '../geodesy/tilt';
import { lightSpeedMPerS } from './freeSpace';
import { knifeEdgeLossDb } from './knifeEdge';
import { sphericalEarthLossDb } from './sphericalEarth';

/** A path over terrain: heights above sea level at distances from the near end, both ends included. */
export interface DiffractionPath {
  /** rising from 0 to the length of the path */
  distancesM: readonly number[];
  heightsM: readonly number[];
  nearAntennaAslM: number;
  farAntennaAslM: number;
  frequencyMHz: number;
  k: number;
  seaShare: number;
  /** dual: both waves, and the one that loses more counts */
  polarisation: 'vertical' | 'horizontal' | 'dual';
}

/**
 * Diffraction loss over irregular terrain, ITU-R P.526-15 section 4.5.2 ("delta-Bullington"): Bullington's edge over the real profile, plus
 * what a smooth Earth through the same profile loses beyond the same construction over it.
 */
export function deltaBullingtonLossDb(path: DiffractionPath): number {
  const overTerrainDb = bullingtonLossDb(path);
  const smooth = smoothSurface(path);
  const nearHeightM = path.nearAntennaAslM - smooth.nearM;
  const farHeightM = path.farAntennaAslM - smooth.farM;
  const overSmoothDb = edgeLossDb(path, null, nearHeightM, farHeightM);
  const sphericalDb = (polarisation: 'vertical' | 'horizontal'): number =>
    sphericalEarthLossDb({
      distanceM: lengthM(path.distancesM),
      // An antenna in or under the smooth surface: a decimetre keeps the formula's heights positive.
      nearHeightM: Math.max(0.1, nearHeightM),
      farHeightM: Math.max(0.1, farHeightM),
      frequencyMHz: path.frequencyMHz,
      k: path.k,
      seaShare: path.seaShare,
      polarisation,
    });
  const { polarisation } = path;
  const wavesDb =
    polarisation === 'dual' ? Math.max(sphericalDb('vertical'), sphericalDb('horizontal')) : sphericalDb(polarisation);
  return overTerrainDb + Math.max(0, wavesDb - overSmoothDb);
}

/** Bullington's single equivalent edge, ITU-R P.526-15 section 4.5.1. */
export function bullingtonLossDb(path: DiffractionPath): number {
  return edgeLossDb(path, path.heightsM, path.nearAntennaAslM, path.farAntennaAslM);
}

/** The same over heights of one's own; null: a smooth surface at 0 m. */
function edgeLossDb(
  { distancesM, frequencyMHz, k }: DiffractionPath,
  heightsM: readonly number[] | null,
  near: number,
  far: number,
): number {
  const d = lengthM(distancesM);
  const bend = 1 / (2 * k * earthRadiusM);
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  const slope = (far - near) / d;
  let nearSlope = -Infinity;
  let farSlope = -Infinity;
  // v |v| / zone orders as v does and needs no root, and compared by products no division; this loop is most of what a prediction takes.
  let worst = -Infinity;
  for (let i = 1; i < distancesM.length - 1; i++) {
    const di = distancesM[i] as number;
    const rest = d - di;
    if (di <= 0 || rest <= 0) continue;
    const height = (heightsM ? (heightsM[i] as number) : 0) + bend * di * rest;
    const overM = height - near - slope * di;
    const squared = overM * Math.abs(overM);
    if (squared > worst * di * rest) worst = squared / (di * rest);
    // The horizons matter only where something stands over the sight line, and then they are such points.
    if (overM <= 0) continue;
    nearSlope = Math.max(nearSlope, (height - near) / di);
    farSlope = Math.max(farSlope, (height - far) / rest);
  }
  if (worst === -Infinity) return 0;
  let worstV = Math.sign(worst) * Math.sqrt((Math.abs(worst) * 2 * d) / wavelengthM);
  if (worstV > 0) {
    // Something stands over the sight line (the standard asks nearSlope >= slope, which is the same but for grazing, where both are 0 over 0):
    // the edge is where both horizons' lines meet.
    const di = Math.min(d - 1e-6, Math.max(1e-6, (far - near + farSlope * d) / (nearSlope + farSlope)));
    worstV = (near + nearSlope * di - near - slope * di) * Math.sqrt((2 * d) / (wavelengthM * di * (d - di)));
  }
  const edgeDb = knifeEdgeLossDb(worstV);
  return edgeDb + (1 - Math.exp(-edgeDb / 6)) * (10 + (0.02 * d) / 1000);
}

/** Heights of the smooth surface at both ends, ITU-R P.526-15 section 4.5.2 with Annex: a least-squares line, lowered where obstacles stand over the sight line. */
function smoothSurface(path: DiffractionPath): { nearM: number; farM: number } {
  const { distancesM, heightsM, nearAntennaAslM: near, farAntennaAslM: far } = path;
  const n = distancesM.length;
  const d = lengthM(path.distancesM);
  let v1 = 0;
  let v2 = 0;
  let worstM = 0;
  let nearRise = 0;
  let farRise = 0;
  for (let i = 1; i < n; i++) {
    const d0 = distancesM[i - 1] as number;
    const d1 = distancesM[i] as number;
    const h0 = heightsM[i - 1] as number;
    const h1 = heightsM[i] as number;
    v1 += (d1 - d0) * (h1 + h0);
    v2 += (d1 - d0) * (h1 * (2 * d1 + d0) + h0 * (d1 + 2 * d0));
    if (i === n - 1 || d1 <= 0 || d1 >= d) continue;
    const overM = h1 - (near * (d - d1) + far * d1) / d;
    if (overM <= 0) continue;
    worstM = Math.max(worstM, overM);
    nearRise = Math.max(nearRise, overM / d1);
    farRise = Math.max(farRise, overM / (d - d1));
  }
  let nearM = (2 * v1 * d - v2) / d ** 2;
  let farM = (v2 - v1 * d) / d ** 2;
  if (worstM > 0) {
    const share = nearRise / (nearRise + farRise);
    nearM -= worstM * share;
    farM -= worstM * (1 - share);
  }
  return { nearM: Math.min(nearM, heightsM[0] ?? 0), farM: Math.min(farM, heightsM[n - 1] ?? 0) };
}

function lengthM(distancesM: readonly number[]): number {
  return distancesM[distancesM.length - 1] ?? 0;
}
