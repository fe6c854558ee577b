import { earthRadiusM } from '../geodesy/tilt';
import { lightSpeedMPerS } from './freeSpace';

/** Electrical kinds of ground, ITU-R P.527 by way of P.526-15 section 3.1. */
export const groundKinds = {
  land: { permittivity: 22, conductivitySPerM: 0.003 },
  sea: { permittivity: 80, conductivitySPerM: 5 },
} as const;
export type GroundKind = keyof typeof groundKinds;

export interface SphericalEarthPath {
  distanceM: number;
  /** above the smooth surface, more than 0 */
  nearHeightM: number;
  farHeightM: number;
  frequencyMHz: number;
  k: number;
  /** share of the path over the sea, 0 to 1 */
  seaShare: number;
  polarisation: 'vertical' | 'horizontal';
}

/**
 * Diffraction loss over a smooth spherical Earth at any distance, ITU-R P.526-15 section 3.2: the first residue term beyond the horizon,
 * interpolated to zero loss where 60 % of the zone is clear.
 */
export function sphericalEarthLossDb(path: SphericalEarthPath): number {
  const radiusM = path.k * earthRadiusM;
  const { distanceM: d, nearHeightM: h1, farHeightM: h2 } = path;
  const horizonM = Math.sqrt(2 * radiusM) * (Math.sqrt(h1) + Math.sqrt(h2));
  if (d >= horizonM) return firstTermDb(path, radiusM);

  // Section 3.2.1: smallest clearance between the curved Earth and the ray, equations (21) to (25).
  const c = (h1 - h2) / (h1 + h2);
  const m = (d * d) / (4 * radiusM * (h1 + h2));
  const inner = Math.min(1, Math.max(-1, ((3 * c) / 2) * Math.sqrt((3 * m) / (m + 1) ** 3)));
  const b = 2 * Math.sqrt((m + 1) / (3 * m)) * Math.cos(Math.PI / 3 + Math.acos(inner) / 3);
  const d1 = (d / 2) * (1 + b);
  const d2 = d - d1;
  const clearanceM = ((h1 - (d1 * d1) / (2 * radiusM)) * d2 + (h2 - (d2 * d2) / (2 * radiusM)) * d1) / d;
  const wavelengthM = lightSpeedMPerS / (path.frequencyMHz * 1e6);
  const requiredM = 0.552 * Math.sqrt((d1 * d2 * wavelengthM) / d);
  if (clearanceM > requiredM) return 0;

  // The Earth that would just touch the ray, equation (27), then interpolation, equation (28).
  const marginalRadiusM = 0.5 * (d / (Math.sqrt(h1) + Math.sqrt(h2))) ** 2;
  const marginalDb = firstTermDb(path, marginalRadiusM);
  return marginalDb <= 0 ? 0 : (1 - clearanceM / requiredM) * marginalDb;
}

/** The first residue term, mixed by the kinds of ground on the way (ITU-R P.1812-6 section 4.3.2 mixes them so). */
function firstTermDb(path: SphericalEarthPath, radiusM: number): number {
  const over = (kind: GroundKind): number => firstTermOverDb(path, radiusM, kind);
  if (path.seaShare <= 0) return over('land');
  if (path.seaShare >= 1) return over('sea');
  return path.seaShare * over('sea') + (1 - path.seaShare) * over('land');
}

/** ITU-R P.526-15 equations (13) to (18), practical units: km, MHz. */
function firstTermOverDb(
  { distanceM, nearHeightM, farHeightM, frequencyMHz: f, polarisation }: SphericalEarthPath,
  radiusM: number,
  kind: GroundKind,
): number {
  const { permittivity, conductivitySPerM } = groundKinds[kind];
  const radiusKm = radiusM / 1000;
  const losses = (18_000 * conductivitySPerM) / f;
  const horizontal = 0.36 * (radiusKm * f) ** (-1 / 3) * ((permittivity - 1) ** 2 + losses ** 2) ** (-1 / 4);
  const admittance = polarisation === 'vertical' ? horizontal * Math.sqrt(permittivity ** 2 + losses ** 2) : horizontal;
  const k2 = admittance ** 2;
  const beta = (1 + 1.6 * k2 + 0.67 * k2 ** 2) / (1 + 4.5 * k2 + 1.53 * k2 ** 2);
  const x = 2.188 * beta * f ** (1 / 3) * radiusKm ** (-2 / 3) * (distanceM / 1000);
  const distanceTerm = x >= 1.6 ? 11 + 10 * Math.log10(x) - 17.6 * x : -20 * Math.log10(x) - 5.6488 * x ** 1.425;
  const heightGain = (heightM: number): number => {
    const b = beta * 9.575e-3 * beta * f ** (2 / 3) * radiusKm ** (-1 / 3) * heightM;
    const gain = b > 2 ? 17.6 * Math.sqrt(b - 1.1) - 5 * Math.log10(b - 1.1) - 8 : 20 * Math.log10(b + 0.1 * b ** 3);
    return Math.max(gain, 2 + 20 * Math.log10(admittance));
  };
  return -(distanceTerm + heightGain(nearHeightM) + heightGain(farHeightM));
}
