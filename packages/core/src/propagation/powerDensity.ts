/** General-public reference level for whole-body exposure, 2 to 300 GHz, W/m2: ICNIRP 2020, table 5. */
export const publicPowerDensityLimitWPerM2 = 10;

/**
 * Distance in front of an antenna beyond which the far-field power density stays under a limit: sqrt(EIRP / (4 pi S)).
 * Far-field formula: it overstates the density close to a large dish, so it errs to the safe side.
 */
export function keepOutDistanceM(eirpDbm: number, limitWPerM2 = publicPowerDensityLimitWPerM2): number {
  const eirpW = 10 ** ((eirpDbm - 30) / 10);
  return Math.sqrt(eirpW / (4 * Math.PI * limitWPerM2));
}
