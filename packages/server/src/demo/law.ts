import type { RuleSet, SpectrumRule } from '@kivram/core/spectrum/ruleSet';

const rule = (lowestMHz: number, highestMHz: number, mostEirpDbm: number, radar = false): SpectrumRule => ({
  lowestMHz,
  highestMHz,
  mostEirpDbm,
  radar,
});

const source = 'made up for the demo';

/**
 * Two made-up countries (codes from ISO 3166's user-assigned range), in the form that real ones have: bands that join, one for indoors, and above them rules for links
 * between two points. Always check the national rules.
 */
export const law: RuleSet[] = [
  {
    country: 'XT',
    name: 'Tessary Isles (made up)',
    validFrom: '2026-01-01',
    source,
    rules: [
      rule(2400, 2483.5, 20),
      rule(5150, 5250, 23),
      rule(5250, 5350, 23, true),
      rule(5470, 5650, 36),
      rule(5650, 5725, 30, true),
      rule(5725, 5850, 36),
      { ...rule(5925, 6425, 23), indoor: true, alone: true, mostWidthMHz: 160 },
      { ...rule(57000, 66000, 40), alone: true, mostWidthMHz: 2160 },
      {
        ...rule(57000, 66000, 55),
        layer: 'fixedLink',
        leastGainDbi: 30,
        eirpByGain: [
          [0, 20],
          [60, 80],
        ],
        source: 'fixed links at 60 GHz, made up for the demo',
      },
    ],
  },
  {
    country: 'XM',
    name: 'Morrow Mainland (made up)',
    validFrom: '2026-01-01',
    source,
    rules: [rule(2400, 2483.5, 20), rule(5470, 5725, 30, true), rule(57000, 64000, 55)],
  },
];
