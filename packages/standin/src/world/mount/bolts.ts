import type { Random } from '../../random';

/** What tightening does to where a mount stands. */
export interface BoltsSetup {
  /** it is pulled by something between these, in beam widths; the same way each time, for threads turn one way */
  pulledWidths: readonly [least: number, most: number];
  /** how long tightening takes */
  seconds: number;
}

/** The pull repeats so well from one tightening to the next, one standard deviation over the pull. */
const repeatSpread = 0.12;

/** The bolts of one axis: while they are tightened the mount creeps to where they pull it. */
export class Bolts {
  private readonly pullDeg: number;
  private leftS = 0;
  private degPerS = 0;

  constructor(
    { pulledWidths: [least, most], seconds }: BoltsSetup,
    beamDeg: number,
    private readonly random: Random,
  ) {
    this.seconds = seconds;
    this.pullDeg = random.between(least, most) * beamDeg * (random.chance(0.5) ? 1 : -1);
  }

  private readonly seconds: number;

  get areTight(): boolean {
    return this.leftS <= 0;
  }

  /** Begins to tighten. @returns by how much the mount jumps at once */
  tighten(): number {
    const byDeg = this.pullDeg * (1 + repeatSpread * this.random.normal());
    if (this.seconds <= 0) return byDeg;
    this.leftS = this.seconds;
    this.degPerS = byDeg / this.seconds;
    return 0;
  }

  /** @returns by how much the mount creeps in this time */
  step(dtS: number): number {
    const forS = Math.min(dtS, Math.max(0, this.leftS));
    this.leftS -= dtS;
    return forS * this.degPerS;
  }
}
