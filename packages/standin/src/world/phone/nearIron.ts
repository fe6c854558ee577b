import type { Random } from '../../random';
import type { Phone } from './phone';

/** A compass beside a steel mast: how far it is pulled changes as it turns past the iron, so that its degrees are longer here and shorter there. */
export class IronPhone implements Phone {
  private readonly phase: number;

  constructor(
    private readonly noiseDeg: number,
    private readonly pulledDeg: number,
    private readonly withinDeg: number,
    private readonly random: Random,
  ) {
    this.phase = random.between(0, 2 * Math.PI);
  }

  read(trueDeg: number): number {
    const pulled = this.pulledDeg * Math.sin((2 * Math.PI * trueDeg) / this.withinDeg + this.phase);
    return trueDeg + pulled + this.noiseDeg * this.random.normal();
  }
}
