import { describe, expect, it } from 'vitest';
import { needLoad, predictAir } from './airPrediction';
import { predictLink } from './prediction';
import { outageOf } from './availability';
import type { LinkPlan } from './plan';
import { airOf, endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';

const need = (mbps: number) => ({ nearToFarMbps: mbps, farToNearMbps: 0, othersLoad: 0 });
const station = (km: number, mbps: number) =>
  planOf({ far: endOf(oneKmDeg * km, { role: 'station' }), need: need(mbps) });

describe('all links of one air', () => {
  const alone = predictLink(station(1, 0)).nearToFar.aloneMbps;

  it('take the share of its time that their needs are of what each carries alone', () => {
    const { members, load } = predictAir([station(1, alone / 2), station(1.2, alone / 4)]);
    expect(members[0]?.load).toBeCloseTo(0.5, 9);
    expect(members[1]?.load).toBeCloseTo(0.25, 9);
    expect(load).toBeCloseTo(0.75, 9);
    expect(members.every(({ prediction }) => prediction && prediction.need && prediction.need.fadeDb > 0)).toBe(true);
  });

  it('do not fit when they need more than all of it together, though each would by itself', () => {
    const { members, load } = predictAir([station(1, alone * 0.6), station(1.2, alone * 0.6)]);
    expect(load).toBeGreaterThan(1);
    for (const { prediction } of members) expect(prediction?.need?.fadeDb).toBe(-Infinity);
    expect(predictLink(station(1, alone * 0.6)).need?.fadeDb).toBeGreaterThan(0);
  });

  it('may fade by less the more a neighbour needs', () => {
    const fadeWith = (mbps: number) =>
      predictAir([station(1, alone / 8), station(1, mbps)]).members[0]?.prediction?.need?.fadeDb;
    expect(fadeWith(alone * 0.7)).toBeLessThan(fadeWith(0) as number);
  });

  it('need more of the time in rain, which takes from all of them: the minutes count that, the fade of one alone does not', () => {
    const at60 = (km: number, mbps: number): LinkPlan => {
      const model = modelOf({
        band: '60GHz',
        phy: 'DMG',
        streams: 1,
        widthsMHz: [2160],
        antennaGainDbi: 30,
        ethernetMbps: 10_000,
        sensitivities: [-68, -66, -64, -62, -60, -58, -56, -54].map((rslDbm, i) => ({
          mcs: i + 1,
          widthMHz: 2160,
          rslDbm,
        })),
      });
      return planOf({
        air: airOf({ kind: 'hub', centreMHz: 60_480, widthMHz: 2160 }),
        near: endOf(0, { model }),
        far: endOf(oneKmDeg * km, { model, role: 'station' }),
        climate: { class: 'continental', rainMmPerH: null },
        need: { nearToFarMbps: mbps, farToNearMbps: 0, othersLoad: 0 },
      });
    };
    const alone = predictLink(at60(0.5, 1)).nearToFar.aloneMbps;
    const [own, far] = [at60(0.5, alone * 0.3), at60(0.5, alone * 0.45)];
    const [together] = predictAir([own, far]).members;
    const clearDay = predictLink({
      ...own,
      need: { nearToFarMbps: alone * 0.3, farToNearMbps: 0, othersLoad: 0.45 },
    });
    expect(together?.prediction?.need?.fadeDb).toBe(clearDay.need?.fadeDb);
    expect(together?.prediction?.need?.below.rainMin).toBeGreaterThan(1.2 * (clearDay.need?.below.rainMin ?? NaN));
    expect(together?.prediction?.need?.below.multipathMin).toBe(clearDay.need?.below.multipathMin);
    // Both are alike, so both step down together: the last step on which 0.75 of the clear day's rate still has time for both.
    const rates = clearDay.far.ladder.filter(({ step, marginDb }) => marginDb >= 0 && step.phyRateMbps > 0);
    const fastest = Math.max(...rates.map(({ step }) => step.phyRateMbps));
    const last = rates.filter(({ step }) => 0.75 * (fastest / step.phyRateMbps) < 0.98).map(({ marginDb }) => marginDb);
    expect(together?.prediction?.need?.below.rainMin).toBeCloseTo(
      outageOf(Math.max(...last), clearDay.far.weather).rainMin,
      3,
    );
  });

  it('share nothing where each direction has a frequency of its own', () => {
    const duplex = {
      ...station(1, alone / 2),
      air: airOf({ kind: 'duplex', returnMHz: 5700 }),
    };
    expect(predictAir([duplex, duplex]).load).toBe(0);
  });

  it('go on without one that has no geometry', () => {
    const { members, load } = predictAir([station(1, alone / 2), station(0, alone / 2)]);
    expect(members[1]).toEqual({ prediction: null, load: 0 });
    expect(load).toBeCloseTo(0.5, 9);
  });

  it('count nothing for a direction in which nothing crosses', () => {
    const prediction = predictLink(station(1, 0));
    const silent = { ...prediction, farToNear: { ...prediction.farToNear, aloneMbps: 0 } };
    expect(needLoad(silent, { nearToFarMbps: 0, farToNearMbps: 10 })).toBe(0);
  });
});
