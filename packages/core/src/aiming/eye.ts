import { mainLobeLossDb, type BeamWidth } from '../antenna/mainLobe';

/** How well a person sights along an antenna at a place they can see: about 2 degrees (common practice, no source). */
export const sightingErrorDeg = 2;

/** Beyond this a place on a coast or a roof is hard to make out by eye (common practice, no source). */
export const sightRangeM = 1500;

/** A radio sits beside the point one sights at: this far off (common practice, no source). */
const sightingOffsetM = 0.5;

export interface EyeAim {
  errorDeg: number;
  /** what that error costs at this end, both axes together */
  lossDb: number;
  enough: boolean;
}

/** Whether aiming by eye alone is enough at one end: the likely loss is under half a decibel and the far place can be seen. */
export function aimByEye(beam: BeamWidth, distanceM: number): EyeAim {
  const offsetDeg = (Math.atan2(sightingOffsetM, distanceM) * 180) / Math.PI;
  const errorDeg = Math.hypot(sightingErrorDeg, offsetDeg);
  const lossDb = mainLobeLossDb(errorDeg, beam.azimuthDeg) + mainLobeLossDb(errorDeg, beam.elevationDeg);
  return { errorDeg, lossDb, enough: lossDb <= 0.5 && distanceM <= sightRangeM };
}
