import type { AimSample, Turning } from '../reading';

/**
 * What a hand does that nobody tells of: what it was told, a moment later. Once taps tell, they do.
 */
export class PresumedHand {
  private before: Turning = 0;
  private now: Turning = 0;
  private hasTapped = false;

  /** @param toldS when it was told something last */
  constructor(private toldS: number) {}

  told(tS: number, direction: Turning): void {
    this.before = this.now;
    this.now = direction;
    this.toldS = tS;
  }

  turning({ tS, turning }: AimSample, delayS: number): Turning {
    this.hasTapped ||= turning !== 0;
    if (this.hasTapped) return turning;
    return tS - this.toldS >= delayS ? this.now : this.before;
  }
}
