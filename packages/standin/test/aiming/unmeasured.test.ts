import { AimGuide } from '@kivram/core/aiming/aimGuide';
import { diagnosePeak } from '@kivram/core/aiming/diagnosis';
import type { MountAxis } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import { describe, expect, it } from 'vitest';
import { AimWorld, usualConditions, type WorldEnd } from '../../src/world/aimWorld';

describe('what nobody measured', () => {
  const end = (beamDeg: number): WorldEnd => ({
    antenna: 'evenDish',
    beam: { azimuthDeg: beamDeg, elevationDeg: beamDeg },
    startAzimuthDeg: beamDeg,
    startTiltDeg: 0,
    playDeg: 0,
    alignedDbm: -48,
    floorDbm: -92,
    chains: 2,
  });
  const worldOf = (beamDeg: number, seed: number) =>
    new AimWorld(end(beamDeg), { ...end(beamDeg), startAzimuthDeg: 0 }, usualConditions, seed);
  const guideOf = (beamDeg: number) => {
    const aim = {
      beam: { azimuthDeg: beamDeg, elevationDeg: beamDeg },
      expectedDbm: -48,
      source: 'phone' as const,
      notchDeg: { azimuth: 1, tilt: 1 },
    };
    return new AimGuide({ near: aim, far: aim, order: 'endByEnd' });
  };

  it.each([3, 6, 12])('a %d degree dish that stands still is not diagnosed, however the phone trembles', (beamDeg) => {
    for (let seed = 0; seed < 20; seed++) {
      const world = worldOf(beamDeg, seed);
      const guide = guideOf(beamDeg);
      for (let tS = 0; tS < 30; tS += 0.1) {
        world.step(0.1);
        guide.push({ ...world.read('near'), tS });
      }
      const points = guide.points();
      const peakDbm = points.reduce((sum, p) => sum + p.levelDbm, 0) / points.length;
      for (const shortDb of [9, 21]) {
        const found = diagnosePeak({
          peakDbm,
          expectedDbm: peakDbm + shortDb,
          sweeps: [{ axis: 'azimuth', points, beamWidthDeg: beamDeg }],
        });
        expect(found.diagnosis, `seed ${seed}`).toBe('unswept');
      }
    }
  });

  /** Turns what was not asked for, at the speed of a slow hand, from the tenth second on for eight seconds. */
  function strayed(turned: readonly [End, MountAxis][], seed = 1) {
    const world = worldOf(6, seed);
    const guide = guideOf(6);
    const strays = new Set<string>();
    const after: unknown[] = [];
    for (let tS = 0; tS < 40; tS += 0.1) {
      if (tS >= 10 && tS < 18) for (const [at, axis] of turned) world.turn(at, axis, 0.1);
      world.step(0.1);
      for (const at of ['near', 'far'] as const) guide.push({ ...world.read(at), tS });
      const { stray } = guide.advice;
      if (stray) strays.add(stray);
      if (tS > 30) after.push(stray);
    }
    return { strays, after: new Set(after) };
  }

  it.each<[string, [End, MountAxis][], string]>([
    ['the other axis', [['near', 'tilt']], 'otherAxis'],
    ['the other end', [['far', 'azimuth']], 'otherEnd'],
    [
      'both ends at once',
      [
        ['near', 'azimuth'],
        ['far', 'azimuth'],
      ],
      'bothEnds',
    ],
  ])('turning %s is noticed while it goes on, and over when it stands', (_, turned, stray) => {
    for (let seed = 1; seed <= 8; seed++) {
      const found = strayed(turned, seed);
      expect(found.strays, `seed ${seed}`).toContain(stray);
      expect(found.after).toEqual(new Set([null]));
    }
  });

  it.each([3, 6, 12, 30, 60])('is said within five seconds by a phone on a beam of %d degrees', (beamDeg) => {
    for (let seed = 1; seed <= 10; seed++) {
      const world = worldOf(beamDeg, seed);
      const guide = guideOf(beamDeg);
      let saidS: number | null = null;
      for (let tS = 0; tS < 20 && saidS === null; tS += 0.1) {
        if (tS >= 10) world.turn('far', 'tilt', (0.1 * beamDeg) / 6);
        world.step(0.1);
        for (const at of ['near', 'far'] as const) guide.push({ ...world.read(at), tS });
        if (guide.advice.stray) saidS = tS;
      }
      expect(saidS, `seed ${seed}`).toBeGreaterThan(10);
      expect(saidS, `seed ${seed}`).toBeLessThanOrEqual(15.3);
    }
  });

  it('and turning what was asked for is not', () => {
    for (let seed = 1; seed <= 8; seed++) expect(strayed([['near', 'azimuth']], seed).strays).toEqual(new Set());
    expect(strayed([]).strays).toEqual(new Set());
  });
});
