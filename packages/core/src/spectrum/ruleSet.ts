import type { Channel } from './channel';

/** What a country allows in one piece of spectrum. */
export interface SpectrumRule {
  lowestMHz: number;
  highestMHz: number;
  mostEirpDbm: number;
  /** a radio must leave the channel when it sees radar (DFS) */
  radar: boolean;
  /** only with a licence, which names the frequencies */
  licensed?: boolean;
}

/** A country's rules for outdoor links, as they stand from a day on. They are data that is handed in: law changes, programs do not know it. */
export interface RuleSet {
  country: string;
  name: string;
  /** date, as in 2026-01-31 */
  validFrom: string;
  rules: SpectrumRule[];
}

/** The rules of a country among those at hand; undefined where none are known. */
export function lawOf(law: readonly RuleSet[], country: string): RuleSet | undefined {
  return law.find((set) => set.country === country);
}

/** The rules a channel falls under; empty where some part of it is not covered, that is, not allowed. Neighbouring pieces may join. */
export function rulesFor(law: RuleSet | null | undefined, channel: Channel, licensed = false): SpectrumRule[] {
  const low = channel.centreMHz - channel.widthMHz / 2;
  const high = channel.centreMHz + channel.widthMHz / 2;
  const touched = (law?.rules ?? [])
    .filter((r) => (r.licensed ?? false) === licensed && r.lowestMHz < high && r.highestMHz > low)
    .sort((a, b) => a.lowestMHz - b.lowestMHz);
  let coveredTo = low;
  for (const r of touched) if (r.lowestMHz <= coveredTo) coveredTo = Math.max(coveredTo, r.highestMHz);
  return coveredTo >= high ? touched : [];
}

/** The least EIRP limit over the rules a channel falls under, or undefined where the channel is not allowed. */
export function eirpLimitDbm(law: RuleSet | null | undefined, channel: Channel, licensed = false): number | undefined {
  const rules = rulesFor(law, channel, licensed);
  return rules.length ? Math.min(...rules.map((r) => r.mostEirpDbm)) : undefined;
}

/** Whether radar detection is required on a channel. */
export function needsRadarWatch(law: RuleSet | null | undefined, channel: Channel): boolean {
  return rulesFor(law, channel).some((r) => r.radar);
}
