import { lightSpeedMPerS } from './freeSpace';

/** Radius of the n-th Fresnel zone at d1 and d2 from the ends, ITU-R P.526-15 equation (1): sqrt(n lambda d1 d2 / (d1 + d2)). */
export function fresnelRadiusM(d1M: number, d2M: number, frequencyMHz: number, zone = 1): number {
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  return Math.sqrt((zone * wavelengthM * d1M * d2M) / (d1M + d2M));
}
