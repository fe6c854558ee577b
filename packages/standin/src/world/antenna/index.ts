import type { AntennaPattern } from './antennaPattern';
import { bentDish } from './bentDish';
import { blockedDish } from './blockedDish';
import { envelopeDish } from './envelopeDish';
import { evenDish } from './evenDish';
import { evenPanel } from './evenPanel';
import { fourPatches } from './fourPatches';
import { rod } from './rod';
import { taperedDish } from './taperedDish';

/** The antennas that the stand-in world knows. None is the lobe that the aim guide fits. */
export const antennas = {
  evenDish,
  taperedDish,
  blockedDish,
  bentDish,
  envelopeDish,
  evenPanel,
  fourPatches,
  rod,
} satisfies Record<string, AntennaPattern>;
export type Antenna = keyof typeof antennas;

/** Everything scattered by mast and roof: no direction is quieter than this. */
const scatter = 10 ** (-32 / 10);

/** Loss towards a direction off boresight, dB. */
export function patternLossDb(
  antenna: Antenna,
  offAzimuthDeg: number,
  offTiltDeg: number,
  beam: { azimuthDeg: number; elevationDeg: number },
): number {
  const share = antennas[antenna].share(offAzimuthDeg / beam.azimuthDeg, offTiltDeg / beam.elevationDeg);
  return -10 * Math.log10(share + scatter);
}
