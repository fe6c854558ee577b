import type { AngleSource } from '@kivram/core/aiming/reading';
import { runTrial, type TrialSetup } from '../../src/world/trial';

/** An installer who follows the guide at one end of a link of usual conditions. */
export const setup = (kind: 'dish' | 'panel', source: AngleSource): TrialSetup => ({
  antenna: kind === 'dish' ? 'taperedDish' : 'fourPatches',
  beamDeg: kind === 'dish' ? 6 : 30,
  source,
  playDeg: 0.5,
  startWidths: 3,
  levelled: true,
});

/** A few of each: how well the guide does, over hundreds of alignments a line, is shown by the benchmark. */
export const trials = 6;

/** What several alignments have lost against the true peak, dB. */
export const lossesDb = (trial: TrialSetup, firstSeed: number, count = trials): number[] =>
  Array.from({ length: count }, (_, i) => runTrial(trial, firstSeed + i).lossDb);

export const median = (values: number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;
