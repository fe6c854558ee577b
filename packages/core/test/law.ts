import type { RuleSet, SpectrumRule } from '../src/spectrum/ruleSet';

const rule = (lowestMHz: number, highestMHz: number, mostEirpDbm: number, radar = false): SpectrumRule => ({
  lowestMHz,
  highestMHz,
  mostEirpDbm,
  radar,
});

/** Two made-up countries, with codes of the range that ISO 3166 leaves to users, so that no real country is spoken for. */
export const testLaw: readonly RuleSet[] = [
  {
    country: 'XT',
    name: 'Testland',
    validFrom: '2026-01-01',
    rules: [
      rule(2400, 2483.5, 20),
      rule(5150, 5250, 23),
      rule(5250, 5350, 23, true),
      rule(5470, 5725, 30, true),
      rule(5725, 5850, 36),
      rule(57000, 66000, 55),
    ],
  },
  {
    country: 'XM',
    name: 'Otherland',
    validFrom: '2026-01-01',
    rules: [rule(2400, 2483.5, 20), rule(5470, 5725, 30, true), rule(57000, 64000, 55)],
  },
];
