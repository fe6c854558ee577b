import type { DeviceAnswer } from '@kivram/contract/views/level';
import type { ToldLevel } from './device';
import type { DeviceSetup } from './setup';

/** What the process that asks a device is told: first what to ask, then each question. */
export type ToDevice = { setup: DeviceSetup } | { id: number; branch?: string; what: 'ask' | 'explore' };

/** What it says of a question. */
export type FromDevice =
  | { id: number; told: ToldLevel }
  | { id: number; answer: DeviceAnswer }
  /** `outside` is an address outside of private networks, `certificate` the fingerprint of one: both may be confirmed */
  | { id: number; words: string; outside?: string; certificate?: string };
