import type { RadioKind } from './kind';
import { bitsPerOfdmSymbol, contention, ofdmExchange, ofdmSensitivityDbm, ofdmStepName, stepsUpTo } from './ofdm';

/** Data subcarriers by channel width: IEEE 802.11-2020 clause 19. */
const subcarriers: Partial<Record<number, number>> = { 20: 52, 40: 108 };

/** A symbol without its guard interval, microseconds. */
const symbolUs = 3.2;
const guardsUs = [0.4, 0.8];

/** 802.11n. Steps here are per stream (0 to 7); the standard's 8 to 15 are the same steps with two streams. */
export const ht: RadioKind = {
  phy: 'HT',
  words: '802.11n',
  steps: stepsUpTo(7),
  stepName: ofdmStepName,
  guardsUs,
  rateMbps: (mcs, widthMHz, streams, _errorCorrection, guardUs = guardsUs[0] ?? 0) => {
    const tones = subcarriers[widthMHz];
    const bits = tones && mcs <= 7 ? bitsPerOfdmSymbol(mcs, tones) : undefined;
    return bits && streams >= 1 ? (bits * streams) / (symbolUs + guardUs) : undefined;
  },
  minimumSensitivityDbm: ofdmSensitivityDbm,
  access: contention(ofdmExchange, 64), // IEEE 802.11-2020 9.3.1.8
};
