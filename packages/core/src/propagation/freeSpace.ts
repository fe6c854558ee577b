import { requireRange } from './range';

/** Speed of light in vacuum. */
export const lightSpeedMPerS = 299_792_458;

/**
 * Free-space basic transmission loss between isotropic antennas, ITU-R P.525-4 equation (3): 20 log(4 pi d / lambda).
 * @throws RangeError for no frequency, and nearer than a wavelength, where antennas have no far field and the formula would promise a gain
 */
export function freeSpaceLossDb(distanceM: number, frequencyMHz: number): number {
  requireRange('A frequency', frequencyMHz, 0.001, 1e7, 'MHz');
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  requireRange('A distance in free space', distanceM, Number(wavelengthM.toPrecision(3)), Infinity, 'm (a wavelength)');
  return 20 * Math.log10((4 * Math.PI * distanceM) / wavelengthM);
}
