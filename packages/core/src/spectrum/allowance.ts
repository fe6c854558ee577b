import { dateText } from '../units/moment';
import { sameDb } from '../units/tolerance';
import type { Channel } from './channel';
import { licenceRefusal, type Licence } from './licence';
import {
  carries,
  covering,
  needsRadarWatch,
  overlaps,
  type RuleSet,
  type SpectrumRule,
  type SpectrumUse,
} from './ruleSet';

/** What the law allows on a channel, and by which of its rules. */
export interface Allowance {
  mostEirpDbm: number;
  radar: boolean;
  /** those it is allowed by, and those that restrict it */
  rules: readonly SpectrumRule[];
  /** why nobody should build by it before it was looked up, in words; empty where nothing is doubtful */
  doubts: readonly string[];
}

/**
 * What the law allows with an antenna on a channel. Of the country's rules, those for fixed links and what is permitted in the job, the one counts that allows most; whatever restricts the job
 * and reaches into the channel tightens that.
 * @param eirpDbm what is to be sent, where that is known: it decides between a rule that is sure and one that allows more and is doubtful
 * @returns undefined where the channel is not allowed, or nothing is known of the country and nothing noted for the channel
 */
export function allowanceOf(
  law: RuleSet | null | undefined,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
  eirpDbm = -Infinity,
): Allowance | undefined {
  if (!law) return undefined;
  const layers = layersOf(law);
  const restrictions = layers.restrictions.filter((rule) => overlaps(rule, channel));
  const best = bestOf(law, layers, channel, use, gainDbi, eirpDbm);
  return tightened(
    best ?? (law.countryUnknown && restrictions.length ? nothingKnown : undefined),
    restrictions,
    channel,
    gainDbi,
  );
}

/** The rules of a set by what they do. */
interface Layers {
  /** the country's: pieces that join, and those that stand alone */
  joining: SpectrumRule[];
  alone: SpectrumRule[];
  /** rules for fixed links and permits */
  above: SpectrumRule[];
  restrictions: SpectrumRule[];
}

/** Of each set once: a ranking asks for thousands of channels. */
const knownLayers = new WeakMap<RuleSet, Layers>();

function layersOf(law: RuleSet): Layers {
  let layers = knownLayers.get(law);
  if (!layers) {
    layers = { joining: [], alone: [], above: [], restrictions: [] };
    for (const rule of law.rules) {
      if (rule.layer === 'restriction') layers.restrictions.push(rule);
      else if (rule.layer) layers.above.push(rule);
      else (rule.alone ? layers.alone : layers.joining).push(rule);
    }
    knownLayers.set(law, layers);
  }
  return layers;
}

/**
 * What a licence allows on a channel, tightened by what restricts the job; the rules of the country say nothing of licensed frequencies.
 * @param day as in 2026-01-31
 * @returns undefined where it allows nothing; `licenceRefusal` says why
 */
export function licensedAllowance(
  law: RuleSet | null | undefined,
  licence: Licence | null | undefined,
  channel: Channel,
  gainDbi: number,
  day: string,
): Allowance | undefined {
  if (!licence || licenceRefusal(licence, channel, day)) return undefined;
  const { mostEirpDbm, number, validUntil } = licence;
  const rule: SpectrumRule = {
    lowestMHz: channel.centreMHz - channel.widthMHz / 2,
    highestMHz: channel.centreMHz + channel.widthMHz / 2,
    mostEirpDbm,
    radar: false,
    source: `licence ${number}, valid until ${dateText(validUntil)}`,
  };
  const restrictions = (law?.rules ?? []).filter((r) => r.layer === 'restriction' && overlaps(r, channel));
  return tightened({ mostEirpDbm, radar: false, rules: [rule], doubts: [] }, restrictions, channel, gainDbi);
}

/** Whether it is known that the law allows nothing on a channel for a use. */
export function isForbidden(
  law: RuleSet | null | undefined,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
): law is RuleSet {
  return !!law && !allowanceOf(law, channel, use, gainDbi) && isJudged(law, channel);
}

/** Whether anything is known that could forbid a channel: the country's rules, or what was noted for the job. */
export function isJudged(law: RuleSet, channel: Channel): boolean {
  return !law.countryUnknown || law.rules.some((rule) => rule.layer === 'restriction' && overlaps(rule, channel));
}

/** Nothing is doubtful. */
const sure: readonly string[] = [];

/** Stands for a country of which nothing is known: no limit but those that were noted. */
const nothingKnown: Allowance = { mostEirpDbm: Infinity, radar: false, rules: [], doubts: [] };

function bestOf(
  law: RuleSet,
  { joining, alone, above }: Layers,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
  eirpDbm: number,
): Allowance | undefined {
  let best: Allowance | undefined;
  const take = (rules: readonly SpectrumRule[], doubts: readonly string[]): void => {
    best = better(best, allowedBy(rules, channel, gainDbi, doubts), eirpDbm);
  };
  // Pieces that join carry a channel together, others each by itself.
  const row = covering(
    joining.filter((rule) => overlaps(rule, channel) && serves(rule, use, gainDbi)),
    channel,
  );
  if (row.length) take(row, outdoorDoubts(law, channel, use));
  for (const rule of alone)
    if (carries(rule, channel) && serves(rule, use, gainDbi)) take([rule], outdoorDoubts(law, channel, use));
  const isKnown = best !== undefined;
  for (const rule of above) {
    if (!carries(rule, channel) || !serves(rule, use, gainDbi)) continue;
    const shared = sharedDoubts(rule, channel);
    const doubts = isKnown ? shared : [...beyondDoubts(law, rule), ...shared];
    // No permit lifts the country's radar.
    const isWatched = rule.layer === 'permit' && needsRadarWatch(law, channel);
    take([isWatched ? { ...rule, radar: true } : rule], doubts);
  }
  return best;
}

