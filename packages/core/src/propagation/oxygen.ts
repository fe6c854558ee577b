/**
 * Specific attenuation of dry air at sea level (1013 hPa, 15 degrees Celsius) up to 63 GHz.
 * ITU-R P.676-3 Annex 2 equations (22a) and (22b), from memory; checked against "about 15 dB/km at 60 GHz". The simplified
 * formulas stay within about 15 % of the line-by-line sum. Water vapour, under 0.2 dB/km here, is left out.
 * @throws RangeError above 63 GHz
 */
export function oxygenLossDbPerKm(frequencyMHz: number): number {
  const f = frequencyMHz / 1000;
  if (f > 63) throw new RangeError(`${f} GHz: the oxygen formula ends at 63 GHz`);
  const below = (g: number): number => (7.27 / (g ** 2 + 0.351) + 7.5 / ((g - 57) ** 2 + 2.44)) * g ** 2 * 1e-3;
  if (f <= 57) return below(f);
  const at63 = (2e-4 * (1 - 1.2e-5 * 63 ** 1.5) + 4 / 1.5 + 0.28 / ((63 - 118.75) ** 2 + 2.84)) * 63 ** 2 * 1e-3;
  return ((f - 60) * (f - 63) * below(57)) / 18 - 1.66 * (f - 57) * (f - 63) + ((f - 57) * (f - 60) * at63) / 18;
}
