import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { LinkPlan } from './plan';
import { capsOf, choosePower } from './power';
import { predictLink } from './prediction';
import { endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';

const need = { nearToFarMbps: 40, farToNearMbps: 20, othersLoad: 0 };
const withPower = (plan: LinkPlan, nearDbm: number, farDbm: number): LinkPlan => ({
  ...plan,
  near: { ...plan.near, conductedDbm: nearDbm },
  far: { ...plan.far, conductedDbm: farDbm },
});

describe('the power to set', () => {
  it('meets the need with the margin asked for, and half a decibel less at either end does not', () => {
    const plan = planOf({ need });
    const choice = choosePower(plan, 10);
    expect(choice.enough).toBe(true);
    const fade = (near: number, far: number) =>
      predictLink(withPower(plan, choice.near.conductedDbm + near, choice.far.conductedDbm + far)).need?.fadeDb ?? NaN;
    expect(fade(0, 0)).toBeGreaterThanOrEqual(10);
    for (const [near, far] of [
      [-0.5, 0],
      [0, -0.5],
    ] as const)
      if (choice.near.conductedDbm + near >= 0 && choice.far.conductedDbm + far >= 0)
        expect(fade(near, far), `${near} ${far}`).toBeLessThan(10);
  });

  it('of a radio that others share is what the link needs that hears it worst, and no more than the nearest bears', () => {
    const from = (km: number): LinkPlan => planOf({ need, far: endOf(oneKmDeg * km, { role: 'station' }) });
    const sharer = (name: string, km: number) =>
      ({ name, plan: from(km), wantedDb: 10, end: 'near', theirEnd: 'near' }) as const;
    const [alone, worst] = [choosePower(from(1), 10), choosePower(from(2.5), 10)];
    expect(worst.near.conductedDbm).toBeGreaterThan(alone.near.conductedDbm);
    const both = choosePower(from(1), 10, [sharer('barn', 2.5), sharer('shed', 1.5)]);
    expect(both.near).toMatchObject({ conductedDbm: worst.near.conductedDbm, askedBy: 'barn', boundBy: null });
    // What the hub sends more the station may send less, or as much.
    expect(both.far.conductedDbm).toBeLessThanOrEqual(alone.far.conductedDbm);
    expect(both.enough).toBe(true);
    for (const km of [1, 2.5])
      expect(choosePower(from(2.5), 10, [sharer('shed', km)]).near).toMatchObject({
        conductedDbm: worst.near.conductedDbm,
        askedBy: null,
      });
    const close = choosePower(from(1), 10, [sharer('gate', 0.01)]);
    expect(close.near).toMatchObject({ bound: 'sharer', boundBy: 'gate', mostDbm: close.near.bounds.sharer });
    expect(close.near.mostDbm).toBeCloseTo(choosePower(from(0.01), 10).near.bounds.overload, 9);
  });

  it('says what bounds it: the law with the gain taken off, the model, or the other receiver', () => {
    // 23 dBm EIRP at 5180 MHz in Testland, 20 dBi: 3 dBm are left
    expect(capsOf(planOf({ air: { centreMHz: 5180 } })).near).toMatchObject({ bound: 'law', mostDbm: 3 });
    const weak = modelOf({ mostConductedDbm: 12 });
    expect(capsOf(planOf({ near: endOf(0, { model: weak }) })).near).toMatchObject({ bound: 'model', mostDbm: 12 });
    const close = planOf({ near: endOf(0), far: endOf(oneKmDeg / 50, { role: 'station' }) });
    const { near } = capsOf(close);
    expect(near.bound).toBe('overload');
    const heard = predictLink(withPower(close, near.mostDbm, near.mostDbm)).far.rslDbm;
    expect(heard).toBeCloseTo(close.far.model.overloadDbm - 3, 6);
  });

  it('is the most that is allowed where the need cannot be met, and says so', () => {
    const far = endOf(80 * oneKmDeg, { role: 'station', mountHeightM: 200 });
    const choice = choosePower(planOf({ need, near: endOf(0, { mountHeightM: 200 }), far }), 10);
    expect(choice.enough).toBe(false);
    expect(choice.near.conductedDbm).toBeCloseTo(16, 6);
  });

  it('in a shaft heeds the closest point of the ride, though the farthest decides what is needed', () => {
    const shaft = { leastM: 5, mostM: 60 };
    const small = { model: modelOf({ antennaGainDbi: 8 }) };
    const plan = planOf({ need, shaft, near: endOf(0, small), far: endOf(oneKmDeg, { ...small, role: 'station' }) });
    const { near, far } = choosePower(plan, 10);
    const ride = predictLink(withPower(plan, near.conductedDbm, far.conductedDbm)).ride ?? [];
    expect(Math.max(...ride.map((p) => p.far.rslDbm))).toBeLessThanOrEqual(plan.far.model.overloadDbm);
    // With dishes even the least is too much, and that is said.
    expect(capsOf(planOf({ shaft })).near.mostDbm).toBeLessThan(0);
  });

  it('never falls when more is needed or more margin is asked for', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 12, noNaN: true }),
        fc.double({ min: 1, max: 60, noNaN: true }),
        fc.integer({ min: 0, max: 15 }),
        (km, mbps, margin) => {
          const at = (needMbps: number, wantedDb: number) => {
            const far = endOf(km * oneKmDeg, { role: 'station', mountHeightM: 40 });
            const plan = planOf({ near: endOf(0, { mountHeightM: 40 }), far });
            const choice = choosePower({ ...plan, need: { ...need, nearToFarMbps: needMbps } }, wantedDb);
            return choice.near.conductedDbm + choice.far.conductedDbm;
          };
          expect(at(mbps, margin + 3)).toBeGreaterThanOrEqual(at(mbps, margin) - 0.5);
        },
      ),
      { numRuns: 40 },
    );
  });
});