function allowedBy(
  rules: readonly SpectrumRule[],
  { widthMHz }: Channel,
  gainDbi: number,
  doubts: readonly string[],
): Allowance {
  return {
    mostEirpDbm: Math.min(...rules.map((rule) => limitDbm(rule, widthMHz, gainDbi))),
    radar: rules.some((rule) => rule.radar),
    rules,
    doubts,
  };
}

/** Of two allowances the one that allows what is to be sent; then the one that nothing is doubtful about, for silence is no permission; then the one with the higher limit; then the one without radar. */
function better(known: Allowance | undefined, other: Allowance, eirpDbm: number): Allowance {
  if (!known) return other;
  const isEnough = (allowance: Allowance): boolean => allowance.mostEirpDbm + sameDb >= eirpDbm;
  if (isEnough(known) !== isEnough(other)) return isEnough(known) ? known : other;
  if (!known.doubts.length !== !other.doubts.length) return known.doubts.length ? other : known;
  const [a, b] = [known.mostEirpDbm, other.mostEirpDbm];
  return b > a || (b === a && known.radar && !other.radar) ? other : known;
}

/** An allowance with what was noted for the job against it. */
function tightened(
  allowance: Allowance | undefined,
  restrictions: readonly SpectrumRule[],
  { widthMHz }: Channel,
  gainDbi: number,
): Allowance | undefined {
  if (!allowance || !restrictions.length) return allowance;
  if (restrictions.some((rule) => widthMHz > (rule.mostWidthMHz ?? Infinity))) return undefined;
  return {
    ...allowance,
    mostEirpDbm: Math.min(allowance.mostEirpDbm, ...restrictions.map((rule) => limitDbm(rule, widthMHz, gainDbi))),
    radar: allowance.radar || restrictions.some((rule) => rule.radar),
    rules: [...allowance.rules, ...restrictions],
  };
}

/**
 * Between these frequencies local networks are for indoors by the treaty, unless a country says otherwise (ITU Radio Regulations 5.446A, Resolution 229 (WRC-03); from memory): a database that
 * leaves the word out has not said otherwise.
 */
const indoorsByTreatyMHz = [5150, 5350] as const;

function outdoorDoubts(
  { source }: RuleSet,
  { centreMHz, widthMHz }: Channel,
  { outdoor }: SpectrumUse,
): readonly string[] {
  const [low, high] = indoorsByTreatyMHz;
  if (!outdoor || centreMHz - widthMHz / 2 >= high || centreMHz + widthMHz / 2 <= low) return sure;
  return [
    `the database says nothing about outdoors here, and by treaty ${low} to ${high} MHz is for indoors unless the country says otherwise: look it up${source ? ` (${source})` : ''}`,
  ];
}

/** What a rule for fixed links opens although the country's own row leaves it out. */
function beyondDoubts({ name, source }: RuleSet, rule: SpectrumRule): string[] {
  if (rule.layer !== 'fixedLink') return [];
  return [
    `the rules of ${name} leave this channel out (${source ?? 'no source'}), and only ${rule.source ?? 'a rule for fixed links'} opens it, written down from memory: look it up`,
  ];
}

/** What a rule opens although others have a better right to a part of it, or the country leaves that out. */
function sharedDoubts({ source, leftOut }: SpectrumRule, channel: Channel): readonly string[] {
  if (!leftOut || !overlaps(leftOut, channel)) return sure;
  const { lowestMHz, highestMHz, reason } = leftOut;
  return [
    `${lowestMHz} to ${highestMHz} MHz ${reason}, while ${source ?? 'a rule for fixed links'} opens it; both from memory: look it up`,
  ];
}

/** Whether a rule is for such a use at all. */
export function serves(rule: SpectrumRule, use: SpectrumUse, gainDbi: number): boolean {
  if (rule.joinOnly || (rule.indoor && use.outdoor)) return false;
  if (rule.pointToPoint && !use.pointToPoint) return false;
  return gainDbi >= (rule.leastGainDbi ?? -Infinity);
}

/** The EIRP that one rule allows a channel of a width with an antenna. */
function limitDbm({ mostEirpDbm, eirpByGain, mostDbmPerMHz }: SpectrumRule, widthMHz: number, gainDbi: number): number {
  let limit = mostEirpDbm;
  if (eirpByGain) limit = Math.min(limit, onLine(eirpByGain, gainDbi));
  if (mostDbmPerMHz !== undefined) limit = Math.min(limit, mostDbmPerMHz + 10 * Math.log10(widthMHz));
  return limit;
}

function onLine(points: readonly (readonly [number, number])[], x: number): number {
  const right = points.findIndex(([px]) => px >= x);
  const [x1, y1] = points[right < 0 ? points.length - 1 : right] as readonly [number, number];
  if (right <= 0) return y1;
  const [x0, y0] = points[right - 1] as readonly [number, number];
  return y0 + ((y1 - y0) * (x - x0)) / (x1 - x0);
}

/** The EIRP limit on a channel, or undefined where it is not allowed. */
export function eirpLimitDbm(
  law: RuleSet | null | undefined,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
): number | undefined {
  return allowanceOf(law, channel, use, gainDbi)?.mostEirpDbm;
}
