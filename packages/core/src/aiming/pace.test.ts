import { describe, expect, it } from 'vitest';
import { Pace } from './pace';

const heard = (...gapsS: number[]): Pace => {
  const pace = new Pace();
  let tS = 0;
  for (const gapS of gapsS) pace.news((tS += gapS));
  return pace;
};

describe('the pace of a guide', () => {
  it('is that of the clock where levels come twice a second or more often, and a little slower where they come every second', () => {
    expect(heard(...Array<number>(20).fill(0.1)).slowness).toBe(1);
    expect(heard(...Array<number>(20).fill(0.5)).slowness).toBe(1);
    expect(heard(...Array<number>(20).fill(1)).slowness).toBe(1.4);
  });

  it('follows whoever types every three seconds, and no single pause', () => {
    const pace = heard(0, 3, 3, 3, 20, 3, 3);
    expect(pace.slowness).toBe(3);
    expect(heard(0, 60, 60, 60, 60, 60).slowness).toBe(8);
  });

  it('lets its time go on without a jump, and slower from then on', () => {
    const pace = heard(0, 4, 4, 4, 4, 4);
    expect(pace.guideS(20)).toBe(20);
    expect(pace.guideS(28)).toBe(22);
    pace.forget();
    for (let i = 0; i <= 6; i++) pace.news(28 + i / 10);
    expect(pace.slowness).toBe(1);
    expect(pace.guideS(29.6)).toBeGreaterThan(23);
  });
});
