import type { DeviceAnswer } from '@kivram/contract/views/level';
import type { ToldBeside } from '@kivram/core/aiming/reading';

/** What a device told when it was asked once. */
export interface ToldLevel {
  /** null: it hears nothing */
  rslDbm: number | null;
  chainsDbm: number[];
  told: ToldBeside;
}

/** A radio on the network that can be asked for its level. */
export interface LevelDevice {
  /** @throws DeviceError that says what did not come, and what may mend it */
  ask(): Promise<ToldLevel>;
  /** All that it answers, to pick from. @throws DeviceError */
  explore(branch?: string): Promise<DeviceAnswer>;
  close(): void;
}

/** What a device did not answer, in words for whoever set it up. */
export class DeviceError extends Error {}

/** A device that has not answered for so long does not, ms. */
export const answerMs = 1500;

/** What an exploration may take, ms, and bring. */
export const exploreMs = 8000;
export const mostValues = 1000;
