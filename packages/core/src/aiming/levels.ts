import { tukeyWeight } from './lobeFit';
import type { AimSample } from './reading';

/** A level of several readings, with one standard deviation of its mean. */
export interface MeanLevel {
  dbm: number;
  sdDb: number;
  count: number;
}

/** A reading this far from the middle of the others is a person in the beam, not the level. */
const huberDb = 2.5;
const huberRounds = 6;
const rounds = 12;
const stillDb = 1e-6;

/** Fading is forgotten within a block of so many seconds; fewer blocks tell nothing. */
const blockS = 2;
const leastBlocks = 4;

/** What is remembered, seconds: longer than any rest. */
const rememberedS = 60;

/** Radios that tell a level once a second are heard as long as one such second is missing. */
const oldestS = 2.5;

/** The levels that a radio told, as they came: values that were not refreshed are no second reading. */
export class Levels {
  private list: { tS: number; dbm: number | null }[] = [];
  private nowS = 0;

  push(sample: Pick<AimSample, 'tS' | 'rslDbm' | 'isRepeat' | 'ageS'>): void {
    this.nowS = sample.tS;
    if (sample.isRepeat) return;
    this.list.push({ tS: sample.tS - (sample.ageS ?? 0), dbm: sample.rslDbm });
    if (this.list.length > 1000) this.list = this.list.filter(({ tS }) => tS > sample.tS - rememberedS);
  }

  /** Mean over the last seconds, or the last reading where none came in them; null where most were silent, or the last is old. */
  recentDbm(seconds: number): number | null {
    let sum = 0;
    let heard = 0;
    let count = 0;
    for (let i = this.list.length - 1; i >= 0; i--) {
      const level = this.list[i];
      if (!level || (count && level.tS < this.nowS - seconds) || level.tS < this.nowS - oldestS) break;
      count++;
      if (level.dbm !== null) {
        sum += level.dbm;
        heard++;
      }
    }
    return heard * 2 >= count && heard > 0 ? sum / heard : null;
  }

  /** How many new readings came since. */
  countSince(sinceS: number): number {
    let count = 0;
    for (let i = this.list.length - 1; i >= 0 && (this.list[i]?.tS ?? 0) > sinceS; i--) count++;
    return count;
  }

  /**
   * The level between two moments, by the same redescending weights as the fit of a lobe takes its levels.
   * @param scatterDb how much single readings scatter, and how many of them say no more than one
   * @returns null where most were silent
   */
  between(sinceS: number, untilS: number, scatterDb: number, inflation: number): MeanLevel | null {
    const part = this.list.filter(({ tS }) => tS > sinceS && tS <= untilS);
    const heard: number[] = [];
    for (const { dbm } of part) if (dbm !== null) heard.push(dbm);
    if (!heard.length || heard.length * 2 < part.length) return null;
    let mean = heard.reduce((sum, dbm) => sum + dbm, 0) / heard.length;
    for (let round = 0; round < rounds; round++) {
      const before = mean;
      let sum = 0;
      let weights = 0;
      for (const dbm of heard) {
        const off = Math.abs(dbm - mean);
        const weight = round < huberRounds ? Math.min(1, huberDb / Math.max(1e-9, off)) : tukeyWeight(off);
        sum += weight * dbm;
        weights += weight;
      }
      if (weights > 0) mean = sum / weights;
      // It stands still: on to the other weights, or done.
      if (Math.abs(mean - before) < stillDb) {
        if (round >= huberRounds) break;
        round = huberRounds - 1;
      }
    }
    const worth = Math.max(1, heard.length / Math.max(1, inflation));
    const sdDb = Math.max(0.1, scatterDb / Math.sqrt(worth), sdByBlocks(part, sinceS));
    return { dbm: mean, sdDb, count: heard.length };
  }
}

/**
 * How well a mean is known whose readings fade together, dB: by how much means over blocks of some seconds differ (the method of batch means, Conway 1963).
 * @returns 0 where there are too few blocks
 */
function sdByBlocks(part: readonly { tS: number; dbm: number | null }[], sinceS: number): number {
  const blocks = new Map<number, { sum: number; count: number }>();
  for (const { tS, dbm } of part) {
    if (dbm === null) continue;
    const key = Math.floor((tS - sinceS) / blockS);
    const { sum, count } = blocks.get(key) ?? { sum: 0, count: 0 };
    blocks.set(key, { sum: sum + dbm, count: count + 1 });
  }
  if (blocks.size < leastBlocks) return 0;
  const means = [...blocks.values()].map(({ sum, count }) => sum / count);
  const mean = means.reduce((sum, dbm) => sum + dbm, 0) / means.length;
  const squares = means.reduce((sum, dbm) => sum + (dbm - mean) ** 2, 0);
  return Math.sqrt(squares / (means.length - 1) / means.length);
}
