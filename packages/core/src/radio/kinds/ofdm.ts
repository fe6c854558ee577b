import type { Access } from './kind';

/** One step of modulation and coding. */
interface Step {
  name: string;
  bitsPerSymbol: number;
  codeRate: number;
}

const step = (name: string, bitsPerSymbol: number, codeRate: number): Step => ({ name, bitsPerSymbol, codeRate });

/** Steps 0 to 11, per stream: IEEE 802.11-2020 tables 21-30 ff. (0 to 9) and 802.11ax-2021 tables 27-55 ff. */
export const ofdmSteps: readonly Step[] = [
  step('BPSK 1/2', 1, 1 / 2),
  step('QPSK 1/2', 2, 1 / 2),
  step('QPSK 3/4', 2, 3 / 4),
  step('16-QAM 1/2', 4, 1 / 2),
  step('16-QAM 3/4', 4, 3 / 4),
  step('64-QAM 2/3', 6, 2 / 3),
  step('64-QAM 3/4', 6, 3 / 4),
  step('64-QAM 5/6', 6, 5 / 6),
  step('256-QAM 3/4', 8, 3 / 4),
  step('256-QAM 5/6', 8, 5 / 6),
  step('1024-QAM 3/4', 10, 3 / 4),
  step('1024-QAM 5/6', 10, 5 / 6),
];

export const stepsUpTo = (last: number): number[] => Array.from({ length: last + 1 }, (_, mcs) => mcs);

export const ofdmStepName = (mcs: number): string => `MCS ${mcs}, ${ofdmSteps[mcs]?.name ?? 'not defined'}`;

/** Data bits of one symbol of one stream: subcarriers x bits x code rate. */
export function bitsPerOfdmSymbol(mcs: number, subcarriers: number): number | undefined {
  const { bitsPerSymbol, codeRate } = ofdmSteps[mcs] ?? { bitsPerSymbol: NaN, codeRate: NaN };
  const bits = subcarriers * bitsPerSymbol * codeRate;
  return Number.isNaN(bits) ? undefined : bits;
}

/**
 * Minimum receiver sensitivities at 20 MHz, steps 0 to 11, dBm: IEEE 802.11-2020 tables 19-23 and 21-25, 802.11ax-2021 table 27-51.
 * From memory. 3 dB more for twice the width.
 */
const sensitivitiesDbm = [-82, -79, -77, -74, -70, -66, -65, -64, -59, -57, -54, -52];

export function ofdmSensitivityDbm(mcs: number, widthMHz: number): number {
  return (sensitivitiesDbm[mcs] ?? Infinity) + 10 * Math.log10(widthMHz / 20);
}

/** A frame on air: packet, link header 8, QoS header and check 30, encryption 16, aggregation delimiter and padding 6. */
const frameBytes = 8 + 30 + 16 + 6;
export const airBytesPerPacket = 1500 + frameBytes;

/** One TCP acknowledgement for every two segments (RFC 5681), 52 bytes in a frame of its own inside the aggregate. */
export const airBytesPerAck = (52 + frameBytes) / 2;

/** Times of one frame exchange, microseconds. */
export interface Exchange {
  longestDataUs: number;
  preambleUs: number;
  sifsUs: number;
  blockAckUs: number;
  arbitrationUs: number;
  meanBackoffUs: number;
}

/** IEEE 802.11-2020 clause 21: 5 GHz OFDM. */
export const ofdmExchange: Exchange = {
  longestDataUs: 5484,
  preambleUs: 48,
  sifsUs: 16,
  blockAckUs: 32,
  arbitrationUs: 43,
  meanBackoffUs: 67.5,
};

/** Contention, preamble, one full aggregate, block acknowledgement: how 802.11 takes turns. */
export function contention(exchange: Exchange, framesPerBlockAck: number): Access {
  const { arbitrationUs, meanBackoffUs, preambleUs, sifsUs, blockAckUs } = exchange;
  const overheadUs = arbitrationUs + meanBackoffUs + preambleUs + sifsUs + blockAckUs;
  return {
    fullDuplex: false,
    bytesPerPacket: airBytesPerPacket,
    bytesPerAck: airBytesPerAck,
    dataShare: (rateMbps) => {
      const dataUs = Math.min(exchange.longestDataUs, (framesPerBlockAck * airBytesPerPacket * 8) / rateMbps);
      return dataUs / (dataUs + overheadUs);
    },
    source: 'frame exchange, IEEE 802.11',
  };
}
