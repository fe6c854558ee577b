import type { RadioKind } from './kind';
import {
  bitsPerOfdmSymbol,
  contention,
  ofdmExchange,
  ofdmSensitivityDbm,
  ofdmStepName,
  ofdmSteps,
  stepsUpTo,
} from './ofdm';

/** Data subcarriers by channel width: IEEE 802.11-2020 clause 21. */
const subcarriers: Partial<Record<number, number>> = { 20: 52, 40: 108, 80: 234, 160: 468 };

/** Symbol and short guard interval, microseconds. */
const symbolUs = 3.2 + 0.4;

/** 802.11ac. */
export const vht: RadioKind = {
  phy: 'VHT',
  words: '802.11ac',
  steps: stepsUpTo(9),
  stepName: ofdmStepName,
  rateMbps: (mcs, widthMHz, streams) => {
    const tones = subcarriers[widthMHz];
    const bits = tones && mcs <= 9 ? bitsPerOfdmSymbol(mcs, tones) : undefined;
    if (!tones || !bits || streams < 1 || !allows(mcs, tones, streams)) return undefined;
    return (bits * streams) / symbolUs;
  },
  minimumSensitivityDbm: ofdmSensitivityDbm,
  access: contention(ofdmExchange, 64), // IEEE 802.11-2020 9.3.1.8
};

/**
 * A combination is left out where the coded bits do not share out evenly over the encoders, IEEE 802.11-2020 21.5: each encoder
 * carries up to 540 Mbit/s at the long guard interval, and needs whole blocks of its code rate.
 */
function allows(mcs: number, tones: number, streams: number): boolean {
  const { bitsPerSymbol, codeRate } = ofdmSteps[mcs] ?? { bitsPerSymbol: 0, codeRate: 1 / 2 };
  const codedBits = tones * bitsPerSymbol * streams;
  const encoders = Math.max(1, Math.ceil((codedBits * codeRate) / 4 / 600));
  const denominator = codeRate === 1 / 2 ? 2 : codeRate === 2 / 3 ? 3 : codeRate === 3 / 4 ? 4 : 6;
  return codedBits % (encoders * denominator) === 0;
}
