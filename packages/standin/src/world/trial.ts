import { AimGuide, sweepSeconds, type AimStep, type AngleSource, type MountAxis } from '@kivram/core';
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
  /** start within so many beam widths of the peak: in any direction, or mostly sideways with the tilt set by a level */
  startWidths: number;
  levelled?: boolean;
}

export interface TrialResult {
  lossDb: number;
  turns: number;
  seconds: number;
  steps: AimStep[];
  expectedDbm: number;
  finished: boolean;
}

const dtS = 0.1;
const alignedDbm = -48;
const longestS = 600;

export function trialWorld(setup: TrialSetup, seed: number): { world: AimWorld; random: Random } {
  const random = new Random(seed);
  const radius = setup.startWidths * setup.beamDeg * random.uniform();
  const around = random.between(0, 2 * Math.PI);
  const startTiltDeg = setup.levelled ? setup.beamDeg * random.between(-1, 1) : radius * Math.sin(around);
  const end: WorldEnd = {
    aperture: setup.aperture,
    beam: { azimuthDeg: setup.beamDeg, elevationDeg: setup.beamDeg },
    startAzimuthDeg: setup.levelled ? radius * Math.sign(Math.cos(around)) : radius * Math.cos(around),
    startTiltDeg,
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
    guide.push({ ...world.read('near'), tS });
  }
  return {
    lossDb: world.pointingLossDb('near'),
    turns: hands.turns,
    seconds: tS,
    steps: guide.done,
    expectedDbm: alignedDbm,
    finished: guide.finished,
  };
}

/**
 * The habit: all the way out on both sides while watching the figure, then back until the highest one seen shows again, give or take a
 * decibel; where it does not show, back and forth once more, content with a decibel less each time.
 */
export function runHabit(setup: TrialSetup, seed: number): { lossDb: number; turns: number } {
  const { world, random } = trialWorld(setup, seed);
  const speed = setup.beamDeg / sweepSeconds;
  const sweepDeg = (setup.startWidths + 0.5) * setup.beamDeg;
  let turns = 0;
  for (const axis of ['azimuth', 'tilt'] as const) {
    let best = -Infinity;
    const sweep = (byDeg: number, enough: (level: number) => boolean): void => {
      turns++;
      for (let left = Math.abs(byDeg); left > 0;) {
        const step = speed * Math.max(0.2, 1 + 0.15 * random.normal()) * dtS;
        left -= step;
        world.turn('near', axis, Math.sign(byDeg) * step);
        world.step(dtS);
        const level = world.read('near').rslDbm ?? -Infinity;
        if (enough(level)) return;
        best = Math.max(best, level);
      }
    };
    sweep(sweepDeg, () => false);
    sweep(-2 * sweepDeg, () => false);
    let found = false;
    for (let pass = 1; !found && pass < 12; pass++) {
      sweep((pass % 2 ? 2 : -2) * sweepDeg, (level) => (found = level >= best - pass));
    }
  }
  world.tighten('near');
  return { lossDb: world.pointingLossDb('near'), turns };
}
