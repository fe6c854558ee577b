import { allowanceOf, isJudged, licensedAllowance, type Allowance } from './allowance';
import type { Channel } from './channel';
import { licenceRefusal, type Licence } from './licence';
import { lawRefusal } from './refusal';
import { isKnown, type RuleSet, type SpectrumUse } from './ruleSet';

/** By what right something is sent: the law of the job, and of a licensed pair its licence, on a day. */
export interface Right {
  /** null where no rules are known */
  law: RuleSet | null | undefined;
  /** whether it is a licensed pair: then the licence says what is allowed, and the country's rules nothing */
  isLicensed: boolean;
  licence: Licence | null | undefined;
  /** as in 2026-01-31 */
  day: string;
}

/** What the law says of a channel. */
export interface LawAnswer {
  /** whether anything is known of what is allowed */
  known: boolean;
  /** undefined where nothing is allowed, or nothing known */
  allowance: Allowance | undefined;
  /** whether it is known that nothing is allowed; `refusalWords` says why */
  isForbidden: boolean;
}

/** Asks whether and how strongly one may send on a channel. @param eirpDbm what is to be sent, where that is known */
export function askLaw(
  { law, isLicensed, licence, day }: Right,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
  eirpDbm?: number,
): LawAnswer {
  const allowance = isLicensed
    ? licensedAllowance(law, licence, channel, gainDbi, day)
    : allowanceOf(law, channel, use, gainDbi, eirpDbm);
  return {
    known: isLicensed || isKnown(law),
    allowance,
    isForbidden: !allowance && (isLicensed || (!!law && isJudged(law, channel))),
  };
}

/** Why nothing is allowed on a channel that is forbidden, in words that begin small. */
export function refusalWords(
  { law, isLicensed, licence, day }: Right,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
): string {
  if (isLicensed) return licenceRefusal(licence, channel, day) ?? 'what was noted for this job leaves no such channel';
  return law ? lawRefusal(law, channel, use, gainDbi) : 'no rules are known';
}
