import type { RuleSet, SpectrumRule } from '@kivram/core';

const rule = (lowestMHz: number, highestMHz: number, mostEirpDbm: number, radar = false): SpectrumRule => ({
  lowestMHz,
  highestMHz,
  mostEirpDbm,
  radar,
});

/** Two made-up countries (codes from ISO 3166's user-assigned range), for trying the program. Always check the national rules. */
export const law: RuleSet[] = [
  {
    country: 'XT',
    name: 'Tessary Isles (made up)',
    validFrom: '2026-01-01',
    rules: [
      { ...rule(440, 470, 47), licensed: true },
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
    name: 'Morrow Mainland (made up)',
    validFrom: '2026-01-01',
    rules: [rule(2400, 2483.5, 20), rule(5470, 5725, 30, true), rule(57000, 64000, 55)],
  },
];
