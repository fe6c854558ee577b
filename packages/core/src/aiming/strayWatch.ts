import type { BeamWidth } from '../antenna/mainLobe';
import { otherEnd, type End } from '../budget/plan';
import type { MountAxis, Reading } from './reading';

/** What is turned although the step in hand does not ask for it. */
export type Stray = 'otherAxis' | 'otherEnd' | 'bothEnds';

/** An angle is the mean over so long, against the mean of what was before so long ago: what turns is to be said within five seconds. */
const meanS = 2.5;
const agoS = 5;
/** What stood still is known the better the longer it stood; a phone's zero wanders meanwhile. */
const rememberedS = 15;
const wanderDeg = 0.1;

/** Noise of a phone's angle, one standard deviation (common practice, no source), and how many of those of a difference no noise makes. */
const angleSdDeg = 1.5;
const noiseSds = 4;

/** Turning by less than this share of a beam costs less than fading does. */
const leastWidths = 0.3;

const axes: readonly MountAxis[] = ['azimuth', 'tilt'];

interface Sighting {
  tS: number;
  /** of this angle and all that came before it: the mean over some of them is then a difference, however many they are */
  sumDeg: number;
}

/**
 * Watches the angles of both mounts, where a phone tells them, for turning that nobody asked for: the other axis, the other end, or both ends at once. What was
 * measured meanwhile says nothing.
 */
export class StrayWatch {
  private readonly seen = new Map<string, Sighting[]>();
  /** what was found to be turned since it was last forgotten */
  private readonly turned = new Set<string>();

  constructor(private readonly beams: Record<End, BeamWidth>) {}

  push(reading: Reading): void {
    for (const axis of axes) {
      const angleDeg = axis === 'azimuth' ? reading.phoneAzimuthDeg : reading.phoneTiltDeg;
      if (angleDeg === null) continue;
      const key = keyOf(reading.end, axis);
      const list = this.seen.get(key) ?? [{ tS: -Infinity, sumDeg: 0 }];
      list.push({ tS: reading.tS, sumDeg: (list.at(-1)?.sumDeg ?? 0) + angleDeg });
      // The first is there for its sum only.
      while ((list[1]?.tS ?? Infinity) < reading.tS - rememberedS) list.shift();
      this.seen.set(key, list);
    }
  }

  /** Begins anew: what moved until now was asked for, or was the tightening of bolts. */
  forget(): void {
    this.seen.clear();
    this.turned.clear();
  }

  /** What is being turned besides the axis in hand, and which axis that is. */
  strayFrom(end: End, axis: MountAxis): { stray: Stray; end: End; axis: MountAxis } | null {
    const otherAxis: MountAxis = axis === 'azimuth' ? 'tilt' : 'azimuth';
    const there = otherEnd(end);
    const away = axes.find((each) => this.moves(there, each));
    if (away) return { stray: this.moves(end, axis) ? 'bothEnds' : 'otherEnd', end: there, axis: away };
    return this.moves(end, otherAxis) ? { stray: 'otherAxis', end, axis: otherAxis } : null;
  }

  private moves(end: End, axis: MountAxis): boolean {
    const list = this.seen.get(keyOf(end, axis)) ?? [];
    const lastS = list.at(-1)?.tS ?? 0;
    const now = meanBetween(list, lastS - meanS, Infinity);
    // What turned is over as soon as it stands: then only the last seconds count.
    const sinceS = this.turned.has(keyOf(end, axis)) ? lastS - agoS - meanS : -Infinity;
    const before = meanBetween(list, sinceS, lastS - agoS);
    if (!now || !before) return false;
    const beam = this.beams[end];
    const widthDeg = axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
    const noiseDeg = noiseSds * angleSdDeg * Math.sqrt(1 / now.count + 1 / before.count) + wanderDeg;
    const isTurned = Math.abs(now.deg - before.deg) > Math.max(noiseDeg, leastWidths * widthDeg);
    if (isTurned) this.turned.add(keyOf(end, axis));
    return isTurned;
  }
}

const keyOf = (end: End, axis: MountAxis): string => `${end} ${axis}`;

/** The mean after one moment and up to another, over half a second at least; over less, noise decides. */
function meanBetween(list: readonly Sighting[], afterS: number, untilS: number): { deg: number; count: number } | null {
  const from = lastUntil(list, afterS);
  const until = lastUntil(list, untilS);
  const [before, first, last] = [list[from], list[from + 1], list[until]];
  if (!before || !first || !last || last.tS - first.tS < 0.5) return null;
  return { deg: (last.sumDeg - before.sumDeg) / (until - from), count: until - from };
}

/** @returns where the last lies that is not later; the first where all are */
function lastUntil(list: readonly Sighting[], untilS: number): number {
  let [at, beyond] = [0, list.length];
  while (beyond - at > 1) {
    const middle = (at + beyond) >> 1;
    if ((list[middle]?.tS ?? Infinity) > untilS) beyond = middle;
    else at = middle;
  }
  return at;
}
