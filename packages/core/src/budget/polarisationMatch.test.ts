import { describe, expect, it } from 'vitest';
import { endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';
import type { Polarisation } from '../path/polarisation';
import { judgeRadio } from '../verdict/steps';
import { perChainDbm } from './hop';
import { streamsOf } from './polarisationMatch';
import { predictLink, type LinkPrediction } from './prediction';

const over = (near: Polarisation, far: Polarisation, crossPolarDb?: number): LinkPrediction => {
  const model = modelOf({ crossPolarDb });
  return predictLink(
    planOf({
      near: endOf(0, { polarisation: near, model }),
      far: endOf(oneKmDeg, { polarisation: far, role: 'station' }),
    }),
  );
};
const verdict = (prediction: LinkPrediction) =>
  judgeRadio({ prediction, need: { nearToFar: 1, farToNear: 1 }, shared: null, fade: null, licence: null });
const alike = over('vertical', 'vertical');

describe('antennas that do not swing alike', () => {
  it('lose what the spec sheet says where they are crossed, and 20 dB where it says nothing, both ways', () => {
    for (const [crossPolarDb, lossDb] of [
      [undefined, 20],
      [15, 15],
      [30, 20],
    ] as const) {
      const crossed = over('vertical', 'horizontal', crossPolarDb);
      for (const end of ['near', 'far'] as const) {
        const line = crossed[end].ledger.find((l) => l.key === 'polarisation');
        expect(line?.value).toBeCloseTo(-lossDb, 9);
        expect(line?.source).toBe(crossPolarDb ? 'spec sheet' : 'common practice, no source');
        // What the ground takes of each way differs by nothing here, but is of the worse where they differ.
        expect(crossed[end].marginDb).toBeCloseTo(alike[end].marginDb - lossDb, 1);
      }
    }
  });

  it('fail the plan, however much margin is left', () => {
    const crossed = over('horizontal', 'vertical');
    expect(crossed.near.marginDb).toBeGreaterThan(10);
    expect(verdict(crossed)).toEqual({
      state: 'fails',
      because: 'polarisation crossed: one end vertical, the other horizontal',
    });
    expect(verdict(alike).state).toBe('holds');
  });

  it('lose half of the power and all streams but one where one of them swings both ways', () => {
    const [both, half] = [over('dual', 'dual'), over('dual', 'horizontal')];
    for (const end of ['near', 'far'] as const) {
      expect(half[end].rslDbm).toBeCloseTo(both[end].rslDbm - 3.01, 2);
      expect(half[end].fastest?.phyRateMbps).toBeCloseTo((both[end].fastest?.phyRateMbps ?? NaN) / 2, 6);
    }
    expect(verdict(half)).toMatchObject({
      state: 'thin',
      because: expect.stringContaining('one polarisation against'),
    });
  });

  it('carry one stream where both have a single way', () => {
    expect(alike.near.fastest?.phyRateMbps).toBeCloseTo((over('dual', 'dual').near.fastest?.phyRateMbps ?? NaN) / 2, 6);
    expect(alike.near.ledger.some((l) => l.key === 'polarisation')).toBe(false);
  });

  it('send by as many chains as they have ways', () => {
    expect(perChainDbm(20, streamsOf(endOf(0)))).toBeCloseTo(16.99, 2);
    expect(perChainDbm(20, streamsOf(endOf(0, { polarisation: 'vertical' })))).toBe(20);
  });
});

describe('radios with different numbers of streams', () => {
  it('meet on what both have', () => {
    const one = modelOf({ streams: 1 });
    const mixed = predictLink(planOf({ far: endOf(oneKmDeg, { model: one, role: 'station' }) }));
    const ones = predictLink(
      planOf({ near: endOf(0, { model: one }), far: endOf(oneKmDeg, { model: one, role: 'station' }) }),
    );
    expect(mixed.near.fastest).toEqual(ones.near.fastest);
    expect(mixed.far.ladder).toHaveLength(ones.far.ladder.length);
  });
});
