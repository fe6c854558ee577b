import type { Random } from '../../random';
import type { Phone } from './phone';

/** Every angle trembles, none lies. */
export class SteadyPhone implements Phone {
  constructor(
    private readonly noiseDeg: number,
    private readonly random: Random,
  ) {}

  read(trueDeg: number): number {
    return trueDeg + this.noiseDeg * this.random.normal();
  }
}
