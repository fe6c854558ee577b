import type { Random } from '../../random';
import { IronPhone } from './nearIron';
import type { Phone } from './phone';
import { SteadyPhone } from './steady';
import { WanderingPhone } from './wandering';

export type PhoneSetup =
  | { kind: 'steady'; noiseDeg: number }
  | { kind: 'wandering'; noiseDeg: number; degPerMinute: number }
  | { kind: 'nearIron'; noiseDeg: number; pulledDeg: number; withinDeg: number };

export function makePhone(setup: PhoneSetup, random: Random): Phone {
  if (setup.kind === 'steady') return new SteadyPhone(setup.noiseDeg, random);
  if (setup.kind === 'wandering') return new WanderingPhone(setup.noiseDeg, setup.degPerMinute, random);
  return new IronPhone(setup.noiseDeg, setup.pulledDeg, setup.withinDeg, random);
}
