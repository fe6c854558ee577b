import { licenceRules, type Licence } from './licence';
import type { RuleSet, SpectrumRule } from './ruleSet';

/** A rule that stands in for the country's in one job. */
export interface LocalRule {
  lowestMHz: number;
  highestMHz: number;
  mostEirpDbm: number;
  mostWidthMHz: number | null;
  radar: boolean;
  reason: string;
}

/** A country's law with what was noted for one job before it. Where nothing is known of the country, what was noted is all there is. */
export function lawInJob(
  law: RuleSet | null,
  country: string,
  localRules: readonly LocalRule[],
  licences: readonly Licence[],
): RuleSet | null {
  if (!localRules.length && !licences.length) return law;
  const own = localRules.map(({ lowestMHz, highestMHz, mostEirpDbm, mostWidthMHz, radar, reason }): SpectrumRule => ({
    lowestMHz,
    highestMHz,
    mostEirpDbm,
    radar,
    mostWidthMHz: mostWidthMHz ?? undefined,
    layer: 'local',
    source: `noted for this job: ${reason}`,
  }));
  return {
    ...(law ?? { country, name: `${country}, as noted for this job`, validFrom: '2000-01-01' }),
    rules: [...own, ...licences.flatMap(licenceRules), ...(law?.rules ?? [])],
  };
}
