import { AimGuide } from '@kivram/core/aiming/aimGuide';
import { describe, expect, it } from 'vitest';
import { Random } from '../src/random';
import { AimWorld, usualConditions, type WorldEnd } from '../src/world/aimWorld';

/** So far a typist turns before looking at the scale again, degrees; the way back goes in single steps. */
const stepDeg = 0.5;
const turning = ['search', 'rising', 'past', 'turnBack', 'comeBack', 'moved', 'nextRow'];

const end: WorldEnd = {
  antenna: 'taperedDish',
  beam: { azimuthDeg: 9, elevationDeg: 9 },
  startAzimuthDeg: 3,
  startTiltDeg: 0,
  playDeg: 0.5,
  alignedDbm: -60,
  floorDbm: -92,
  chains: 2,
};

/**
 * Somebody who turns a little, taps the notches that passed, reads a level off the radio's page and types it, on and on, sometimes soon and sometimes late.
 * @param slower how many times longer everything takes
 * @returns how far beside the peak the first axis was left, degrees; null where it was not done
 */
function typeAndTurn(seed: number, slower = 1): number | null {
  const random = new Random(seed * 13 + 5);
  const world = new AimWorld(end, { ...end, startAzimuthDeg: 0, playDeg: 0 }, usualConditions, seed);
  const aim = { beam: end.beam, expectedDbm: -60, source: 'scale' as const, notchDeg: { azimuth: 1, tilt: 1 } };
  const guide = new AimGuide({ near: aim, far: aim, order: 'endByEnd', ends: ['near'] });
  let tS = 0;
  let typedDbm: number | null = null;
  const wait = (seconds: number): void => {
    for (let i = 0; i < Math.round(slower * seconds * 10); i++) {
      tS += 0.1;
      world.step(0.1);
      guide.push({ ...world.read('near'), rslDbm: typedDbm, chainsDbm: [], phoneAzimuthDeg: null, tS, isRepeat: true });
    }
  };
  const notch = (): number => Math.floor(world.scaleDeg('near', 'azimuth'));
  const slowness = (): number => 1 + 3 * random.uniform() ** 2;
  for (let round = 0; round < 400; round++) {
    if (guide.step?.axis !== 'azimuth') return Math.abs(world.offsetDeg('near', 'azimuth'));
    const { action, direction } = guide.advice;
    const turns = !turning.includes(action) ? 0 : action === 'comeBack' ? 1 : 2;
    for (let turn = 0; turn < turns; turn++) {
      const before = notch();
      world.turn('near', 'azimuth', direction * stepDeg);
      wait(0.15 * slowness());
      for (let passed = Math.abs(notch() - before); passed > 0; passed--) {
        guide.mark({ kind: 'notch', tS, direction });
        wait(0.2 * slowness());
      }
    }
    if (action === 'lock') {
      world.tighten('near', 'azimuth');
      wait(0.2 * slowness());
      guide.mark({ kind: 'locked', tS });
    }
    wait(0.2 * slowness());
    const shown = world.read('near');
    typedDbm = shown.rslDbm;
    tS += 0.1;
    world.step(0.1);
    guide.push({ ...shown, chainsDbm: [], phoneAzimuthDeg: null, tS });
    wait(0.75);
  }
  return null;
}

describe('whoever turns in steps and types the levels', () => {
  it('ends on the peak, and the scale is believed although single levels say otherwise', () => {
    for (let seed = 24; seed < 40; seed++) expect(typeAndTurn(seed), `seed ${seed}`).toBeLessThan(2);
  });

  it('also where a helper reads the levels out, one every dozen seconds: what was met minutes ago is not forgotten', () => {
    for (const seed of [33, 93, 116, 149]) expect(typeAndTurn(seed, 8), `seed ${seed}`).toBeLessThan(2);
  });
});
