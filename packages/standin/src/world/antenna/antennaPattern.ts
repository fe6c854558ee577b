/** How much power an antenna takes from a direction, as a share of what it takes from where it points best, 0 to 1. */
export interface AntennaPattern {
  /**
   * @param azimuthWidths off boresight sideways, in widths between the 3 dB points
   * @param tiltWidths off boresight upwards, in the same
   */
  share(azimuthWidths: number, tiltWidths: number): number;
}
