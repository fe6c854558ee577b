/**
 * Loss off the peak of a main lobe: 12 (offset / beam width)^2 dB, ITU-R F.1336-5 recommends 2.1 and 3.1, where the beam width is the
 * full width between the 3 dB points. Good to about 10 dB down; side lobes are not in it.
 */
export function mainLobeLossDb(offsetDeg: number, beamWidthDeg: number): number {
  return 12 * (offsetDeg / beamWidthDeg) ** 2;
}

/** The offset at which a main lobe has lost so much: inverse of mainLobeLossDb. */
export function mainLobeOffsetDeg(lossDb: number, beamWidthDeg: number): number {
  return beamWidthDeg * Math.sqrt(lossDb / 12);
}

/** Beam widths of an antenna between its 3 dB points. */
export interface BeamWidth {
  azimuthDeg: number;
  elevationDeg: number;
}
