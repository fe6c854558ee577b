import type { Random } from '../../random';
import type { Fading } from './fading';
import { GaussianFading } from './gaussian';
import { RicianFading } from './rician';

export type FadingSetup =
  | { kind: 'gaussian'; sdDb: number; correlationS: number }
  | { kind: 'rician'; kDb: number; correlationS: number };

export function makeFading(setup: FadingSetup, random: Random): Fading {
  return setup.kind === 'gaussian'
    ? new GaussianFading(setup.sdDb, setup.correlationS, random)
    : new RicianFading(setup.kDb, setup.correlationS, random);
}
