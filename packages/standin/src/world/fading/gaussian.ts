import type { Random } from '../../random';
import type { Fading } from './fading';

/** Fading in dB, correlated in time: an Ornstein-Uhlenbeck process with a standard deviation and a correlation time. */
export class GaussianFading implements Fading {
  private valueDb: number;

  constructor(
    private readonly sdDb: number,
    private readonly correlationS: number,
    private readonly random: Random,
  ) {
    this.valueDb = sdDb * random.normal();
  }

  step(dtS: number): number {
    const keep = Math.exp(-dtS / this.correlationS);
    this.valueDb = this.valueDb * keep + this.sdDb * Math.sqrt(1 - keep * keep) * this.random.normal();
    return this.valueDb;
  }

  get db(): number {
    return this.valueDb;
  }
}
