import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NumberError, parseNumber, withMinus } from './number';

describe('numbers as people type them', () => {
  it.each([
    ['12.5', 12.5],
    ['12,5', 12.5],
    ['0,125', 0.125],
    ['-3', -3],
    ['−3', -3],
    ['+7', 7],
    ['1 234,5', 1234.5],
    ['1,234.5', 1234.5],
    ['1.234,5', 1234.5],
    ["12'000", 12_000],
    [' 5. ', 5],
    ['.5', 0.5],
    [',5', 0.5],
    ['1234,567', 1234.567],
    ['1.234', 1.234],
  ])('reads %s', (text, value) => {
    expect(parseNumber(text)).toBeCloseTo(value, 12);
  });

  it('reads nothing as nothing, not as zero', () => {
    expect(parseNumber('')).toBeNull();
    expect(parseNumber('  ')).toBeNull();
  });

  it.each(['1,234', '12,345', '999,000'])('asks at "%s", which may be thousands or decimals', (text) => {
    expect(() => parseNumber(text)).toThrow('write one of these');
  });

  it.each(['twelve', '1e9', '0x10', 'NaN', 'Infinity', '12 m', '1..2', '1,2,3', '--4', '-', '5 6'])(
    'refuses "%s"',
    (text) => {
      expect(() => parseNumber(text)).toThrow(NumberError);
    },
  );

  it('answers or refuses, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        try {
          const value = parseNumber(text);
          expect(value === null || Number.isFinite(value)).toBe(true);
        } catch (error) {
          expect(error).toBeInstanceOf(NumberError);
        }
      }),
    );
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
