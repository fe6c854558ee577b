/** Speed of light in vacuum. */
export const lightSpeedMPerS = 299_792_458;

/** Free-space basic transmission loss between isotropic antennas, ITU-R P.525-4 equation (3): 20 log(4 pi d / lambda). */
export function freeSpaceLossDb(distanceM: number, frequencyMHz: number): number {
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  return 20 * Math.log10((4 * Math.PI * distanceM) / wavelengthM);
}
