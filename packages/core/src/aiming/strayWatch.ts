import type { BeamWidth } from '../antenna';
import { otherEnd, type End } from '../budget';
import type { MountAxis, Reading } from './reading';

/** What is turned although the step in hand does not ask for it. */
export type Stray = 'otherAxis' | 'otherEnd' | 'bothEnds';

/** An angle is the mean over so long, against the mean so long ago: enough for a slow hand to go several times a phone's noise. */
const meanS = 1.5;
const agoS = 5;

/** Four and a half standard deviations of the difference of two such means, at a phone's 1.5 degrees and ten readings a second. */
const noiseDeg = 2.5;

/** Turning by less than this share of a beam costs less than fading does. */
const leastWidths = 0.3;

const axes: readonly MountAxis[] = ['azimuth', 'tilt'];

interface Sighting {
  tS: number;
  angleDeg: number;
}

/**
 * Watches the angles of both mounts, where a phone tells them, for turning that nobody asked for: the other axis, the other end, or both ends at once. What was
 * measured meanwhile says nothing.
 */
export class StrayWatch {
  private readonly seen = new Map<string, Sighting[]>();

  constructor(private readonly beams: Record<End, BeamWidth>) {}

  push(reading: Reading): void {
    for (const axis of axes) {
      const angleDeg = axis === 'azimuth' ? reading.phoneAzimuthDeg : reading.phoneTiltDeg;
      if (angleDeg === null) continue;
      const key = keyOf(reading.end, axis);
      const list = this.seen.get(key) ?? [];
      list.push({ tS: reading.tS, angleDeg });
      while (list.length && (list[0]?.tS ?? 0) < reading.tS - agoS - meanS) list.shift();
      this.seen.set(key, list);
    }
  }

  /** Begins anew: what moved until now was asked for, or was the tightening of bolts. */
  forget(): void {
    this.seen.clear();
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
    const now = meanOf(list.filter(({ tS }) => tS > lastS - meanS));
    const before = meanOf(list.filter(({ tS }) => tS <= lastS - agoS));
    if (now === null || before === null) return false;
    const beam = this.beams[end];
    const widthDeg = axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
    return Math.abs(now - before) > Math.max(noiseDeg, leastWidths * widthDeg);
  }
}

const keyOf = (end: End, axis: MountAxis): string => `${end} ${axis}`;

/** A mean over half a second at least; over less, noise decides. */
function meanOf(list: readonly Sighting[]): number | null {
  const first = list[0];
  const last = list.at(-1);
  if (!first || !last || last.tS - first.tS < 0.5) return null;
  return list.reduce((sum, { angleDeg }) => sum + angleDeg, 0) / list.length;
}
