import { describe, expect, it } from 'vitest';
import { typeset } from './Figure';

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
