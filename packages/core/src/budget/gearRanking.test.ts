import { describe, expect, it } from 'vitest';
import { planWithGear, rankGear } from './gearRanking';
import { predictLink } from './prediction';
import { endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';
import type { Model } from '../gear/model';

const named = (id: string, changes: Partial<Model> = {}): Model => modelOf({ id, name: id, poeWatts: 8, ...changes });
const money = (amount: number) => ({ price: { amount, currency: 'TSC' } });
const need = { nearToFarMbps: 40, farToNearMbps: 20, othersLoad: 0 };
const far = (km: number) => endOf(km * oneKmDeg, { role: 'station', mountHeightM: 40 });
const over = (km: number, changes = {}) =>
  planOf({ near: endOf(0, { mountHeightM: 40 }), far: far(km), need, ...changes });

describe('which gear', () => {
  it('under 1 km a small antenna is enough, and it is the cheaper one (common practice: under 16 dBi)', () => {
    const small = named('small', { antennaGainDbi: 13, ...money(40) });
    const dish = named('dish', { antennaGainDbi: 27, ...money(150) });
    const [first, second] = rankGear(over(0.9), [dish, small], { wantedDb: 10 });
    expect(first).toMatchObject({ model: small, ruledOut: null, price: { amount: 80 }, watts: 16 });
    expect(second).toMatchObject({ model: dish, ruledOut: null });
    // and over ten kilometres it is not
    const [best, worst] = rankGear(over(14), [small, dish], { wantedDb: 10 });
    expect(best?.model).toBe(dish);
    expect(worst?.ruledOut).toMatchObject({ why: expect.stringMatching(/margin|need/) as string });
  });

  it('says what rules a model out and by how much', () => {
    const licensed = named('narrow', { band: 'licensed', phy: 'NB', lowestMHz: 430, highestMHz: 470 });
    const abroad = named('abroad', { lowestMHz: 5360, highestMHz: 5460 });
    const slow = named('slow', { ethernetMbps: 10 });
    const deaf = named('deaf', { antennaGainDbi: 2, sensitivities: [{ mcs: 0, widthMHz: 20, rslDbm: -60 }] });
    const out = new Map(
      rankGear(over(5), [licensed, abroad, slow, deaf], { wantedDb: 10 }).map((o) => [o.model.id, o.ruledOut]),
    );
    expect(out.get('narrow')?.why).toBe('band');
    expect(out.get('abroad')?.why).toBe('law');
    expect(out.get('slow')).toMatchObject({ why: 'need', words: '31 Mbit/s short' });
    expect(out.get('deaf')?.why).toBe('level');
    const close = rankGear(over(0.01), [named('loud', { leastConductedDbm: 10, antennaGainDbi: 25 })], {
      wantedDb: 10,
    })[0];
    expect(close?.ruledOut?.words).toMatch(/a receiver hears \d+\.\d dB too much here/);
  });

  it('of a hub changes one station: the air and the access point stay', () => {
    const plan = over(1, { air: { kind: 'hub', centreMHz: 5745, widthMHz: 20 } });
    const narrow = named('narrow', { widthsMHz: [40], ...money(1) });
    const small = named('small', { antennaGainDbi: 13, ...money(40) });
    const [first, second] = rankGear(plan, [narrow, small], { wantedDb: 10, onlyEnd: 'far' });
    expect(first).toMatchObject({ model: small, price: { amount: 40 }, watts: 8, ruledOut: null });
    expect(first?.powerDbm?.near).toBe(plan.near.conductedDbm);
    expect(first?.channel).toEqual({ centreMHz: 5745, widthMHz: 20 });
    expect(second?.ruledOut).toMatchObject({ why: 'band' });
    const deafened = named('deafened', { antennaGainDbi: 34 });
    const near = over(0.05, { air: { kind: 'hub', centreMHz: 5745, widthMHz: 20 } });
    const [only] = rankGear(near, [deafened], { wantedDb: 10, onlyEnd: 'far' });
    expect(only?.ruledOut).toMatchObject({ why: 'overload' });
    const changed = planWithGear(plan, first ?? fail(), 'far');
    expect(changed?.near).toBe(plan.near);
    expect(predictLink(changed ?? plan).need?.fadeDb).toBeCloseTo(first?.fadeDb ?? NaN, 9);
  });

  it('is what a prediction of the plan with that gear says', () => {
    const plan = over(3);
    for (const option of rankGear(plan, [named('a'), named('b', { antennaGainDbi: 30 })], { wantedDb: 10 })) {
      const withGear = planWithGear(plan, option);
      const prediction = predictLink(withGear ?? plan);
      expect(prediction.need?.fadeDb).toBeCloseTo(option.fadeDb, 9);
      expect(prediction.nearToFar.aloneMbps).toBeCloseTo(option.aloneMbps, 9);
    }
  });

  it('takes the narrowest width that does the job', () => {
    const sensitivities = [20, 40, 80].flatMap((widthMHz) =>
      [-82, -79, -77, -74, -70, -66, -65, -64].map((rslDbm, mcs) => ({
        mcs,
        widthMHz,
        rslDbm: rslDbm + 10 * Math.log10(widthMHz / 20),
      })),
    );
    const wide = named('wide', { widthsMHz: [20, 40, 80], sensitivities });
    const width = (nearToFarMbps: number) =>
      rankGear(over(1, { need: { ...need, nearToFarMbps } }), [wide], { wantedDb: 10 })[0]?.channel?.widthMHz;
    expect(width(20)).toBe(20);
    expect(width(300)).toBe(80);
  });

  it('never promises more than the law: every option stays under the limit with its antenna', () => {
    for (const option of rankGear(over(3), [named('a'), named('b', { antennaGainDbi: 30 })], { wantedDb: 10 })) {
      const { model, powerDbm } = option;
      expect((powerDbm?.near ?? NaN) + model.antennaGainDbi).toBeLessThanOrEqual(36.01);
    }
  });
});

function fail(): never {
  throw new Error('nothing was ranked');
}
