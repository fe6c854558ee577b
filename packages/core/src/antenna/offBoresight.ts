import type { BeamWidth } from './mainLobe';

/** Parameters of typical antennas in ITU-R F.1336-5, recommends 3.1.1 (peak side lobes). From memory. */
const kHorizontal = 0.7;
const kAround = 0.7;

/**
 * Loss of an antenna towards a direction off its boresight, dB, as ITU-R F.1336-5 recommends 3.1.1 draws the horizontal pattern of a sector
 * antenna, used on both planes: a parabola down to 3 dB, then a slower fall, then a floor behind. From memory. An antenna of 360 degrees loses nothing
 * on that plane.
 * @param azimuthOffDeg -180 to 180
 * @param elevationOffDeg -180 to 180
 */
export function offBoresightLossDb(beam: BeamWidth, azimuthOffDeg: number, elevationOffDeg: number): number {
  const loss = planeLossDb(azimuthOffDeg, beam.azimuthDeg) + planeLossDb(elevationOffDeg, beam.elevationDeg);
  return Math.min(loss, floorDb(beam));
}

function planeLossDb(offDeg: number, beamWidthDeg: number): number {
  if (beamWidthDeg >= 360) return 0;
  const x = Math.abs(offDeg) / beamWidthDeg;
  if (x <= 0.5) return 12 * x ** 2;
  const lambda = 3 * (1 - 0.5 ** -kHorizontal);
  return 12 * x ** (2 - kHorizontal) + lambda;
}

/** The level behind, relative to the boresight: F.1336-5 recommends 3.1.1, G180, with the elevation beam. */
function floorDb({ elevationDeg }: BeamWidth): number {
  return Math.max(6, 12 - 10 * Math.log10(1 + 8 * kAround) + 15 * Math.log10(180 / Math.min(180, elevationDeg)));
}
