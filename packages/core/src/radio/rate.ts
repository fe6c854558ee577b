import { dmgRatesMbps, modulations, type Phy } from './modulation';

/** Data subcarriers per channel width: IEEE 802.11-2020 clauses 19 and 21, 802.11ax-2021 clause 27 (full-band resource unit). */
const dataSubcarriers: Record<'HT' | 'VHT' | 'HE', Partial<Record<number, number>>> = {
  HT: { 20: 52, 40: 108 },
  VHT: { 20: 52, 40: 108, 80: 234, 160: 468 },
  HE: { 20: 234, 40: 468, 80: 980, 160: 1960 },
};

/** Symbol and shortest guard time, microseconds. */
const symbolUs = { HT: 3.2 + 0.4, VHT: 3.2 + 0.4, HE: 12.8 + 0.8 };

const lastMcs = { HT: 7, VHT: 9, HE: 11, DMG: 12 };

/** Largest MCS index a PHY defines (per stream). */
export function highestMcs(phy: Phy): number {
  return lastMcs[phy];
}

/**
 * Rate on air of one MCS at the short guard interval, Mbit/s: streams x subcarriers x bits x code rate / symbol time.
 * HT indices here are per stream (0 to 7); the standard's 8 to 15 are the same steps with two streams.
 * @returns undefined where the standard defines no such combination (VHT leaves out those whose coded bits do not divide evenly)
 */
export function phyRateMbps(phy: Phy, mcs: number, widthMHz: number, streams: number): number | undefined {
  if (phy === 'DMG') return widthMHz === 2160 ? dmgRatesMbps[mcs - 1] : undefined;
  const subcarriers = dataSubcarriers[phy][widthMHz];
  const modulation = modulations[mcs];
  if (!subcarriers || !modulation || mcs > lastMcs[phy] || streams < 1) return undefined;
  if (phy === 'VHT' && !vhtAllows(subcarriers * modulation.bitsPerSymbol * streams, modulation.codeRate))
    return undefined;
  return (subcarriers * modulation.bitsPerSymbol * modulation.codeRate * streams) / symbolUs[phy];
}

/**
 * VHT excludes a combination where the coded bits do not share out evenly over the encoders, IEEE 802.11-2020 21.5: each
 * encoder carries up to 540 Mbit/s at the long guard interval, and needs whole blocks of its code rate.
 */
function vhtAllows(codedBits: number, codeRate: number): boolean {
  const encoders = Math.max(1, Math.ceil((codedBits * codeRate) / 4 / 600));
  const denominator = codeRate === 1 / 2 ? 2 : codeRate === 2 / 3 ? 3 : codeRate === 3 / 4 ? 4 : 6;
  return codedBits % (encoders * denominator) === 0;
}
