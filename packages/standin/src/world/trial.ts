import { AimGuide, type AimStep } from '@kivram/core/aiming/aimGuide';
import { clearWithinDb } from '@kivram/core/aiming/diagnosis';
import { sweepSeconds } from '@kivram/core/aiming/guide';
import { scaleNotchDeg, type AngleSource, type MountAxis, type Reading } from '@kivram/core/aiming/reading';
import { Random } from '../random';
import { AimWorld, usualConditions, type WorldConditions, type WorldEnd } from './aimWorld';
import type { Antenna } from './antenna';
import { Hands } from './hands/hands';
import { steadyHand, type HandSetup } from './hands/handSetup';

/** One simulated alignment of one end, the other end fixed. */
export interface TrialSetup {
  antenna: Antenna;
  /** as the spec sheet says */
  beamDeg: number;
  source: AngleSource;
  playDeg: number;
  conditions?: Partial<WorldConditions>;
  hand?: HandSetup;
  /** the antenna's beam is wider or narrower than its sheet says, by up to this share */
  sheetSpread?: number;
  /** start within so many beam widths of the peak: in any direction, or mostly sideways with the tilt set by a level */
  startWidths: number;
  levelled?: boolean;
  /** start exactly so many true beam widths off, instead */
  startAtWidths?: Record<MountAxis, number>;
  /** where the mount turns no further, widths to both sides of where it stands at the beginning */
  stopsWidths?: readonly [least: number, most: number];
}

export interface TrialResult {
  lossDb: number;
  turns: number;
  seconds: number;
  steps: AimStep[];
  expectedDbm: number;
  finished: boolean;
  /** what was heard at the end; null where nothing was */
  levelDbm: number | null;
  /** what stands at the end is short of the prediction, and said to be */
  isWarned: boolean;
}

const dtS = 0.1;
const expectedDbm = -48;
/** The prediction misses the level by so much, one standard deviation. */
const predictionSdDb = 0.8;
const longestS = 1500;
/** The level that the end is judged by is a mean over so long. */
const judgedS = 3;

export function trialWorld(setup: TrialSetup, seed: number): { world: AimWorld; random: Random } {
  const random = new Random(seed);
  const radius = setup.startWidths * setup.beamDeg * random.uniform();
  const around = random.between(0, 2 * Math.PI);
  const startTiltDeg = setup.levelled ? setup.beamDeg * random.between(-1, 1) : radius * Math.sin(around);
  const startAzimuthDeg = setup.levelled ? radius * Math.sign(Math.cos(around)) : radius * Math.cos(around);
  const spread = setup.sheetSpread ?? 0;
  const trueDeg = setup.beamDeg * (1 + random.between(-spread, spread));
  const stops = setup.stopsWidths?.map((widths) => widths * setup.beamDeg) as [number, number] | undefined;
  const end: WorldEnd = {
    antenna: setup.antenna,
    beam: { azimuthDeg: trueDeg, elevationDeg: trueDeg },
    startAzimuthDeg: setup.startAtWidths ? setup.startAtWidths.azimuth * trueDeg : startAzimuthDeg,
    startTiltDeg: setup.startAtWidths ? setup.startAtWidths.tilt * trueDeg : startTiltDeg,
    playDeg: setup.playDeg,
    stopsDeg: stops && { azimuth: stops, tilt: stops },
    alignedDbm: expectedDbm + predictionSdDb * random.normal(),
    floorDbm: -92,
    chains: 2,
  };
  const fixed = { ...end, startAzimuthDeg: 0, startTiltDeg: 0, playDeg: 0, stopsDeg: undefined };
  return { world: new AimWorld(end, fixed, { ...usualConditions, ...setup.conditions }, seed + 7919), random };
}

/** Lets the simulated installer follow the guide until both axes are locked. */
export function runTrial(setup: TrialSetup, seed: number): TrialResult {
  const { world, random } = trialWorld(setup, seed);
  const beam = { azimuthDeg: setup.beamDeg, elevationDeg: setup.beamDeg };
  const notch = scaleNotchDeg(setup.beamDeg);
  const notchDeg = { azimuth: notch, tilt: notch };
  const aim = { beam, expectedDbm, source: setup.source, notchDeg };
  const guide = new AimGuide({ near: aim, far: aim, order: 'endByEnd', ends: ['near'] });
  const hands = new Hands(world, 'near', random, setup.source, notchDeg, setup.hand ?? steadyHand);
  const levels: number[] = [];
  let axis: MountAxis = 'azimuth';
  let told: Reading | undefined;
  let tS = 0;
  for (; tS < longestS && !guide.finished; tS += dtS) {
    const step = guide.step;
    if (step && step.axis !== axis) {
      axis = step.axis;
      hands.forgetScale();
    }
    for (const mark of hands.act(tS, dtS, axis, guide.speedDegPerS ?? 0, guide.advice)) guide.mark(mark);
    world.step(dtS);
    // The phone tells its angle all the time, the radio a level only now and then.
    if (world.hasNews('near')) {
      told = world.read('near');
      if (told.rslDbm !== null) levels.push(told.rslDbm);
      guide.push({ ...told, tS });
    } else if (told)
      guide.push({ ...world.read('near'), rslDbm: told.rslDbm, chainsDbm: told.chainsDbm, tS, isRepeat: true });
  }
  const last = levels.slice(-Math.round(judgedS / Math.max(dtS, setup.conditions?.meter?.everyS ?? 0)));
  const levelDbm = last.length ? last.reduce((sum, dbm) => sum + dbm, 0) / last.length : null;
  return {
    lossDb: world.pointingLossDb('near'),
    turns: hands.turns,
    seconds: tS,
    steps: guide.done,
    expectedDbm,
    finished: guide.finished,
    levelDbm,
    isWarned: levelDbm === null || levelDbm <= expectedDbm - clearWithinDb,
  };
}

/**
 * The habit: all the way out on both sides while watching the figure, then back until the highest one seen shows again, give or take a
 * decibel; where it does not show, back and forth once more, content with a decibel less each time.
 */
export function runHabit(setup: TrialSetup, seed: number): { lossDb: number; turns: number; seconds: number } {
  const { world, random } = trialWorld(setup, seed);
  const speed = setup.beamDeg / sweepSeconds;
  const sweepDeg = (setup.startWidths + 0.5) * setup.beamDeg;
  let turns = 0;
  let steps = 0;
  let level = -Infinity;
  for (const axis of ['azimuth', 'tilt'] as const) {
    let best = -Infinity;
    const sweep = (byDeg: number, enough: (level: number) => boolean): void => {
      turns++;
      for (let left = Math.abs(byDeg); left > 0;) {
        const step = speed * Math.max(0.2, 1 + 0.15 * random.normal()) * dtS;
        left -= step;
        world.turn('near', axis, Math.sign(byDeg) * step);
        world.step(dtS);
        steps++;
        if (world.hasNews('near')) level = world.read('near').rslDbm ?? -Infinity;
        if (enough(level)) return;
        best = Math.max(best, level);
      }
    };
    sweep(sweepDeg, () => false);
    sweep(-2 * sweepDeg, () => false);
    let found = false;
    for (let pass = 1; !found && pass < 12; pass++) {
      sweep((pass % 2 ? 2 : -2) * sweepDeg, (now) => (found = now >= best - pass));
    }
    world.tighten('near', axis);
    while (!world.isTight('near', axis)) world.step(dtS);
  }
  return { lossDb: world.pointingLossDb('near'), turns, seconds: steps * dtS };
}
