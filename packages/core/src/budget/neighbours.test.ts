import { describe, expect, it } from 'vitest';
import { airOf, endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';
import { judgeRadio } from '../verdict/steps';
import { airsOverlap, disturbanceOf, heardAirs, type HeardAir, type NeighbourLink } from './neighbours';
import type { LinkPlan, RadioPlan } from './plan';
import { predictLink } from './prediction';

/** A second pair from the same mast, to the east where the first one goes north. */
function pairFromSameMast(changes: Partial<NeighbourLink> = {}): NeighbourLink {
  const far = endOf(0, { role: 'station' });
  far.position = { latitudeDeg: 0, longitudeDeg: oneKmDeg };
  return { name: 'East', airId: 'east', air: airOf(), near: endOf(0, { mountHeightM: 12 }), far, ...changes };
}

const heardBy = (plan: LinkPlan, other: NeighbourLink, load = 0.4): HeardAir[] =>
  heardAirs(plan, [other]).map((air) => ({ ...air, load }));

describe('two pairs of one job from one mast on one channel', () => {
  const plan = planOf();
  const prediction = predictLink(plan);

  it('fail together where the time is not enough for both, and say the figures', () => {
    const heard = heardBy(plan, pairFromSameMast(), 0.41);
    const found = disturbanceOf(plan, prediction, 0.69, heard);
    expect(found?.state).toBe('fails');
    expect(found?.words).toMatch(
      /^shares its channel with East, heard at −?-?\d+ dBm: together they need 110 % of the time$/,
    );
    const facts = { prediction, need: { nearToFar: 1, farToNear: 1 }, shared: null, fade: null, licence: null };
    expect(judgeRadio(facts).state).toBe('holds');
    expect(judgeRadio({ ...facts, disturbance: found })).toEqual({ state: 'fails', because: found?.words });
  });

  it('are thin where the time suffices', () => {
    expect(disturbanceOf(plan, prediction, 0.3, heardBy(plan, pairFromSameMast()))).toMatchObject({ state: 'thin' });
  });

  it('say nothing of each other on channels that do not overlap', () => {
    const beside = pairFromSameMast({ air: airOf({ centreMHz: 5780 }) });
    expect(disturbanceOf(plan, prediction, 0.9, heardBy(plan, beside))).toBeUndefined();
    expect(airsOverlap(plan.air, beside.air)).toBe(false);
    expect(airsOverlap(plan.air, airOf({ centreMHz: 5785, widthMHz: 40 }))).toBe(true);
  });

  it('drown each other where one of them does not wait', () => {
    const slots = pairFromSameMast({ air: airOf({ protocol: 'slots' }) });
    const found = disturbanceOf(plan, prediction, 0.1, heardBy(plan, slots, 0.1));
    expect(found).toMatchObject({ state: 'fails', words: expect.stringMatching(/near end hears East.*more than the/) });
  });
});

describe('what is heard of another air', () => {
  it('follows distance and antennas: free space, both off their boresights', () => {
    // Antennas without direction, so that Friis alone gives the level: 16 dBm + 2 x 3 dBi − (32.45 + 20 lg 5800 + 20 lg 1).
    const round = modelOf({ antennaGainDbi: 3, beamWidth: { azimuthDeg: 360, elevationDeg: 360 } });
    const end = (latitudeDeg: number, more: Partial<RadioPlan> = {}): RadioPlan =>
      endOf(latitudeDeg, { model: round, ...more });
    const plan = planOf({ near: end(0), far: end(5 * oneKmDeg) });
    const other: NeighbourLink = { ...pairFromSameMast(), near: end(-oneKmDeg), far: end(-30 * oneKmDeg) };
    const [heard] = heardAirs(plan, [other]);
    expect(heard?.sent[0]?.heardDbm.near).toBeCloseTo(16 + 6 - (32.45 + 20 * Math.log10(5800)), 1);
    expect(heard?.sent[0]?.heardDbm.far).toBeCloseTo(16 + 6 - (32.45 + 20 * Math.log10(5800) + 20 * Math.log10(6)), 1);
  });

  it('is never more than was sent, and nothing in a shaft', () => {
    const plan = planOf();
    const close = pairFromSameMast({ near: endOf(0, { azimuthDeg: 0, tiltDeg: 90 }) });
    for (const { sent } of heardAirs(plan, [close]))
      for (const { heardDbm } of sent) expect(Math.max(heardDbm.near, heardDbm.far)).toBeLessThanOrEqual(16);
    expect(heardAirs({ ...plan, shaft: { leastM: 2, mostM: 20 } }, [close])).toEqual([]);
  });

  it('counts on a licensed pair by the frequency that each radio sends on', () => {
    const duplex = airOf({ kind: 'duplex', centreMHz: 457.5, returnMHz: 467.5, widthMHz: 0.3 });
    const plan = planOf({ air: duplex });
    const prediction = predictLink({ ...planOf() });
    const swapped = pairFromSameMast({ air: { ...duplex, centreMHz: 467.5, returnMHz: 457.5 } });
    // The near end listens on 467.5, on which the swapped one's access radio sends from the same mast.
    expect(disturbanceOf(plan, prediction, 0, heardBy(plan, swapped))?.words).toContain('the near end hears East');
    const same = heardBy(plan, pairFromSameMast({ air: duplex }));
    const found = disturbanceOf(plan, prediction, 0, same);
    const heardAt = (words = ''): number => Number(/at (-?\d+) dBm/.exec(words)?.[1]);
    expect(heardAt(found?.words)).toBeLessThan(
      heardAt(disturbanceOf(plan, prediction, 0, heardBy(plan, swapped))?.words) - 10,
    );
  });
});
