import type { RadioKind } from './kind';
import { bitsPerOfdmSymbol, contention, ofdmExchange, ofdmSensitivityDbm, ofdmStepName, stepsUpTo } from './ofdm';

/** Data subcarriers by channel width: IEEE 802.11-2020 clause 21. */
const subcarriers: Partial<Record<number, number>> = { 20: 52, 40: 108, 80: 234, 160: 468 };

/** A symbol without its guard interval, microseconds. */
const symbolUs = 3.2;
const guardsUs = [0.4, 0.8];

/** 802.11ac. */
export const vht: RadioKind = {
  phy: 'VHT',
  words: '802.11ac',
  steps: stepsUpTo(9),
  stepName: ofdmStepName,
  guardsUs,
  rateMbps: (mcs, widthMHz, streams, _errorCorrection, guardUs = guardsUs[0] ?? 0) => {
    const tones = subcarriers[widthMHz];
    const bits = tones && mcs <= 9 ? bitsPerOfdmSymbol(mcs, tones) : undefined;
    if (!tones || !bits || streams < 1 || streams > 8 || !allows(mcs, widthMHz, streams)) return undefined;
    return (bits * streams) / (symbolUs + guardUs);
  },
  minimumSensitivityDbm: ofdmSensitivityDbm,
  access: contention(ofdmExchange, 64), // IEEE 802.11-2020 9.3.1.8
};

/**
 * What the standard leaves out, because the coded bits do not share out evenly over the encoders: IEEE 802.11-2020 21.5, tables 21-30 to 21-61,
 * from memory. By width, as MCS and streams.
 */
const leftOut: Partial<Record<number, readonly (readonly [mcs: number, streams: number])[]>> = {
  20: [1, 2, 4, 5, 7, 8].map((streams) => [9, streams] as const),
  80: [
    [6, 3],
    [6, 7],
    [9, 6],
  ],
  160: [[9, 3]],
};

function allows(mcs: number, widthMHz: number, streams: number): boolean {
  return !leftOut[widthMHz]?.some(([step, of]) => step === mcs && of === streams);
}
