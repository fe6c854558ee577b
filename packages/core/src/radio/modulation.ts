/** One step of modulation and coding. */
export interface Modulation {
  mcs: number;
  name: string;
  bitsPerSymbol: number;
  codeRate: number;
}

const step = (mcs: number, name: string, bitsPerSymbol: number, codeRate: number): Modulation => ({
  mcs,
  name,
  bitsPerSymbol,
  codeRate,
});

/** IEEE 802.11-2020 tables 21-30 ff. (VHT, 0 to 9) and 802.11ax-2021 tables 27-55 ff. (HE, 0 to 11), per stream. */
export const modulations: readonly Modulation[] = [
  step(0, 'BPSK 1/2', 1, 1 / 2),
  step(1, 'QPSK 1/2', 2, 1 / 2),
  step(2, 'QPSK 3/4', 2, 3 / 4),
  step(3, '16-QAM 1/2', 4, 1 / 2),
  step(4, '16-QAM 3/4', 4, 3 / 4),
  step(5, '64-QAM 2/3', 6, 2 / 3),
  step(6, '64-QAM 3/4', 6, 3 / 4),
  step(7, '64-QAM 5/6', 6, 5 / 6),
  step(8, '256-QAM 3/4', 8, 3 / 4),
  step(9, '256-QAM 5/6', 8, 5 / 6),
  step(10, '1024-QAM 3/4', 10, 3 / 4),
  step(11, '1024-QAM 5/6', 10, 5 / 6),
];

/** Single-carrier steps of the 60 GHz PHY, MCS 1 to 12: IEEE 802.11-2020 table 20-19, Mbit/s in 2160 MHz. From memory. */
export const dmgRatesMbps: readonly number[] = [
  385, 770, 962.5, 1155, 1251.25, 1540, 1925, 2310, 2502.5, 3080, 3850, 4620,
];

const dmgNames = ['1/2', '1/2', '5/8', '3/4', '13/16', '1/2', '5/8', '3/4', '13/16', '1/2', '5/8', '3/4'];

/** The modulation of an MCS in words. */
export function modulationName(phy: Phy, mcs: number): string {
  if (phy !== 'DMG') return modulations[mcs]?.name ?? `MCS ${mcs}`;
  const kind = mcs <= 5 ? 'BPSK' : mcs <= 9 ? 'QPSK' : '16-QAM';
  return `${kind} ${dmgNames[mcs - 1] ?? ''}`.trim();
}

/** The physical layers that gear may have: 802.11n, ac, ax and the 60 GHz layer. */
export type Phy = 'HT' | 'VHT' | 'HE' | 'DMG';
export const phys: readonly Phy[] = ['HT', 'VHT', 'HE', 'DMG'];
