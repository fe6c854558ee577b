import { minutesAYear } from '@kivram/core/budget/availability';
import { describe, expect, it } from 'vitest';
import { availabilityText, needTime, shortTime } from './shortTime';

describe('a time of a year', () => {
  it.each([
    [0, 'never'],
    [0.2, 'under 1 min'],
    [53, '53 min'],
    [150, '2.5 h'],
    [2000, '33 h'],
    [20_000, '14 days'],
    [minutesAYear, 'all of it'],
  ])('%d minutes are %s', (minutes, words) => {
    expect(shortTime(minutes)).toBe(words);
  });

  it.each([
    [0.1, 'over 99.999 %'],
    [52.6, '99.99 %'],
    [526, '99.9 %'],
    [5260, '99.0 %'],
    [minutesAYear / 2, '50.0 %'],
    [minutesAYear, '0 %'],
  ])('without %d minutes a year is there for %s', (minutes, words) => {
    expect(availabilityText(minutes)).toBe(words);
  });

  it('are not reckoned in a shaft, whose walls shift levels: "never" would be no truth', () => {
    const below = { clearMin: 0, rainMin: 0, multipathMin: 0, totalMin: 0 };
    expect(needTime({ need: { fadeDb: 8, below }, ride: [] })).toBe('not reckoned');
    expect(needTime({ need: { fadeDb: 8, below }, ride: null })).toBe('never');
    expect(needTime({ need: null, ride: null })).toBe('–');
  });
});
