import type { RadioKind } from './kind';
import { contention } from './ofdm';

/** Single-carrier steps 1 to 12 in 2160 MHz, IEEE 802.11-2020 tables 20-19 and 20-3. From memory. */
const table: readonly { name: string; mbps: number; sensitivityDbm: number }[] = [
  { name: 'BPSK 1/2', mbps: 385, sensitivityDbm: -68 },
  { name: 'BPSK 1/2', mbps: 770, sensitivityDbm: -66 },
  { name: 'BPSK 5/8', mbps: 962.5, sensitivityDbm: -65 },
  { name: 'BPSK 3/4', mbps: 1155, sensitivityDbm: -64 },
  { name: 'BPSK 13/16', mbps: 1251.25, sensitivityDbm: -62 },
  { name: 'QPSK 1/2', mbps: 1540, sensitivityDbm: -63 },
  { name: 'QPSK 5/8', mbps: 1925, sensitivityDbm: -62 },
  { name: 'QPSK 3/4', mbps: 2310, sensitivityDbm: -61 },
  { name: 'QPSK 13/16', mbps: 2502.5, sensitivityDbm: -59 },
  { name: '16-QAM 1/2', mbps: 3080, sensitivityDbm: -55 },
  { name: '16-QAM 5/8', mbps: 3850, sensitivityDbm: -54 },
  { name: '16-QAM 3/4', mbps: 4620, sensitivityDbm: -53 },
];

/** IEEE 802.11-2020 clause 20, microseconds. */
const exchange = {
  longestDataUs: 2000,
  preambleUs: 4,
  sifsUs: 3,
  blockAckUs: 12,
  arbitrationUs: 13,
  meanBackoffUs: 37.5,
};

/** The 60 GHz layer, single carrier. */
export const dmg: RadioKind = {
  phy: 'DMG',
  words: '60 GHz',
  steps: table.map((_, i) => i + 1),
  stepName: (mcs) => `MCS ${mcs}, ${table[mcs - 1]?.name ?? 'not defined'}`,
  guardsUs: [],
  rateMbps: (mcs, widthMHz) => (widthMHz === 2160 ? table[mcs - 1]?.mbps : undefined),
  minimumSensitivityDbm: (mcs) => table[mcs - 1]?.sensitivityDbm ?? Infinity,
  access: contention(exchange, 64),
};
