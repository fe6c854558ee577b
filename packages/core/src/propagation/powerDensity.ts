import { lightSpeedMPerS } from './freeSpace';
import { requireRange } from './range';

/**
 * Reference level for whole-body exposure of the general public, W/m2: ICNIRP 2020, table 5 (30 MHz to 300 GHz). Local law may ask for less.
 * @throws RangeError outside it: below, the guideline limits field strengths instead
 */
export function publicPowerDensityLimitWPerM2(frequencyMHz: number): number {
  requireRange('A frequency for the keep-out distance', frequencyMHz, 30, 300_000, 'MHz');
  if (frequencyMHz <= 400) return 2;
  return frequencyMHz < 2000 ? frequencyMHz / 200 : 10;
}

/**
 * The limit for the general population in the United States, W/m2: 47 CFR 1.1310(e)(1) table 1, from memory: 0.2 mW/cm2 from 30 to 300 MHz, f/1500 up to
 * 1500 MHz, 1 mW/cm2 above. Its table ends at 100 GHz; taken here as going on up to where the other guideline ends.
 * @throws RangeError outside 30 MHz to 300 GHz
 */
export function fccPowerDensityLimitWPerM2(frequencyMHz: number): number {
  requireRange('A frequency for the keep-out distance', frequencyMHz, 30, 300_000, 'MHz');
  if (frequencyMHz <= 300) return 2;
  return frequencyMHz < 1500 ? frequencyMHz / 150 : 10;
}

/**
 * Distance in front of an antenna beyond which the far-field power density stays under a limit: sqrt(EIRP / (4 pi S)).
 * Far-field formula: it overstates the density close to a large dish, so it errs to the safe side.
 */
export function keepOutDistanceM(eirpDbm: number, limitWPerM2: number): number {
  const eirpW = 10 ** ((eirpDbm - 30) / 10);
  return Math.sqrt(eirpW / (4 * Math.PI * limitWPerM2));
}

/** Share of an aperture that works for its gain, where nothing else is known of it: FCC OET bulletin 65 (1997) assumes 0.5 to 0.75 for dishes. */
const efficiency = 0.55;

/** In front of an antenna the beam does not spread yet: how dense it is there, and up to where. */
export interface NearField {
  /** of a round aperture with the antenna's gain */
  diameterM: number;
  /** the most on the axis in the near field */
  densityWPerM2: number;
  /** up to where it lasts */
  reachM: number;
  /** from where on the beam spreads as in the far field */
  farFromM: number;
}

/**
 * The near field of an aperture, FCC OET bulletin 65 edition 97-01, equations (12) to (16): 16 eta P / (pi D^2) up to D^2 / (4 lambda), far field from
 * 0.6 D^2 / lambda on. From memory.
 */
export function nearFieldOf(eirpDbm: number, gainDbi: number, frequencyMHz: number): NearField {
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  const diameterM = (wavelengthM / Math.PI) * Math.sqrt(10 ** (gainDbi / 10) / efficiency);
  const sentW = 10 ** ((eirpDbm - gainDbi - 30) / 10);
  return {
    diameterM,
    densityWPerM2: (16 * efficiency * sentW) / (Math.PI * diameterM ** 2),
    reachM: diameterM ** 2 / (4 * wavelengthM),
    farFromM: (0.6 * diameterM ** 2) / wavelengthM,
  };
}

/** Where the edge of a keep-out distance lies. */
export type KeepOutWhere = 'near field' | 'transition' | 'far field' | 'nowhere';

/**
 * How far from an antenna the power density on its axis stays over a limit: as the near field where the far field's formula would promise more than there is, falling with
 * the distance in between (OET bulletin 65, equation (17)), else as the far field.
 */
export function keepOutOfBeam(
  eirpDbm: number,
  gainDbi: number,
  frequencyMHz: number,
  limitWPerM2: number,
): { distanceM: number; where: KeepOutWhere } {
  const { densityWPerM2, reachM, farFromM } = nearFieldOf(eirpDbm, gainDbi, frequencyMHz);
  const farM = keepOutDistanceM(eirpDbm, limitWPerM2);
  if (farM >= farFromM) return { distanceM: farM, where: 'far field' };
  if (densityWPerM2 <= limitWPerM2) return { distanceM: 0, where: 'nowhere' };
  const betweenM = (densityWPerM2 * reachM) / limitWPerM2;
  return { distanceM: Math.min(betweenM, farFromM), where: betweenM > reachM ? 'transition' : 'near field' };
}
