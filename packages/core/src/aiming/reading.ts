import type { End } from '../budget/plan';

/** What one radio reports at one moment. */
export interface Reading {
  end: End;
  /** seconds since the alignment began */
  tS: number;
  /** both chains together, as the radio shows it; null while it hears nothing */
  rslDbm: number | null;
  /** level per receive chain */
  chainsDbm: number[];
  /** the level is the one of before: the radio has told no new one since */
  isRepeat?: boolean;
  /** how long before this moment the radio measured the level, seconds: an answer takes its time */
  ageS?: number;
  /** what else the radio told with the level */
  told?: ToldBeside;
  /** a phone's or scale's idea of the antenna's angle, relative, in degrees; null without such a sensor */
  phoneAzimuthDeg: number | null;
  phoneTiltDeg: number | null;
}

/** What a radio tells beside its level, where it does. */
export interface ToldBeside {
  noiseDbm?: number;
  /** rates on the air, Mbit/s */
  txMbps?: number;
  rxMbps?: number;
}

export type MountAxis = 'azimuth' | 'tilt';

/** Which way a mount turns: +1 right or up, -1 left or down, 0 at rest. */
export type Turning = -1 | 0 | 1;

/** How the angle is known: a phone's sensor, a tap per notch of the mount's scale, or not at all. */
export const angleSources = ['phone', 'scale', 'none'] as const;
export type AngleSource = (typeof angleSources)[number];

/** What an installer taps while aiming. */
export const markKinds = ['turning', 'notch', 'locked', 'eye', 'otherEnd', 'endStop', 'hold', 'go', 'callMe'] as const;
export type MarkKind = (typeof markKinds)[number];

/** One level with where the mount was, as a guide needs it. */
export interface AimSample {
  tS: number;
  rslDbm: number | null;
  isRepeat?: boolean;
  ageS?: number;
  angleDeg: number | null;
  turning: Turning;
}

/** Degrees per notch of a mount's scale: about as fine as its antenna needs (common practice, no source). */
export function scaleNotchDeg(beamWidthDeg: number): number {
  return beamWidthDeg > 12 ? 5 : 1;
}
