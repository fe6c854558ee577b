/** A guide is made for radios that tell a level so often, seconds. */
const usualGapS = 0.7;
/** Slower ones make everything slower: by this at least, by as many times as there are seconds from one level to the next, down to the last. */
const leastSlow = 1.4;
const slowest = 8;
/** Gaps by whose middle the pace is told, and by what share it must differ from the one in force: nobody turns at a new speed every second. */
const gapsLookedAt = 5;
const worthChanging = 0.3;

/**
 * How fast levels come, and the time of a guide, which goes by them: where somebody types what they read off a radio's page every three seconds, the mount is
 * turned at a third of the speed, and everything takes three times as long.
 */
export class Pace {
  /** seconds of the clock to one of the guide */
  slowness = 1;
  private gapsS: number[] = [];
  private lastNewsS: number | null = null;
  private since = { tS: 0, guideS: 0 };

  /** A level that was told anew. */
  news(tS: number): void {
    if (this.lastNewsS !== null) this.gapsS.push(tS - this.lastNewsS);
    this.lastNewsS = tS;
    if (this.gapsS.length < gapsLookedAt) return;
    if (this.gapsS.length > gapsLookedAt) this.gapsS.shift();
    const gapS = [...this.gapsS].sort((a, b) => a - b)[Math.floor(gapsLookedAt / 2)] ?? 0;
    const slowness = gapS <= usualGapS ? 1 : Math.min(slowest, Math.max(leastSlow, gapS));
    if (Math.abs(slowness / this.slowness - 1) < worthChanging) return;
    this.since = { tS, guideS: this.guideS(tS) };
    this.slowness = slowness;
  }

  /** Another radio is listened to from now on. */
  forget(): void {
    this.gapsS = [];
    this.lastNewsS = null;
  }

  /** A moment of the clock by the time of the guide. */
  guideS(tS: number): number {
    return this.since.guideS + (tS - this.since.tS) / this.slowness;
  }
}
