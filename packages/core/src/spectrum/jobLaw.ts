import type { RuleSet, SpectrumRule } from './ruleSet';

/** What was noted for one job: a restriction, whatever else is allowed, or what an authority permits. */
export interface LocalRule {
  lowestMHz: number;
  highestMHz: number;
  mostEirpDbm: number;
  mostWidthMHz: number | null;
  radar: boolean;
  reason: string;
  /** the last day on which it permits this, as in 2026-01-31; null: it permits nothing, it restricts */
  permitUntil: string | null;
  /** whether what it permits may be outdoors */
  permitsOutdoors: boolean;
}

/**
 * A country's law with what was noted for one job. Where nothing is known of the country that stays so: what was noted is all there is.
 * @param day as in 2026-01-31; what is permitted until a day before it is permitted no longer
 */
export function lawInJob(
  law: RuleSet | null,
  country: string,
  localRules: readonly LocalRule[],
  day: string,
): RuleSet | null {
  const own = localRules.filter((rule) => isRunning(rule, day)).map(ruleOf);
  if (!own.length) return law;
  return {
    ...(law ?? { country, name: country, validFrom: '2000-01-01', countryUnknown: true }),
    rules: [...own, ...(law?.rules ?? [])],
  };
}

/** A restriction always holds, a permit until its last day. */
export function isRunning({ permitUntil }: Pick<LocalRule, 'permitUntil'>, day: string): boolean {
  return permitUntil === null || permitUntil >= day;
}

function ruleOf({ reason, permitUntil, permitsOutdoors, mostWidthMHz, ...rule }: LocalRule): SpectrumRule {
  const { lowestMHz, highestMHz, mostEirpDbm, radar } = rule;
  return {
    lowestMHz,
    highestMHz,
    mostEirpDbm,
    radar,
    mostWidthMHz: mostWidthMHz ?? undefined,
    ...(permitUntil === null
      ? { layer: 'restriction', source: `noted for this job: ${reason}` }
      : {
          layer: 'permit',
          indoor: !permitsOutdoors,
          source: `permitted until ${permitUntil}, noted for this job: ${reason}`,
        }),
  };
}
