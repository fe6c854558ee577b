import type { Random } from '../../random';

/** How a radio tells its level. */
export interface MeterSetup {
  /** a new value so often; what is asked for in between gets none */
  everyS: number;
  quantumDb: number;
  /** so many values never arrive */
  missingShare: number;
}

/** When a radio has something new to tell. */
export class Meter {
  private nextS = 0;

  constructor(
    private readonly setup: MeterSetup,
    private readonly random: Random,
  ) {}

  hasNews(tS: number): boolean {
    if (tS < this.nextS) return false;
    this.nextS = Math.max(this.nextS + this.setup.everyS, tS);
    return !this.random.chance(this.setup.missingShare);
  }

  shown(dbm: number): number {
    return Math.round(dbm / this.setup.quantumDb) * this.setup.quantumDb;
  }
}
