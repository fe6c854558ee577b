/**
 * Loss off the peak of a main lobe: 12 (offset / beam width)^2 dB, ITU-R F.1336-5 recommends 2.1 and 3.1, where the beam width is the
 * full width between the 3 dB points. Good to about 10 dB down; side lobes are not in it.
 */
export function mainLobeLossDb(offsetDeg: number, beamWidthDeg: number): number {
  return 12 * (offsetDeg / beamWidthDeg) ** 2;
}

/**
 * Loss off the peak of an evenly lit aperture, down to about 10 dB: power series of the square (sinc^2) and the round (Airy) pattern,
 * which agree within 0.2 dB there. Steeper on the flanks than the parabola, which matters where only a flank is seen.
 * @param u offset over beam width
 */
export function apertureLossDb(u: number): number {
  // Products, for a fit asks this for every point in every round, and powers cost several times as much.
  const square = u * u;
  return 11.3 * square + 2.7 * square * square;
}

/** Slope of apertureLossDb by u. */
export function apertureSlopeDb(u: number): number {
  return 22.6 * u + 10.8 * u * u * u;
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
