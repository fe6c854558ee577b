import { describe, expect, it } from 'vitest';
import { phyRateMbps } from '.';

describe('rates on air, IEEE 802.11', () => {
  it.each([
    ['HT', 7, 40, 2, 300], // MCS 15 in the standard's count, 802.11-2020 clause 19
    ['HT', 7, 20, 1, 72.2],
    ['VHT', 9, 80, 1, 433.3], // clause 21
    ['VHT', 9, 80, 2, 866.7],
    ['VHT', 8, 20, 1, 86.7],
    ['VHT', 9, 160, 2, 1733.3],
    ['HE', 11, 80, 2, 1201], // 802.11ax-2021 clause 27, 0.8 us
    ['HE', 11, 20, 1, 143.4],
    ['DMG', 12, 2160, 1, 4620], // 802.11-2020 clause 20
  ] as const)('%s MCS %i, %i MHz, %i streams: %f Mbit/s', (phy, mcs, width, streams, rate) => {
    expect(phyRateMbps(phy, mcs, width, streams)).toBeCloseTo(rate, rate > 1000 ? 0 : 1);
  });

  it.each([1, 2, 4])('has no VHT MCS 9 at 20 MHz with %i streams, but has it with 3', (streams) => {
    expect(phyRateMbps('VHT', 9, 20, streams)).toBeUndefined();
    expect(phyRateMbps('VHT', 9, 20, 3)).toBeCloseTo(288.9, 1);
  });

  it('has no VHT MCS 6 at 80 MHz with 3 streams (802.11-2020 table 21-40)', () => {
    expect(phyRateMbps('VHT', 6, 80, 3)).toBeUndefined();
  });

  it('knows no width that the layer has not got', () => {
    expect(phyRateMbps('HT', 7, 80, 2)).toBeUndefined();
    expect(phyRateMbps('DMG', 1, 80, 1)).toBeUndefined();
    expect(phyRateMbps('VHT', 10, 80, 1)).toBeUndefined();
  });
});
