/** The physical layers that gear may have: 802.11n, ac, ax, the 60 GHz layer, and licensed narrowband. */
export const phys = ['HT', 'VHT', 'HE', 'DMG', 'NB'] as const;
export type Phy = (typeof phys)[number];

/** How packets get their turn on a channel. */
export interface Access {
  /** both directions at once, each on a frequency of its own */
  fullDuplex: boolean;
  /** what a packet of 1500 bytes occupies on air, bytes */
  bytesPerPacket: number;
  /** what a TCP acknowledgement occupies, bytes */
  bytesPerAck: number;
  /** Share of the time that carries data bits in a loaded direction, 0 to 1. */
  dataShare(rateMbps: number): number;
  /** where the figures come from */
  source: string;
}

/** One kind of radio: its steps with their rates and sensitivities, and its access to the channel. */
export interface RadioKind {
  phy: Phy;
  words: string;
  /** indices of its steps, slowest first */
  steps: readonly number[];
  /** What an installer calls a step: its index where the standard numbers them, and its modulation. */
  stepName(mcs: number): string;
  /** guard intervals between symbols, shortest first, microseconds; none where the layer has no such choice */
  guardsUs: readonly number[];
  /**
   * Rate on air, Mbit/s.
   * @param guardUs the shortest, which radios take in the open, unless another is said
   * @returns undefined where the standard defines no such combination
   */
  rateMbps(
    mcs: number,
    widthMHz: number,
    streams: number,
    errorCorrection: boolean,
    guardUs?: number,
  ): number | undefined;
  /** The level at which any radio of this kind must still decode a step, dBm; good radios do better. */
  minimumSensitivityDbm(mcs: number, widthMHz: number, errorCorrection: boolean): number;
  access: Access;
}
