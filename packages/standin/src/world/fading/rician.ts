import type { Random } from '../../random';
import type { Fading } from './fading';

/** A steady wave with many scattered ones around it, which drift: the level has long deep dips and low crests (Rice 1948). K is steady over scattered power. */
export class RicianFading implements Fading {
  private readonly steady: number;
  private readonly scattered: number;
  private re: number;
  private im: number;

  constructor(
    kDb: number,
    private readonly correlationS: number,
    private readonly random: Random,
  ) {
    const k = 10 ** (kDb / 10);
    this.steady = Math.sqrt(k / (k + 1));
    this.scattered = Math.sqrt(1 / (2 * (k + 1)));
    this.re = random.normal();
    this.im = random.normal();
  }

  step(dtS: number): number {
    const keep = Math.exp(-dtS / this.correlationS);
    const fresh = Math.sqrt(1 - keep * keep);
    this.re = this.re * keep + fresh * this.random.normal();
    this.im = this.im * keep + fresh * this.random.normal();
    return this.db;
  }

  get db(): number {
    return 20 * Math.log10(Math.hypot(this.steady + this.scattered * this.re, this.scattered * this.im));
  }
}
