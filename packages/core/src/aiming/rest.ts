import type { Action } from './advice';
import { recentLevelDbm } from './guide';
import type { AimSample } from './reading';

/** Seconds of reading at rest before and after the bolts are tightened. */
export const restSeconds = 2.5;

/** A level that drops so much through tightening is more than fading over the resting time explains. */
const movedDb = 2.5;

/** The end of every axis: hold still, lock, read again. Shared by the guides with and without angles. */
export class Rest {
  private beforeDbm: number | null = null;
  private lockedAtS: number | null = null;

  constructor(private startedAtS: number) {}

  /** Whether the mount has been still long enough to read. */
  ripe(tS: number, seconds = restSeconds): boolean {
    return tS - this.startedAtS >= seconds;
  }

  lock(tS: number, samples: readonly AimSample[]): void {
    this.beforeDbm = recentLevelDbm(samples, restSeconds);
    this.lockedAtS = tS;
  }

  /** What to do after the bolts were tightened, or undefined while they are not. */
  afterLock(tS: number, samples: readonly AimSample[]): Action | undefined {
    if (this.lockedAtS === null) return undefined;
    if (tS - this.lockedAtS < restSeconds) return 'readAgain';
    const after = recentLevelDbm(samples, restSeconds);
    const dropped = this.beforeDbm !== null && (after === null || this.beforeDbm - after > movedDb);
    return dropped ? 'moved' : 'done';
  }
}
