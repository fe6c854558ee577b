/** Until two refreshments were seen a radio is taken to tell a level once a second (common practice, no source). */
const presumedPeriodS = 1;
/** Gaps between changes that are remembered; a quarter of them may be short by late answers. */
const rememberedGaps = 16;
const quantile = 0.25;
/** A change may come late by this share of a period; an equal value after that was measured anew. */
const lateShare = 0.25;

/**
 * Tells values that a radio has measured anew from those that it only repeats: asked ten times a second, many a radio answers the same figure until its next
 * measurement. The period is learned from the gaps between changes; a value that stays the same for longer was measured again and came out equal.
 */
export class Freshness {
  private gapsS: number[] = [];
  private last: { values: string; newS: number; changedS: number } | null = null;

  /** Seconds from one measurement of the radio to the next, as far as is known. */
  get periodS(): number {
    if (this.gapsS.length < 2) return presumedPeriodS;
    const sorted = [...this.gapsS].sort((a, b) => a - b);
    return sorted[Math.floor(quantile * sorted.length)] ?? presumedPeriodS;
  }

  /**
   * Whether values are new ones.
   * @param tS when they were asked for, seconds, never less than before
   * @param values everything that the radio told at once: the more of it, the sooner a refreshment shows
   */
  isNew(tS: number, values: readonly (number | null)[]): boolean {
    const text = JSON.stringify(values);
    const { last } = this;
    if (!last) {
      this.last = { values: text, newS: tS, changedS: tS };
      return true;
    }
    if (text !== last.values) {
      this.gapsS.push(tS - last.changedS);
      if (this.gapsS.length > rememberedGaps) this.gapsS.shift();
      this.last = { values: text, newS: tS, changedS: tS };
      return true;
    }
    const { periodS } = this;
    if (tS - last.newS < (1 + lateShare) * periodS) return false;
    // It was measured a period after the last one, and is seen only now.
    last.newS = Math.max(last.newS + periodS, tS - periodS);
    return true;
  }
}
