import { describe, expect, it } from 'vitest';
import { accessOf, radioKinds } from '.';
import { phys, type Phy } from './kind';
import { narrowbandWidthsMHz } from './narrowband';

const rateMbps = (phy: Phy, mcs: number, widthMHz: number, streams: number, errorCorrection = false) =>
  radioKinds[phy].rateMbps(mcs, widthMHz, streams, errorCorrection);

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
    expect(rateMbps(phy, mcs, width, streams)).toBeCloseTo(rate, rate > 1000 ? 0 : 1);
  });

  it.each([1, 2, 4])('has no VHT MCS 9 at 20 MHz with %i streams, but has it with 3', (streams) => {
    expect(rateMbps('VHT', 9, 20, streams)).toBeUndefined();
    expect(rateMbps('VHT', 9, 20, 3)).toBeCloseTo(288.9, 1);
  });

  // Counted by hand after 802.11-2020 21.5: one encoder for each 2160 data bits of a symbol, 540 Mbit/s at the long guard interval.
  it.each([
    [6, 80, 3],
    [6, 80, 7],
    [9, 80, 6],
    [9, 160, 3],
  ])('has no VHT MCS %d at %d MHz with %d streams (802.11-2020 tables 21-30 to 21-61)', (mcs, widthMHz, streams) => {
    expect(rateMbps('VHT', mcs, widthMHz, streams)).toBeUndefined();
  });

  it.each([
    [9, 80, 5, 2166.7],
    [9, 80, 7, 3033.3],
    [7, 80, 7, 2275],
    [8, 160, 3, 2340],
    [9, 160, 4, 3466.7],
    [9, 40, 3, 600],
  ])('has VHT MCS %d at %d MHz with %d streams', (mcs, widthMHz, streams, mbps) => {
    expect(rateMbps('VHT', mcs, widthMHz, streams)).toBeCloseTo(mbps, 1);
  });

  // IEEE 802.11-2020 tables 19-27 ff. and 21-30 ff., 802.11ax-2021 tables 27-55 ff.; from memory.
  it.each([
    ['HT', 7, 20, 1, { 0.4: 72.2, 0.8: 65 }],
    ['HT', 7, 40, 2, { 0.4: 300, 0.8: 270 }],
    ['VHT', 8, 20, 1, { 0.4: 86.7, 0.8: 78 }],
    ['VHT', 9, 40, 1, { 0.4: 200, 0.8: 180 }],
    ['VHT', 9, 80, 2, { 0.4: 866.7, 0.8: 780 }],
    ['VHT', 9, 160, 2, { 0.4: 1733.3, 0.8: 1560 }],
    ['HE', 11, 20, 1, { 0.8: 143.4, 1.6: 135.4, 3.2: 121.9 }],
    ['HE', 11, 40, 1, { 0.8: 286.8, 1.6: 270.8, 3.2: 243.8 }],
    ['HE', 11, 80, 1, { 0.8: 600.5, 1.6: 567.1, 3.2: 510.4 }],
    ['HE', 0, 80, 1, { 0.8: 36, 1.6: 34, 3.2: 30.6 }],
    ['HE', 11, 160, 2, { 0.8: 2402, 1.6: 2268.5, 3.2: 2041.7 }],
  ] as const)('%s MCS %i in %i MHz, %i streams, in every guard interval', (phy, mcs, width, streams, rates) => {
    const kind = radioKinds[phy];
    expect(kind.guardsUs.map((guard) => kind.rateMbps(mcs, width, streams, false, guard)?.toFixed(1))).toEqual(
      Object.values(rates).map((rate) => rate.toFixed(1)),
    );
  });

  it('knows no width that the layer does not have', () => {
    expect(rateMbps('HT', 7, 80, 2)).toBeUndefined();
    expect(rateMbps('DMG', 1, 80, 1)).toBeUndefined();
    expect(rateMbps('VHT', 10, 80, 1)).toBeUndefined();
  });
});

