import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import type { Licence, LocalRule } from '../entities/law';

/** A country whose rules are at hand. */
export type KnownLaw = Pick<RuleSet, 'country' | 'name' | 'validFrom'> & { source: string | null };

/** What a job may send, and by what right. */
export interface JobLawView {
  /** of its country; null where none is known */
  law: RuleSet | null;
  localRules: LocalRule[];
  licences: Licence[];
  /** today at the server, as in 2026-01-31: what ends, ends by its day */
  day: string;
}
