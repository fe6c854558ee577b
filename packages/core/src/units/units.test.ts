import { describe, expect, it, vi } from 'vitest';
import { heightIn, lengthIn, metresFrom } from '.';
import { dateText } from './moment';

describe('units of length', () => {
  it('knows the international foot and mile (NIST SP 811: 0.3048 m and 1609.344 m exactly)', () => {
    expect(lengthIn('imperial', 1609.344)).toMatchObject({ value: 1, unit: 'mi' });
    expect(lengthIn('imperial', 30.48)).toMatchObject({ value: expect.closeTo(100, 9), unit: 'ft' });
    expect(metresFrom('imperial', 10)).toBeCloseTo(3.048, 9);
    expect(metresFrom('metric', 10)).toBe(10);
  });

  it('changes unit with the size of a distance but not of a height', () => {
    expect(lengthIn('metric', 999)).toMatchObject({ value: 999, unit: 'm' });
    expect(lengthIn('metric', 1873)).toMatchObject({ value: 1.873, unit: 'km', digits: 3 });
    expect(heightIn('metric', 1873)).toMatchObject({ value: 1873, unit: 'm' });
    expect(heightIn('imperial', 304.8)).toMatchObject({ value: expect.closeTo(1000, 9), unit: 'ft' });
  });
});

describe('days', () => {
  it('without a time are the same everywhere', () => {
    for (const zone of ['America/New_York', 'UTC', 'Pacific/Auckland']) {
      vi.stubEnv('TZ', zone);
      expect(dateText('2026-12-31'), zone).toBe('31 Dec 2026');
    }
    vi.unstubAllEnvs();
  });
});
