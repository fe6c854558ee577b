import type { Random } from '../../random';
import type { Phone } from './phone';

/** The zero of a gyroscope drifts: one way for a while, then another. */
const turnsAfterS = 40;

export class WanderingPhone implements Phone {
  private driftDeg = 0;
  private degPerS: number;
  private lastS = 0;
  private turnS: number;

  constructor(
    private readonly noiseDeg: number,
    degPerMinute: number,
    private readonly random: Random,
  ) {
    this.degPerS = (degPerMinute / 60) * (random.chance(0.5) ? 1 : -1);
    this.turnS = random.between(0.5, 1.5) * turnsAfterS;
  }

  read(trueDeg: number, tS: number): number {
    if (tS > this.turnS) {
      this.degPerS *= this.random.chance(0.5) ? 1 : -1;
      this.turnS = tS + this.random.between(0.5, 1.5) * turnsAfterS;
    }
    this.driftDeg += this.degPerS * (tS - this.lastS);
    this.lastS = tS;
    return trueDeg + this.driftDeg + this.noiseDeg * this.random.normal();
  }
}
