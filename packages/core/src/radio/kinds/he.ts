import type { RadioKind } from './kind';
import { bitsPerOfdmSymbol, contention, ofdmExchange, ofdmSensitivityDbm, ofdmStepName, stepsUpTo } from './ofdm';

/** Data subcarriers of the full-band resource unit by channel width: IEEE 802.11ax-2021 clause 27. */
const subcarriers: Partial<Record<number, number>> = { 20: 234, 40: 468, 80: 980, 160: 1960 };

/** A symbol without its guard interval, microseconds. */
const symbolUs = 12.8;
const guardsUs = [0.8, 1.6, 3.2];

/** 802.11ax. */
export const he: RadioKind = {
  phy: 'HE',
  words: '802.11ax',
  steps: stepsUpTo(11),
  stepName: ofdmStepName,
  guardsUs,
  rateMbps: (mcs, widthMHz, streams, _errorCorrection, guardUs = guardsUs[0] ?? 0) => {
    const tones = subcarriers[widthMHz];
    const bits = tones ? bitsPerOfdmSymbol(mcs, tones) : undefined;
    return bits && streams >= 1 ? (bits * streams) / (symbolUs + guardUs) : undefined;
  },
  minimumSensitivityDbm: ofdmSensitivityDbm,
  access: contention(ofdmExchange, 256), // IEEE 802.11ax-2021 26.4
};
