import type { Random } from '../random';

/**
 * One axis of a mount with play: the antenna follows the bolt only once the play is taken up, and tightening shifts it a little
 * within the play.
 */
export class MountAxisPlay {
  /** where the bolt stands */
  boltDeg: number;
  /** where the antenna truly points */
  antennaDeg: number;

  constructor(
    startDeg: number,
    private readonly playDeg: number,
  ) {
    this.boltDeg = startDeg;
    this.antennaDeg = startDeg;
  }

  turn(byDeg: number): void {
    this.boltDeg += byDeg;
    const half = this.playDeg / 2;
    this.antennaDeg = Math.min(this.boltDeg + half, Math.max(this.boltDeg - half, this.antennaDeg));
  }

  tighten(random: Random): void {
    const half = this.playDeg / 2;
    const shifted = this.antennaDeg + random.between(-0.3, 0.3) * this.playDeg;
    this.antennaDeg = Math.min(this.boltDeg + half, Math.max(this.boltDeg - half, shifted));
  }
}