describe('every kind of radio', () => {
  it.each(phys)('%s: steps rise in rate as they rise in need, and each has a name', (phy) => {
    const kind = radioKinds[phy];
    const widthMHz = { HT: 40, VHT: 80, HE: 80, DMG: 2160, NB: 0.025 }[phy];
    const steps = kind.steps.map((mcs) => ({
      mbps: kind.rateMbps(mcs, widthMHz, 1, false) ?? NaN,
      dbm: kind.minimumSensitivityDbm(mcs, widthMHz, false),
      name: kind.stepName(mcs),
    }));
    expect(steps.every((s) => s.mbps > 0 && s.dbm < 0 && s.name.length > 3)).toBe(true);
    // Sorted by rate, a faster step never needs less; DMG and narrowband each have one family after another.
    const families =
      phy === 'NB'
        ? [steps.slice(0, 2), steps.slice(2)]
        : phy === 'DMG'
          ? [steps.slice(0, 5), steps.slice(5)]
          : [steps];
    for (const family of families)
      family.slice(1).forEach((step, i) => {
        expect(step.mbps).toBeGreaterThan(family[i]?.mbps ?? Infinity);
        expect(step.dbm).toBeGreaterThan(family[i]?.dbm ?? Infinity);
      });
  });

  it('takes turns by slots where it is told to, and none where both directions run at once', () => {
    expect(accessOf('VHT', 'slots').dataShare(100)).toBe(accessOf('HE', 'slots').dataShare(900));
    expect(accessOf('VHT', '802.11').dataShare(800)).toBeLessThan(accessOf('VHT', '802.11').dataShare(100));
    expect(accessOf('NB', 'slots').fullDuplex).toBe(true);
  });
});

describe('licensed narrowband', () => {
  it('carries up to about 3.4 Mbit/s both ways together at 256-QAM in 300 kHz (common practice, no source)', () => {
    expect(2 * (rateMbps('NB', 5, 0.3, 1) ?? NaN)).toBeCloseTo(3.4, 1);
  });

  it('carries 9.6 kbit/s in 12.5 kHz with four levels (common practice, no source)', () => {
    expect(rateMbps('NB', 1, 0.0125, 1)).toBeCloseTo(0.0096, 6);
  });

  it('trades a quarter of the rate for range when error correction is on', () => {
    const { minimumSensitivityDbm } = radioKinds.NB;
    for (const widthMHz of narrowbandWidthsMHz) {
      expect((rateMbps('NB', 4, widthMHz, 1, true) ?? NaN) / (rateMbps('NB', 4, widthMHz, 1) ?? NaN)).toBeCloseTo(
        0.75,
        9,
      );
      expect(minimumSensitivityDbm(4, widthMHz, true)).toBeLessThan(minimumSensitivityDbm(4, widthMHz, false) - 3);
    }
  });

  it('knows its spacings only', () => {
    expect(rateMbps('NB', 0, 0.02, 1)).toBeUndefined();
    expect(rateMbps('NB', 0, 20, 1)).toBeUndefined();
  });

  /** The complementary error function, Abramowitz and Stegun 7.1.5 as a series: independent of the table under test. */
  const erfc = (x: number): number => {
    let term = x;
    let sum = x;
    for (let n = 1; n < 200; n++) {
      term *= (-x * x) / n;
      sum += term / (2 * n + 1);
    }
    return 1 - (2 / Math.sqrt(Math.PI)) * sum;
  };

  it('needs the signal to noise ratios of theory for one bit error in a million (Proakis, eq. 5.2-79 and 5.4-46)', () => {
    // Level minus noise floor in the symbol rate, less the 2 dB a real receiver loses.
    const snrDb = (mcs: number, symbolsPerHz: number): number =>
      radioKinds.NB.minimumSensitivityDbm(mcs, 0.1, false) - (-174 + 10 * Math.log10(symbolsPerHz * 1e5) + 6) - 2;
    [2, 3, 4, 5].forEach((mcs, i) => {
      const [m, bits] = [4 ** (i + 1), 2 * (i + 1)];
      const snr = 10 ** (snrDb(mcs, 0.71) / 10);
      const errors = (2 / bits) * (1 - 1 / Math.sqrt(m)) * erfc(Math.sqrt((1.5 * snr) / (m - 1)));
      expect(Math.log10(errors), `M = ${m}`).toBeCloseTo(-6, 0);
    });
    expect(0.5 * Math.exp(-(10 ** (snrDb(0, 0.384) / 10)) / 2)).toBeLessThan(1.2e-6);
  });
});
