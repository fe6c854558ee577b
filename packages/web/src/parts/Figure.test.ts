import { describe, expect, it } from 'vitest';
import { typeset, withMinus } from './Figure';

describe('figures', () => {
  it.each([
    [-52.14, 1, false, '−52.1'],
    [3, 1, true, '+3.0'],
    [-3, 0, true, '−3'],
    [0, 1, true, '0.0'],
    [-0.04, 1, true, '0.0'],
    [-0.04, 1, false, '0.0'],
    [655.4, 0, false, '655'],
  ])('%f with %i digits, signed %s: %s', (value, digits, signed, text) => {
    expect(typeset(value, digits, signed)).toBe(text);
  });
});

describe('a sentence', () => {
  it.each([
    ['level predicted at the near end -51.2 to -53 dBm', 'level predicted at the near end −51.2 to −53 dBm'],
    ['(-3 dB)', '(−3 dB)'],
    ['-4 dBm', '−4 dBm'],
    ['WPA2-PSK, 2026-05-04, tessary-harbour-2', 'WPA2-PSK, 2026-05-04, tessary-harbour-2'],
  ])('has one minus sign: %s', (text, words) => {
    expect(withMinus(text)).toBe(words);
  });
});
