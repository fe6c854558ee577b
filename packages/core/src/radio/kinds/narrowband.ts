import type { Access, RadioKind } from './kind';

/**
 * Steps of a licensed narrowband radio. Symbol rates: a frequency-keyed carrier fills a channel at 0.384 symbols a second per hertz of spacing
 * (9.6 kbit/s in 12.5 kHz with four levels), a filtered QAM carrier at 0.71 (256-QAM in 300 kHz: 1.7 Mbit/s each way): common practice, no source.
 * The signal to noise ratio in the symbol rate for one bit error in a million: non-coherent 2-FSK 10 log(2 ln(5e5)), square QAM by
 * 4/b (1 - 1/sqrt M) Q(sqrt(3 SNR/(M - 1))), Proakis, Digital Communications, 4th ed., eq. 5.4-46 and 5.2-79; 4-FSK with a discriminator
 * common practice, no source.
 */
const table: readonly { name: string; bits: number; symbolsPerHz: number; snrDb: number }[] = [
  { name: '2-FSK', bits: 1, symbolsPerHz: 0.384, snrDb: 14.2 },
  { name: '4-FSK', bits: 2, symbolsPerHz: 0.384, snrDb: 20 },
  { name: 'QPSK', bits: 2, symbolsPerHz: 0.71, snrDb: 13.5 },
  { name: '16-QAM', bits: 4, symbolsPerHz: 0.71, snrDb: 20.4 },
  { name: '64-QAM', bits: 6, symbolsPerHz: 0.71, snrDb: 26.6 },
  { name: '256-QAM', bits: 8, symbolsPerHz: 0.71, snrDb: 32.5 },
];

/** Symbols of the fastest carriers, as a share of the channel spacing. */
export const symbolRateShare = Math.max(...table.map(({ symbolsPerHz }) => symbolsPerHz));

/** Modulations by their steps, slowest first. */
export const narrowbandStepNames: readonly string[] = table.map(({ name }) => name);

/** Channel spacings of licensed narrowband, MHz (ETSI EN 300 113 and EN 302 561 name most of them; from memory). */
export const narrowbandWidthsMHz = [0.00625, 0.0125, 0.025, 0.05, 0.1, 0.15, 0.2, 0.3] as const;

/** Error correction spends a quarter of the bits and gains about 4 dB (common practice, no source). */
const codeRate = 3 / 4;
const codingGainDb = 4;

/** Receiver noise and what a real demodulator loses against theory (common practice, no source). */
const noiseFigureDb = 6;
const implementationDb = 2;

/** A stream of symbols without turns: a packet is framed by 12 bytes, and one symbol in 50 is a pilot (common practice, no source). */
const access: Access = {
  fullDuplex: true,
  bytesPerPacket: 1500 + 14 + 12,
  bytesPerAck: (52 + 14 + 12) / 2,
  dataShare: () => 0.98,
  source: 'continuous symbols, no turns',
};

/** Licensed full-duplex narrowband: 6.25 to 300 kHz, 2-FSK to 256-QAM. */
export const narrowband: RadioKind = {
  phy: 'NB',
  words: 'licensed narrowband',
  steps: table.map((_, i) => i),
  stepName: (mcs) => table[mcs]?.name ?? 'not defined',
  guardsUs: [],
  rateMbps: (mcs, widthMHz, _streams, errorCorrection) => {
    const step = table[mcs];
    if (!step || !narrowbandWidthsMHz.some((w) => Math.abs(w - widthMHz) < 1e-9)) return undefined;
    return step.bits * step.symbolsPerHz * widthMHz * (errorCorrection ? codeRate : 1);
  },
  minimumSensitivityDbm: (mcs, widthMHz, errorCorrection) => {
    const step = table[mcs];
    if (!step) return Infinity;
    const symbolRateHz = step.symbolsPerHz * widthMHz * 1e6;
    const noiseDbm = -174 + 10 * Math.log10(symbolRateHz) + noiseFigureDb;
    return noiseDbm + step.snrDb + implementationDb - (errorCorrection ? codingGainDb : 0);
  },
  access,
};
