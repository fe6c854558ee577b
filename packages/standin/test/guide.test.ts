import { AimGuide, diagnosePeak, type AngleSource, type End, type MountAxis } from '@kivram/core';
import { describe, expect, it } from 'vitest';
import { AimWorld, runTrial, usualConditions, type TrialSetup, type WorldEnd } from '../src';

const trials = 24;
const setup = (aperture: 'dish' | 'panel', source: AngleSource): TrialSetup => ({
  aperture,
  beamDeg: aperture === 'dish' ? 6 : 30,
  source,
  notchDeg: aperture === 'dish' ? 1 : 5,
  playDeg: 0.5,
  startWidths: 3,
  levelled: true,
});
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

describe('simulated installers who follow the guide', () => {
  it.each([
    ['panel', 'phone', 0.1],
    ['panel', 'scale', 0.1],
    ['dish', 'phone', 0.15],
    ['dish', 'scale', 0.15],
    ['panel', 'none', 0.45],
    ['dish', 'none', 0.45],
  ] as const)('%s, angle by %s: end on the peak', (aperture, source, mostDb) => {
    const results = Array.from({ length: trials }, (_, seed) => runTrial(setup(aperture, source), 500 + seed));
    expect(results.every((r) => r.finished)).toBe(true);
    expect(median(results.map((r) => r.lossDb))).toBeLessThan(mostDb);
  });

  it('and are told "path not clear" when 8 dB of trees stand in it, without losing the peak', () => {
    for (let seed = 0; seed < 6; seed++) {
      const result = runTrial({ ...setup('dish', 'phone'), conditions: { obstructionDb: 8 } }, 900 + seed);
      expect(result.lossDb).toBeLessThan(1);
      const last = result.steps.filter((s) => s.axis === 'azimuth').at(-1);
      const found = diagnosePeak({
        peakDbm: -56.2,
        expectedDbm: result.expectedDbm,
        points: last?.points ?? [],
        beamWidthDeg: 6,
      });
      expect(found.diagnosis).toBe('obstructed');
    }
  });
});

describe('what nobody measured', () => {
  const end = (beamDeg: number): WorldEnd => ({
    aperture: 'dish',
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
      notchDeg: 1,
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
        const found = diagnosePeak({ peakDbm, expectedDbm: peakDbm + shortDb, points, beamWidthDeg: beamDeg });
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

  it('and turning what was asked for is not', () => {
    for (let seed = 1; seed <= 8; seed++) expect(strayed([['near', 'azimuth']], seed).strays).toEqual(new Set());
    expect(strayed([]).strays).toEqual(new Set());
  });
});
