import type { Advice } from '@kivram/core/aiming/advice';
import type { MountAxis } from '@kivram/core/aiming/reading';

/** What is heard of an advice: notes one after the other, again and again. */
export interface Sound {
  /** pitch of each note against that of the level, and by what it glides: up for right and up, down for left and down */
  notes: { ratio: number; glide: number }[];
  everyMs: number;
  /** -1 in the left ear, 1 in the right one */
  pan: number;
}

/** A glide that is heard as one, a fourth up or down. */
const glide = 4 / 3;
/** A semitone a decibel, 880 Hz at the predicted level. */
const [targetHz, decibelsHeard] = [880, { most: 24, over: 3 }];

/** Pitch of the level: the nearer to the prediction, the higher. */
export function pitchHz(shortDb: number | null): number {
  const short = Math.min(decibelsHeard.most, Math.max(-decibelsHeard.over, shortDb ?? decibelsHeard.most));
  return targetHz * 2 ** (-short / 12);
}

/** The advice as sound: the glide tells the way to turn, the pace how near the peak is. */
export function soundOf(advice: Advice, axis: MountAxis, widthDeg: number): Sound {
  const way = advice.direction === 1 ? glide : advice.direction === -1 ? 1 / glide : 1;
  const pan = axis === 'azimuth' ? advice.direction * 0.8 : 0;
  const sound = (everyMs: number, ...ratios: number[]): Sound => ({
    notes: ratios.map((ratio) => ({ ratio, glide: way })),
    everyMs,
    pan,
  });
  switch (advice.action) {
    case 'past':
    case 'turnBack':
    case 'moved':
      return sound(800, 1.5, 1); // two falling notes: it was behind you
    case 'comeBack':
      return sound(150 + 850 * Math.min(1, (advice.remainingDeg ?? widthDeg) / widthDeg), 1); // faster as it comes near
    case 'stop':
      return sound(1500, 2, 2, 2);
    case 'hold':
    case 'readAgain':
      return sound(1000);
    case 'lock':
    case 'done':
      return sound(2500, 1, 1.26, 1.5, 2);
    default:
      return sound(450, 1);
  }
}
