import type { End } from '../budget/plan';

/** How many readings of the analyser are averaged (common practice, no source). */
export const averageCounts = [2, 4] as const;

/** A signal generator with an antenna at one end, a spectrum analyser with one at the other. */
export interface InstrumentSetup {
  generatorAt: End;
  frequencyMHz: number;
  generatorDbm: number;
  generatorCableDb: number;
  generatorGainDbi: number;
  analyserGainDbi: number;
  analyserCableDb: number;
  spanMHz: number;
  /** the band whose power is read as the level */
  bandMHz: number;
  averages: (typeof averageCounts)[number];
  /** noise that the analyser shows of itself, dBm in one hertz */
  analyserNoiseDbmPerHz: number;
  /** what its input bears */
  analyserMostDbm: number;
}

/** What a setup begins with: a band of 4 MHz and four readings are common practice, no source; so are the analyser's noise and what it bears. */
export function usualSetup(frequencyMHz: number, gainDbi: number): InstrumentSetup {
  return {
    generatorAt: 'far',
    frequencyMHz,
    generatorDbm: 10,
    generatorCableDb: 1,
    generatorGainDbi: gainDbi,
    analyserGainDbi: gainDbi,
    analyserCableDb: 1,
    spanMHz: 5,
    bandMHz: 4,
    averages: 4,
    analyserNoiseDbmPerHz: -150,
    analyserMostDbm: 20,
  };
}

/** What cannot be about a setup, in words, each with the mend. */
export function faultsOf({ spanMHz, bandMHz }: InstrumentSetup): string[] {
  return spanMHz < bandMHz
    ? [`A span of ${spanMHz} MHz does not hold the band of ${bandMHz} MHz: widen the span, or narrow the band.`]
    : [];
}
