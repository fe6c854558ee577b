import type { End } from '../budget/plan';
import type { AimMark } from './aimGuide';
import type { LevelWay } from './levelWay';
import type { Reading } from './reading';

/** The last seconds of readings by which an end is judged; common practice, no source. */
const finalSeconds = 3;

/** A phone's angle is that of a moment when it was told so soon before it, s. */
const sameMomentS = 1;

/** A phone that differs by less was not turned with its mount, degrees: its zero wanders (common practice, no source). */
const leastTurnDeg = 3;

type EndMark = AimMark & { end: End };

/**
 * The readings by which an end is judged: its last ones, for a level stands until its mount is turned. What a radio only repeats is no reading. Of levels that are typed
 * the last one counts alone: those before it belong to other places of the mount.
 * @param way how the levels of this end came at last
 * @param beamWidthDeg the narrower of its beam; a phone that moved by half of it tells that the mount was turned
 * @returns none where nothing was read, or the mount was turned after it
 */
export function standingReadings(
  readings: readonly Reading[],
  marks: readonly EndMark[],
  end: End,
  way: LevelWay | undefined,
  beamWidthDeg: number,
): Reading[] {
  const own = readings.filter((r) => r.end === end);
  const fresh = own.filter((r) => !r.isRepeat);
  const last = fresh.at(-1);
  if (!last || wasTurnedAfter(marks, end, last.tS) || phoneMoved(own, last.tS, beamWidthDeg)) return [];
  return way === 'typed' ? [last] : fresh.filter((r) => r.tS > last.tS - finalSeconds);
}

/** Whether somebody tapped that the mount turns, or is still turning, after a moment. */
function wasTurnedAfter(marks: readonly EndMark[], end: End, tS: number): boolean {
  let turning = false;
  for (const mark of marks) {
    if (mark.end !== end) continue;
    const turns = (mark.kind === 'turning' || mark.kind === 'notch') && mark.direction !== 0;
    if (mark.tS > tS && turns) return true;
    if (mark.tS > tS) return turning;
    // A notch is turned at once; by time a mount turns until it is said to rest.
    if (mark.kind === 'turning') turning = mark.direction !== 0;
    else if (mark.kind === 'locked' || mark.kind === 'eye' || mark.kind === 'otherEnd') turning = false;
  }
  return turning;
}

/** Whether the phone on the antenna points elsewhere at the end than when the level was read. */
function phoneMoved(own: readonly Reading[], tS: number, beamWidthDeg: number): boolean {
  const endS = own.at(-1)?.tS ?? tS;
  if (endS - tS < 2 * sameMomentS) return false;
  const moved = (axis: 'phoneAzimuthDeg' | 'phoneTiltDeg'): boolean => {
    const around = (atS: number): number =>
      median(own.flatMap((r) => (r.tS <= atS && atS - r.tS <= sameMomentS ? (r[axis] ?? []) : [])));
    return Math.abs(around(endS) - around(tS)) > Math.max(leastTurnDeg, beamWidthDeg / 2);
  };
  return moved('phoneAzimuthDeg') || moved('phoneTiltDeg');
}

/** NaN of none. */
function median(values: number[]): number {
  return values.sort((a, b) => a - b)[values.length >> 1] ?? NaN;
}
