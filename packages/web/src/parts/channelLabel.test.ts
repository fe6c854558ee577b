import { openLink, type RuleSet } from '@kivram/core/spectrum/ruleSet';
import { describe, expect, it } from 'vitest';
import { channelLabel } from './channelLabel';

const law: RuleSet = {
  country: 'XM',
  name: 'Made up',
  validFrom: '2026-01-31',
  rules: [
    { lowestMHz: 5470, highestMHz: 5725, mostEirpDbm: 27.04, radar: true },
    { lowestMHz: 5725, highestMHz: 5850, mostEirpDbm: 36, radar: false },
  ],
};

describe('a channel as it is offered', () => {
  it('says what is allowed on it, and that radar goes first', () => {
    const label = (centreMHz: number, by: RuleSet | null = law) =>
      channelLabel({ centreMHz, widthMHz: 40 }, by, openLink, 20);
    expect(label(5590)).toBe('118, 5590 MHz, up to 27 dBm EIRP, radar');
    expect(label(5795)).toBe('159, 5795 MHz, up to 36 dBm EIRP');
    expect(label(5795, null)).toBe('159, 5795 MHz');
  });
});
