import type { Random } from '../../random';
import type { Bolts } from './bolts';

/**
 * One axis of a mount: the antenna follows the bolt only once the play is taken up, tightening shifts it a little within the play and pulls the whole, and
 * beyond its end stops nothing turns.
 */
export class MountAxis {
  /** where the bolt stands */
  boltDeg: number;
  /** where the antenna truly points */
  antennaDeg: number;

  constructor(
    startDeg: number,
    private readonly playDeg: number,
    private readonly bolts: Bolts,
    private readonly stopsDeg: readonly [least: number, most: number] = [-Infinity, Infinity],
  ) {
    this.boltDeg = startDeg;
    this.antennaDeg = startDeg;
  }

  /** @returns how far it went: less than asked for at an end stop */
  turn(byDeg: number): number {
    const [least, most] = this.stopsDeg;
    const to = Math.min(most, Math.max(least, this.boltDeg + byDeg));
    const went = to - this.boltDeg;
    this.boltDeg = to;
    this.follow();
    return went;
  }

  /** Begins to tighten. */
  tighten(random: Random): void {
    this.antennaDeg += random.between(-0.3, 0.3) * this.playDeg;
    this.follow();
    this.pull(this.bolts.tighten());
  }

  get isTight(): boolean {
    return this.bolts.areTight;
  }

  step(dtS: number): void {
    this.pull(this.bolts.step(dtS));
  }

  private pull(byDeg: number): void {
    this.boltDeg += byDeg;
    this.antennaDeg += byDeg;
  }

  private follow(): void {
    const half = this.playDeg / 2;
    this.antennaDeg = Math.min(this.boltDeg + half, Math.max(this.boltDeg - half, this.antennaDeg));
  }
}
