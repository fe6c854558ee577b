import { ends as bothEnds, otherEnd, type End } from '../budget/plan';
import type { EyeAim } from './eye';

/** How one person aims both ends with the fewest ways between them. */
export interface LonePlan {
  startAt: End;
  /** ways from one end to the other */
  trips: 0 | 1 | 2;
  /** what is left over the weakest level that is heard, while the first end is aimed roughly and the second one not yet, dB */
  spareDb: number;
}

/**
 * The fewest trips for somebody alone. Where the eye is enough at one end, that one is set by eye and left; else the first end is set roughly, the other one aimed finely against it, and the
 * first one finely at last. The order follows from reciprocity: how one end points costs the level at both by the same.
 * @param turned the ends that are turned: a hub's antenna stays where it points
 * @param marginDb the level expected at each end over the weakest that it hears
 */
export function lonePlan(
  eye: Record<End, EyeAim>,
  marginDb: Record<End, number>,
  turned: readonly End[] = bothEnds,
): LonePlan {
  const both = Math.min(marginDb.near, marginDb.far);
  const [only] = turned;
  if (turned.length === 1 && only) return { startAt: only, trips: 0, spareDb: both - eye[only].lossDb };
  const startAt: End = eye.near.lossDb <= eye.far.lossDb ? 'near' : 'far';
  const rough = eye[startAt];
  return {
    startAt,
    trips: rough.enough ? 1 : 2,
    spareDb: both - rough.lossDb - eye[otherEnd(startAt)].lossDb,
  };
}
