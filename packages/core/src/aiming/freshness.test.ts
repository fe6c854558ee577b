import { describe, expect, it } from 'vitest';
import { Freshness } from './freshness';

/** Asks ten times a second for so long what a radio tells at a moment, and counts what is taken for new in the last ten seconds. */
function newIn(seconds: number, told: (tS: number) => number | null): number {
  const freshness = new Freshness();
  let count = 0;
  for (let i = 0; i < seconds * 10; i++)
    if (freshness.isNew(i / 10, [told(i / 10)]) && i >= (seconds - 10) * 10) count++;
  return count;
}

/** A level that falls by a decibel each second. */
const falling = (tS: number): number => -60 - Math.floor(tS);

describe('what a radio has measured anew', () => {
  it('is one value a second where it measures once a second, however often it is asked', () => {
    expect(newIn(30, falling)).toBe(10);
  });

  it('is every answer where each differs', () => {
    expect(newIn(20, (tS) => -60 - Math.round(tS * 10) / 100)).toBe(100);
  });

  it('is counted by the period where the level stands still: equal is not old', () => {
    expect(newIn(40, (tS) => (tS < 20 ? -60 - (Math.round(tS * 10) % 3) : -60))).toBeGreaterThan(90);
    expect(newIn(40, (tS) => (tS < 20 ? falling(tS) : -80))).toBe(10);
  });

  it('is once a second as long as nothing is known of the radio, silence too', () => {
    expect(newIn(20, () => null)).toBe(10);
    expect(new Freshness().periodS).toBe(1);
  });

  it('is not doubled by single answers that come late', () => {
    const freshness = new Freshness();
    let count = 0;
    for (let i = 0; i < 600; i++) {
      // Every tenth measurement is seen 0.3 s late, so the gap after it seems short.
      const second = Math.floor(i / 10);
      const told = second % 10 === 9 && i % 10 < 3 ? second - 1 : second;
      if (freshness.isNew(i / 10, [told])) count++;
    }
    expect(count).toBeGreaterThanOrEqual(60);
    expect(count).toBeLessThanOrEqual(66);
  });
});
