import { describe, expect, it } from 'vitest';
import type { LinkPlan } from './plan';
import { predictLink } from './prediction';
import { checkShaft, rideDistancesM, shaftAdvice } from './shaft';
import { judgeSteps } from '../verdict/steps';
import { modelOf, planOf } from '../../test/plans';

const shaft = (changes: Partial<LinkPlan> = {}) => planOf({ shaft: { leastM: 5, mostM: 40 }, ...changes });

describe('a shaft', () => {
  it('is judged at the far end of the ride, over straight metres, with no ground', () => {
    const p = predictLink(shaft());
    expect(p.distanceM).toBe(40);
    expect(p.path).toBeNull();
    expect(p.near.tiltDeg).toBe(90);
    expect(p.far.tiltDeg).toBe(-90);
    // 32.45 + 20 log 0.04 + 20 log 5800 = 79.76 dB (ITU-R P.525): 16 + 20 - 79.76 + 20.
    expect(p.near.rslDbm).toBeCloseTo(16 + 40 - 79.76, 1);
  });

  it('swings 6 dB for every doubling of the distance on its ride', () => {
    const ride = predictLink(shaft()).ride ?? [];
    expect(ride[0]?.distanceM).toBe(5);
    expect(ride.at(-1)?.distanceM).toBeCloseTo(40, 9);
    expect((ride[0]?.near.rslDbm ?? 0) - (ride.at(-1)?.near.rslDbm ?? 0)).toBeCloseTo(3 * 6.02, 1);
    for (let i = 1; i < ride.length; i++) expect(ride[i]?.far.rslDbm).toBeLessThan(ride[i - 1]?.far.rslDbm ?? 0);
  });

  it('is overloaded when the car comes too near, though the far end of the ride is not', () => {
    const quiet = { ...shaft().near, conductedDbm: 0, model: { ...modelOf(), overloadDbm: -30 } };
    const p = predictLink(shaft({ near: quiet, far: quiet }));
    expect(p.ride?.at(-1)?.near.overloaded).toBe(false);
    expect(p.ride?.[0]?.near.overloaded).toBe(true);
    expect(p.near.overloaded).toBe(true);
  });

  it('does not ask where the ends stand', () => {
    const plan = shaft();
    expect(predictLink({ ...plan, far: { ...plan.far, position: plan.near.position } }).near.rslDbm).toBeLessThan(0);
  });

  it('needs a car that moves', () => {
    expect(() => checkShaft({ leastM: 8, mostM: 8 })).toThrow('as near as 8 m and as far as 8 m');
    expect(() => predictLink(shaft({ shaft: { leastM: 0, mostM: 8 } }))).toThrow(RangeError);
    expect(rideDistancesM({ leastM: 1, mostM: 16 }, 5)).toEqual([1, 2, 4, 8, 16]);
    expect(shaftAdvice[0]).toContain('locked off');
  });

  it('holds as a path and tells its swing', () => {
    const [path] = judgeSteps({
      practice: false,
      prediction: predictLink(shaft()),
      predictionError: null,
      need: { nearToFar: 1, farToNear: 1 },
      fade: null,
      licence: null,
      shared: null,
      findings: [],
      sheetsExist: false,
      pairing: null,
      mounted: { near: null, far: null },
      alignment: null,
      accessEnd: 'near',
      tests: { nearToFar: null, farToNear: null },
      basis: {},
    });
    expect(path).toMatchObject({ state: 'holds', because: 'a shaft; the level swings 18 dB over the ride' });
  });
});

describe('terrain in a prediction', () => {
  const groundM = Array.from({ length: 201 }, (_, i) => (i === 100 ? 30 : 0));
  const over = (plan: LinkPlan) =>
    predictLink({ ...plan, terrain: { profile: { distanceM: 1000, groundM }, obstacles: [], year: 2026 } });

  it('stands in the ledger of both ends and takes its loss from the level', () => {
    const clear = predictLink(planOf());
    const blocked = over(planOf());
    for (const end of ['near', 'far'] as const) {
      const line = blocked[end].ledger.find((l) => l.key === 'diffraction');
      expect(line?.value).toBeLessThan(-20);
      expect(blocked[end].rslDbm).toBeCloseTo(clear[end].rslDbm + (line?.value ?? 0), 9);
    }
    expect(clear.near.ledger.find((l) => l.key === 'diffraction')?.value).toBeCloseTo(0, 9);
  });
});
