/// <reference path="./bessel.d.ts" />
import bessel from 'bessel';

/** Kinds of aperture the stand-in world knows: a round dish and a square panel, both uniformly lit, and a rod that sends all around. */
export type Aperture = 'dish' | 'panel' | 'rod';

/** Where the far-field power of each aperture has fallen to half, in the argument of its pattern. */
const halfPowerArgument = { dish: 1.616339948, panel: 1.391557378, rod: 1.391557378 };

/** Everything scattered by mast and roof: no direction is quieter than this. */
const scatterDb = 32;

/**
 * Loss towards a direction off boresight: the Airy pattern (2 J1(x)/x)^2 of a round aperture (first side lobe 17.6 dB down), or the product
 * of two sinc^2 of a square one (13.3 dB down), on a floor of scatter. Textbook apertures: Balanis, Antenna Theory, chapter 12.
 */
export function patternLossDb(
  aperture: Aperture,
  offAzimuthDeg: number,
  offTiltDeg: number,
  beam: { azimuthDeg: number; elevationDeg: number },
): number {
  if (aperture === 'rod') offAzimuthDeg = 0;
  const x = 2 * halfPowerArgument[aperture] * (offAzimuthDeg / beam.azimuthDeg);
  const y = 2 * halfPowerArgument[aperture] * (offTiltDeg / beam.elevationDeg);
  const power = aperture === 'dish' ? airy(Math.hypot(x, y)) : sinc2(x) * sinc2(y);
  return -10 * Math.log10(power + 10 ** (-scatterDb / 10));
}

function airy(x: number): number {
  return x < 1e-6 ? 1 : ((2 * bessel.besselj(x, 1)) / x) ** 2;
}

function sinc2(x: number): number {
  return Math.abs(x) < 1e-6 ? 1 : (Math.sin(x) / x) ** 2;
}
