import { lightSpeedMPerS } from './freeSpace';

/**
 * Diffraction parameter of a knife edge at d1 and d2 from the ends, ITU-R P.526-15 equation (26): v = h sqrt(2/lambda (1/d1 + 1/d2)).
 * @param heightM of the edge above the sight line, negative below it
 */
export function diffractionParameter(heightM: number, d1M: number, d2M: number, frequencyMHz: number): number {
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  return heightM * Math.sqrt((2 / wavelengthM) * (1 / d1M + 1 / d2M));
}

/** Loss of a single knife edge, ITU-R P.526-15 equation (31); 0 at and below v = -0.78, off by less than 0.1 dB above -0.7. */
export function knifeEdgeLossDb(v: number): number {
  if (v <= -0.78) return 0;
  return 6.9 + 20 * Math.log10(Math.sqrt((v - 0.1) ** 2 + 1) + v - 0.1);
}
