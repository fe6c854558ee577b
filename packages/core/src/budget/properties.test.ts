import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { perChainDbm } from './hop';
import type { LinkPlan } from './plan';
import { predictLink } from './prediction';
import { endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';

/** A radio with every width, sensitivities of IEEE 802.11-2020 clause 21 (from memory) and 3 dB more for twice the width. */
const sensitivities = [20, 40, 80].flatMap((widthMHz) =>
  [-82, -79, -77, -74, -70, -66, -65, -64].map((rslDbm, mcs) => ({
    mcs,
    widthMHz,
    rslDbm: rslDbm + 10 * Math.log10(widthMHz / 20),
  })),
);
const model = modelOf({ widthsMHz: [20, 40, 80], sensitivities });

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

const plans = fc
  .record({
    km: number(0.05, 30),
    heights: fc.tuple(number(2, 80), number(2, 80)),
    powers: fc.tuple(number(0, 25), number(0, 25)),
    gain: number(6, 34),
    rainMmPerH: number(0, 150),
    length: number(0, 40),
    interference: fc.tuple(number(0, 12), number(0, 12)),
    aimOff: number(0, 2),
    need: fc.tuple(number(0, 80), number(0, 80)),
    latitudeDeg: number(-60, 60),
  })
  .map(({ km, heights, powers, gain, rainMmPerH, length, interference, aimOff, need, latitudeDeg }): LinkPlan => {
    const shared = {
      model: { ...model, antennaGainDbi: gain },
      cable: { kind: 'rg213' as const, lengthM: length, connectors: 2 },
      aimOffDeg: aimOff,
    };
    const [near, far] = [0, 1].map((i) => ({
      ...shared,
      mountHeightM: heights[i as 0 | 1],
      conductedDbm: powers[i as 0 | 1],
      interferenceDb: interference[i as 0 | 1],
    }));
    return planOf({
      near: endOf(latitudeDeg, near),
      far: endOf(latitudeDeg + km * oneKmDeg, { ...far, role: 'station' }),
      climate: { class: 'mild', rainMmPerH },
      need: { nearToFarMbps: need[0], farToNearMbps: need[1], othersLoad: 0 },
    });
  });

/** Minutes of a year below each step of what arrives at both ends. */
const below = (plan: LinkPlan): number[] => {
  const { near, far, need } = predictLink(plan);
  return [...near.ladder, ...far.ladder, { below: need?.below }].map((l) => l.below?.totalMin ?? NaN);
};

describe('a prediction, whatever the plan', () => {
  it('more rain never raises availability', () => {
    fc.assert(
      fc.property(plans, number(0, 150), (plan, more) => {
        const rain = plan.climate?.rainMmPerH ?? 0;
        const wetter = below({ ...plan, climate: { class: 'mild', rainMmPerH: rain + more } });
        below(plan).forEach((minutes, i) => expect(wetter[i]).toBeGreaterThanOrEqual(minutes * (1 - 1e-9)));
      }),
      { numRuns: 300 },
    );
  });

  it('more power never lowers a level, nor a wider channel the noise', () => {
    fc.assert(
      fc.property(plans, number(0, 20), fc.constantFrom(40, 80), (plan, moreDb, widthMHz) => {
        const now = predictLink(plan);
        const louder = predictLink({ ...plan, near: { ...plan.near, conductedDbm: plan.near.conductedDbm + moreDb } });
        expect(louder.far.rslDbm).toBeGreaterThanOrEqual(now.far.rslDbm);
        expect(louder.near.rslDbm).toBeCloseTo(now.near.rslDbm, 9);
        const wider = predictLink({ ...plan, air: { ...plan.air, widthMHz } });
        for (const end of ['near', 'far'] as const) expect(wider[end].noiseDbm).toBeGreaterThan(now[end].noiseDbm);
      }),
      { numRuns: 300 },
    );
  });

  it('near and far exchanged give the mirrored result', () => {
    fc.assert(
      fc.property(plans, (plan) => {
        const { nearToFarMbps, farToNearMbps, othersLoad } = plan.need ?? {
          nearToFarMbps: 0,
          farToNearMbps: 0,
          othersLoad: 0,
        };
        const need = { nearToFarMbps: farToNearMbps, farToNearMbps: nearToFarMbps, othersLoad };
        const [here, there] = [predictLink(plan), predictLink({ ...plan, near: plan.far, far: plan.near, need })];
        for (const [end, other] of [
          ['near', 'far'],
          ['far', 'near'],
        ] as const) {
          expect(there[other].rslDbm).toBeCloseTo(here[end].rslDbm, 6);
          expect(there[other].marginDb).toBeCloseTo(here[end].marginDb, 6);
          expect(there[other].eirpDbm).toBeCloseTo(here[end].eirpDbm, 9);
          expect(there[other].step?.mcs).toBe(here[end].step?.mcs);
        }
        expect(there.nearToFar.aloneMbps).toBeCloseTo(here.farToNear.aloneMbps, 6);
        if (here.need && Number.isFinite(here.need.fadeDb)) expect(there.need?.fadeDb).toBeCloseTo(here.need.fadeDb, 6);
      }),
      { numRuns: 300 },
    );
  });

  it('asking for more never leaves more room for a fade', () => {
    fc.assert(
      fc.property(plans, number(0, 60), (plan, more) => {
        const need = plan.need ?? { nearToFarMbps: 0, farToNearMbps: 0, othersLoad: 0 };
        const harder = predictLink({ ...plan, need: { ...need, nearToFarMbps: need.nearToFarMbps + more } });
        expect(harder.need?.fadeDb ?? NaN).toBeLessThanOrEqual(predictLink(plan).need?.fadeDb ?? NaN);
      }),
      { numRuns: 300 },
    );
  });

  it('the level is the sum of its lines, and each line tells what it was computed from without throwing', () => {
    fc.assert(
      fc.property(plans, (plan) => {
        const { ledger, rslDbm } = predictLink(plan).far;
        const sum = ledger.reduce(
          (dbm, line) => (line.kind === 'change' ? dbm + line.value : dbm),
          plan.near.conductedDbm,
        );
        expect(sum).toBeCloseTo(rslDbm, 9);
        for (const term of ledger.flatMap((line) => line.terms?.() ?? []))
          expect(Number.isFinite(term.value)).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});

describe('EIRP', () => {
  it('of two chains: 17 dBm in each are 20 dBm together, and 36 dBm EIRP with 16 dBi (3.01 dB for twice the power)', () => {
    const both = 10 * Math.log10(2 * 10 ** (17 / 10));
    const plan = planOf({ near: endOf(0, { conductedDbm: both, model: modelOf({ antennaGainDbi: 16, streams: 2 }) }) });
    expect(predictLink(plan).near.eirpDbm).toBeCloseTo(36.01, 2);
    expect(perChainDbm(both, 2)).toBeCloseTo(17, 9);
  });
});
