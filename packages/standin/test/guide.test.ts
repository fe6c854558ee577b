import { AimGuide, diagnosePeak, type AngleSource, type End, type MountAxis } from '@kivram/core';
import { describe, expect, it } from 'vitest';
import { AimWorld, confusedHand, runTrial, slowHand, usualConditions, type TrialSetup, type WorldEnd } from '../src';

const trials = 16;
const setup = (kind: 'dish' | 'panel', source: AngleSource): TrialSetup => ({
  antenna: kind === 'dish' ? 'taperedDish' : 'fourPatches',
  beamDeg: kind === 'dish' ? 6 : 30,
  source,
  playDeg: 0.5,
  startWidths: 3,
  levelled: true,
});
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

describe('simulated installers who follow the guide', () => {
  it.each([
    ['panel', 'phone', 0.3],
    ['panel', 'scale', 0.3],
    ['dish', 'phone', 0.3],
    ['dish', 'scale', 0.3],
    ['panel', 'none', 0.5],
    ['dish', 'none', 0.5],
  ] as const)('%s, angle by %s: end on the peak', (kind, source, mostDb) => {
    const results = Array.from({ length: trials }, (_, seed) => runTrial(setup(kind, source), 500 + seed));
    expect(results.every((r) => r.finished)).toBe(true);
    expect(median(results.map((r) => r.lossDb))).toBeLessThan(mostDb);
  });

  // A few of each: how well the guide does is shown by the benchmark.
  it.each<[string, Partial<TrialSetup>, AngleSource]>([
    ['bolts pull the mount', { conditions: { bolts: { pulledWidths: [0.5, 0.8], seconds: 4 } } }, 'phone'],
    ['bolts pull the mount', { conditions: { bolts: { pulledWidths: [0.5, 0.8], seconds: 4 } } }, 'scale'],
    ['the hand is slow', { hand: slowHand }, 'none'],
    ['the hand takes left for right', { hand: confusedHand }, 'none'],
    [
      'a reading comes once a second',
      { conditions: { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } } },
      'phone',
    ],
    ['the peak is five widths away', { startWidths: 5 }, 'phone'],
    ['the mount points too high as well', { levelled: false }, 'phone'],
    ['the mount has an end stop', { stopsWidths: [-7, 2], startWidths: 2 }, 'scale'],
    [
      'a compass stands beside iron',
      { beamDeg: 3, conditions: { phone: { kind: 'nearIron', noiseDeg: 1.5, pulledDeg: 3, withinDeg: 24 } } },
      'phone',
    ],
  ])('also where %s', (_, changes, source) => {
    const results = [1, 2, 3, 4, 5].map((seed) => runTrial({ ...setup('dish', source), ...changes }, seed));
    expect(median(results.map((r) => r.lossDb))).toBeLessThan(0.8);
  });

  it.each<[string, Partial<TrialSetup>]>([
    ['a slow hand, whose delay the notches show', { hand: slowHand }],
    [
      'bolts that pull by less than a notch or two',
      { conditions: { bolts: { pulledWidths: [0.1, 0.4], seconds: 4 } } },
    ],
    ['a reading a second', { conditions: { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } } }],
  ])('nor does it cost much by the scale: %s', (_, changes) => {
    const losses = Array.from(
      { length: trials },
      (_, seed) => runTrial({ ...setup('dish', 'scale'), ...changes }, 2000 + seed).lossDb,
    );
    expect(median(losses)).toBeLessThan(0.3);
    expect(losses.filter((lossDb) => lossDb > 1).length).toBeLessThan(2);
  });

  it.each<[string, AngleSource, Partial<TrialSetup>, medianDb: number, mostDb: number]>([
    ['slow fading by phone', 'phone', { conditions: { fading: { kind: 'rician', kDb: 6, correlationS: 2 } } }, 0.3, 1],
    [
      'slow fading without angles',
      'none',
      { conditions: { fading: { kind: 'rician', kDb: 6, correlationS: 2 } } },
      1,
      3,
    ],
    ['a start far off in both axes, without angles', 'none', { startWidths: 3, levelled: false }, 0.6, 2],
  ])('nor does it cost much more than the usual: %s', (_, source, changes, medianDb, mostDb) => {
    const losses = Array.from(
      { length: trials },
      (_, seed) => runTrial({ ...setup('dish', source), ...changes }, 2000 + seed).lossDb,
    );
    expect(median(losses)).toBeLessThan(medianDb);
    expect(losses.filter((lossDb) => lossDb > mostDb).length).toBeLessThan(2);
  });

  it('a stop that is felt just as the words turn round is not the end of the way back', () => {
    const stopped = { ...setup('dish', 'none'), sheetSpread: 0.1, stopsWidths: [-7, 2] as const, startWidths: 2 };
    for (const seed of [6, 15, 48]) expect(runTrial(stopped, seed).lossDb, `seed ${seed}`).toBeLessThan(2);
  });

  it('a lobe that lies where the search ends is swept to its far flank', () => {
    const far = { ...setup('dish', 'phone'), sheetSpread: 0.1, startWidths: 5 };
    expect(runTrial(far, 45).lossDb).toBeLessThan(1);
  });

  it('nor does a first stroke through scatter send the way back past the peak, where time alone tells it', () => {
    const slowMeter = { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } };
    const byTime = { ...setup('dish', 'none'), sheetSpread: 0.1, conditions: slowMeter };
    for (const seed of [6121, 6162]) expect(runTrial(byTime, seed).lossDb, `seed ${seed}`).toBeLessThan(2);
  });

  it('and a pull is told by the strokes after it: bolts that would cost 4 dB cost less than 1', () => {
    const pulled = {
      ...setup('dish', 'phone'),
      conditions: { bolts: { pulledWidths: [0.6, 0.6] as const, seconds: 3 } },
    };
    const { steps } = runTrial(pulled, 3);
    expect(steps.length).toBeGreaterThan(1);
    expect(steps.every((s) => (s.outcome?.shortDb ?? 0) < 1)).toBe(true);
  });

  it('and are told "path not clear" when 8 dB of trees stand in it, without losing the peak', () => {
    for (let seed = 0; seed < 6; seed++) {
      const result = runTrial({ ...setup('dish', 'phone'), conditions: { obstructionDb: 8 } }, 900 + seed);
      expect(result.lossDb).toBeLessThan(1);
      const sweeps = result.steps.map(({ axis, points }) => ({ axis, points, beamWidthDeg: 6 }));
      const found = diagnosePeak({ peakDbm: result.levelDbm, expectedDbm: result.expectedDbm, sweeps });
      expect(found.diagnosis).toBe('obstructed');
    }
  });
});

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
