import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** Seeded randomness: the same seed gives the same world. */
export class Random {
  private readonly generator;
  private spare: number | undefined;

  constructor(seed: number) {
    this.generator = xoroshiro128plus(seed);
  }

  /** in [0, 1) */
  uniform(): number {
    return uniformFloat64(this.generator);
  }

  between(low: number, high: number): number {
    return low + (high - low) * this.uniform();
  }

  /** standard normal, by Marsaglia's polar method */
  normal(): number {
    if (this.spare !== undefined) {
      const value = this.spare;
      this.spare = undefined;
      return value;
    }
    for (;;) {
      const u = this.between(-1, 1);
      const v = this.between(-1, 1);
      const s = u * u + v * v;
      if (s <= 0 || s >= 1) continue;
      const factor = Math.sqrt((-2 * Math.log(s)) / s);
      this.spare = v * factor;
      return u * factor;
    }
  }

  pick<T>(items: readonly T[]): T {
    const item = items[Math.floor(this.uniform() * items.length)];
    if (item === undefined) throw new RangeError('nothing to pick from');
    return item;
  }

  chance(probability: number): boolean {
    return this.uniform() < probability;
  }
}
