import { describe, expect, it } from 'vitest';
import { combinedDbm, evidenceOfWays } from './levelWay';

describe('levels that are got in several ways', () => {
  it('are known no better than the weakest of them', () => {
    expect(evidenceOfWays(['snmp', 'http'])).toBe('measured');
    expect(evidenceOfWays(['snmp', 'typed'])).toBe('told');
    expect(evidenceOfWays(['table', 'standin'])).toBe('standin');
  });

  it('add up as powers over the chains: two equal ones are 3.01 dB more than one', () => {
    expect(combinedDbm([])).toBeNull();
    expect(combinedDbm([-60])).toBeCloseTo(-60, 9);
    expect(combinedDbm([-60, -60])).toBeCloseTo(-56.99, 2);
    expect(combinedDbm([-60, -90])).toBeCloseTo(-60, 1);
  });
});
