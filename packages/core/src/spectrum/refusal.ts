import { serves } from './allowance';
import type { Channel } from './channel';
import { contains, overlaps, type RuleSet, type SpectrumRule, type SpectrumUse } from './ruleSet';

/**
 * Why the law allows nothing on a channel for a use, in words that begin small: the rule that comes closest to allowing it, and what stands in its way. Only asked where `allowanceOf` found
 * nothing.
 */
export function lawRefusal(law: RuleSet, channel: Channel, use: SpectrumUse, gainDbi: number): string {
  const { centreMHz, widthMHz } = channel;
  const near = law.rules.filter((rule) => overlaps(rule, channel));
  const grants = near.filter((rule) => rule.layer !== 'restriction');
  const restriction = near.find((rule) => rule.layer === 'restriction' && widthMHz > (rule.mostWidthMHz ?? Infinity));
  const which = `${round(centreMHz)} MHz, ${round(widthMHz)} MHz wide`;
  if (restriction && (law.countryUnknown || grants.some((rule) => serves(rule, use, gainDbi))))
    return `${which}: at most ${round(restriction.mostWidthMHz ?? widthMHz)} MHz, ${restriction.source ?? 'as noted for this job'}`;
  if (!grants.length) return `no rule of ${law.name} allows ${which}`;
  const barred =
    grants.find((rule) => contains(rule, channel) && !serves(rule, use, gainDbi)) ??
    grants.find((rule) => !serves(rule, use, gainDbi));
  if (barred && !grants.some((rule) => contains(rule, channel) && serves(rule, use, gainDbi)))
    return `${bandText(barred)} ${barWords(barred, use)} in ${law.name}`;
  const widest = Math.max(...grants.map((rule) => rule.mostWidthMHz ?? 0));
  if (grants.some((rule) => contains(rule, channel)) && widest > 0 && widest < widthMHz)
    return `${law.name} allows channels of at most ${round(widest)} MHz here, and this one is ${round(widthMHz)} MHz wide`;
  return `${which} lies over an edge of the rules of ${law.name}: radios that keep to them refuse it`;
}

function bandText({ lowestMHz, highestMHz }: SpectrumRule): string {
  return `${round(lowestMHz)} to ${round(highestMHz)} MHz`;
}

/** What a rule that is not for a use is for. */
function barWords(rule: SpectrumRule, use: SpectrumUse): string {
  if (rule.indoor && use.outdoor) return 'is for indoors only';
  if (rule.joinOnly) return 'is for joining others, not for an access point,';
  if (rule.pointToPoint && !use.pointToPoint) return 'is for two fixed points only, not for a hub,';
  return `is for antennas of at least ${rule.leastGainDbi ?? 0} dBi`;
}

function round(value: number): number {
  return Number(value.toFixed(5));
}
