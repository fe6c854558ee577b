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
 * Distance in front of an antenna beyond which the far-field power density stays under a limit: sqrt(EIRP / (4 pi S)).
 * Far-field formula: it overstates the density close to a large dish, so it errs to the safe side.
 */
export function keepOutDistanceM(eirpDbm: number, limitWPerM2: number): number {
  const eirpW = 10 ** ((eirpDbm - 30) / 10);
  return Math.sqrt(eirpW / (4 * Math.PI * limitWPerM2));
}
