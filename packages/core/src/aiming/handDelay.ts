/** From hearing "stop" to standing still, before anything is known of this hand, seconds; and how many observations that is worth. */
const usualS = 0.3;
const usualWorth = 0.25;

/** Nobody is quicker. */
const quickestS = 0.1;
/** Longer than this nobody reacts: something else went on. */
const longestS = 4;
/** What is so many standard deviations under nothing is no delay. */
const unsureSds = 2;
/** An observation no better than this, one standard deviation, is worth one. */
const sureS = 0.3;

/** Learns how late a hand is. */
export class HandDelay {
  private sumS = usualS * usualWorth;
  private count = usualWorth;

  /** the delay to reckon with */
  get seconds(): number {
    return Math.max(quickestS, this.sumS / this.count);
  }

  /** @param sdS how well it was seen, one standard deviation */
  observe(seconds: number, sdS = sureS): void {
    // What is read off a noisy angle may come out below nothing: were that left out, the mean would be too long.
    if (!(seconds >= -unsureSds * sdS && seconds <= longestS)) return;
    const worth = Math.min(1, (sureS / sdS) ** 2);
    this.sumS += worth * seconds;
    this.count += worth;
  }
}
