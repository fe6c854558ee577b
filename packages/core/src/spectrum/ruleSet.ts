import type { Channel } from './channel';

/** What a country allows in one piece of spectrum. */
export interface SpectrumRule {
  lowestMHz: number;
  highestMHz: number;
  mostEirpDbm: number;
  /** a radio must leave the channel when it sees radar (DFS) */
  radar: boolean;
}

/** A country's rules for unlicensed outdoor links. */
export interface RuleSet {
  country: string;
  name: string;
  rules: SpectrumRule[];
}

const rule = (lowestMHz: number, highestMHz: number, mostEirpDbm: number, radar = false): SpectrumRule => ({
  lowestMHz,
  highestMHz,
  mostEirpDbm,
  radar,
});

/**
 * Two made-up countries (codes from ISO 3166's user-assigned range), for trying the program. Real law is editable data and is
 * not shipped yet: always check the national rules.
 */
export const ruleSets: readonly RuleSet[] = [
  {
    country: 'XT',
    name: 'Tessary Isles (made up)',
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
    name: 'Morrow Mainland (made up)',
    rules: [rule(2400, 2483.5, 20), rule(5470, 5725, 30, true), rule(57000, 64000, 55)],
  },
];

export function ruleSetOf(country: string): RuleSet | undefined {
  return ruleSets.find((set) => set.country === country);
}

/** The rules a channel falls under; empty where some part of it is not covered, that is, not allowed. Neighbouring pieces may join. */
export function rulesFor(country: string, channel: Channel): SpectrumRule[] {
  const low = channel.centreMHz - channel.widthMHz / 2;
  const high = channel.centreMHz + channel.widthMHz / 2;
  const touched = (ruleSetOf(country)?.rules ?? [])
    .filter((r) => r.lowestMHz < high && r.highestMHz > low)
    .sort((a, b) => a.lowestMHz - b.lowestMHz);
  let coveredTo = low;
  for (const r of touched) if (r.lowestMHz <= coveredTo) coveredTo = Math.max(coveredTo, r.highestMHz);
  return coveredTo >= high ? touched : [];
}

/** The least EIRP limit over the rules a channel falls under, or undefined where the channel is not allowed. */
export function eirpLimitDbm(country: string, channel: Channel): number | undefined {
  const rules = rulesFor(country, channel);
  return rules.length ? Math.min(...rules.map((r) => r.mostEirpDbm)) : undefined;
}

/** Whether radar detection is required on a channel. */
export function needsRadarWatch(country: string, channel: Channel): boolean {
  return rulesFor(country, channel).some((r) => r.radar);
}
