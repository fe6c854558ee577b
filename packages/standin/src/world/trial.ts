import { AimGuide, sweepSeconds, type AimStep, type AngleSource, type LobePoint, type MountAxis } from '@kivram/core';
import { Random } from '../random';
import { AimWorld, usualConditions, type WorldConditions, type WorldEnd } from './aimWorld';
import { Hands } from './hands';
import type { Aperture } from './pattern';

/** One simulated alignment of one end, the other end fixed. */
export interface TrialSetup {
  aperture: Aperture;
  beamDeg: number;
  source: AngleSource;
  notchDeg: number;
  playDeg: number;
  conditions?: Partial<WorldConditions>;
  /** start within so many beam widths of the peak, any direction */
  startWidths: number;
}

export interface TrialResult {
  lossDb: number;
  turns: number;
  seconds: number;
  steps: AimStep[];
  expectedDbm: number;
  finished: boolean;
  /** levels over position of the last axis looked at */
  points: LobePoint[];
}

const dtS = 0.1;
const alignedDbm = -48;
const longestS = 900;

export function trialWorld(setup: TrialSetup, seed: number): { world: AimWorld; random: Random } {
  const random = new Random(seed);
  const radius = setup.startWidths * setup.beamDeg * random.uniform();
  const around = random.between(0, 2 * Math.PI);
  const end: WorldEnd = {
    aperture: setup.aperture,
    beam: { azimuthDeg: setup.beamDeg, elevationDeg: setup.beamDeg },
    startAzimuthDeg: radius * Math.cos(around),
    startTiltDeg: radius * Math.sin(around),
    playDeg: setup.playDeg,
    alignedDbm,
    floorDbm: -92,
    chains: 2,
  };
  const fixed = { ...end, startAzimuthDeg: 0, startTiltDeg: 0, playDeg: 0 };
  return { world: new AimWorld(end, fixed, { ...usualConditions, ...setup.conditions }, seed + 7919), random };
}

/** Lets the simulated installer follow the guide until both axes are locked. */
export function runTrial(setup: TrialSetup, seed: number): TrialResult {
  const { world, random } = trialWorld(setup, seed);
  const beam = { azimuthDeg: setup.beamDeg, elevationDeg: setup.beamDeg };
  const aim = { beam, expectedDbm: alignedDbm, source: setup.source, notchDeg: setup.notchDeg };
  const guide = new AimGuide({ near: aim, far: aim, order: 'endByEnd', ends: ['near'] });
  const hands = new Hands(world, 'near', random, setup.source, setup.notchDeg);
  let axis: MountAxis = 'azimuth';
  let points: LobePoint[] = [];
  let tS = 0;
  for (; tS < longestS && !guide.finished; tS += dtS) {
    const step = guide.step;
    if (step && step.axis !== axis) {
      axis = step.axis;
      hands.forgetScale();
    }
    const advice = guide.advice;
    for (const mark of hands.act(tS, dtS, axis, setup.beamDeg / sweepSeconds, advice)) guide.mark(mark);
    if (advice.action === 'lock') {
      world.tighten('near');
      guide.mark({ kind: 'locked', tS });
    }
    world.step(dtS);
    points = guide.points();
    guide.push({ ...world.read('near'), tS });
  }
  return {
    lossDb: world.pointingLossDb('near'),
    turns: hands.turns,
    seconds: tS,
    steps: guide.done,
    expectedDbm: alignedDbm,
    finished: guide.finished,
    points,
  };
}

/** The habit: one sweep past what looks like a maximum on each axis, then back until the highest reading seen shows again. */
export function runHabit(setup: TrialSetup, seed: number): { lossDb: number; turns: number } {
  const { world, random } = trialWorld(setup, seed);
  const speed = setup.beamDeg / sweepSeconds;
  let turns = 0;
  for (const axis of ['azimuth', 'tilt'] as const) {
    let best = -Infinity;
    let direction = 1;
    const sweep = (stop: (level: number | null) => boolean, longestS: number): void => {
      turns++;
      for (let t = 0; t < longestS; t += dtS) {
        world.turn('near', axis, direction * speed * (1 + 0.1 * random.normal()) * dtS);
        world.step(dtS);
        const level = world.read('near').rslDbm;
        if (level !== null && level > best) best = level;
        if (stop(level)) return;
      }
    };
    // Turn until it has clearly become worse, the other way until worse again, then back to the highest figure seen.
    const worse = (level: number | null): boolean => level === null || level < best - 6;
    sweep(worse, 25);
    direction = -1;
    sweep(worse, 50);
    direction = 1;
    sweep((level) => level !== null && level >= best, 50);
  }
  world.tighten('near');
  return { lossDb: world.pointingLossDb('near'), turns };
}
