import { channelFits, channelParts, type Channel } from './channel';

/** What a country allows in one piece of spectrum. */
export interface SpectrumRule {
  lowestMHz: number;
  highestMHz: number;
  mostEirpDbm: number;
  /** a radio must leave the channel when it sees radar (DFS) */
  radar: boolean;
  /** the widest channel; left out where pieces join: then a channel may be as wide as they are together */
  mostWidthMHz?: number;
  /** a channel lies in this piece alone; left out: it may lie over neighbours that join, too */
  alone?: boolean;
  /** not out of doors */
  indoor?: boolean;
  /** radios may join others there, but not be the first to send: no access point */
  joinOnly?: boolean;
  /** for links between two fixed points only, not for a hub */
  pointToPoint?: boolean;
  /** where the limit depends on the antenna: points of (gain dBi, EIRP dBm), straight lines between them */
  eirpByGain?: readonly (readonly [gainDbi: number, eirpDbm: number])[];
  /** EIRP density; a narrow channel may send less */
  mostDbmPerMHz?: number;
  /** where weather radars are, for which radios listen ten times as long before they send */
  weatherRadarMHz?: readonly [lowestMHz: number, highestMHz: number];
  /** a part in which it may not hold, and why, in words */
  leftOut?: { lowestMHz: number; highestMHz: number; reason: string };
  /** with antennas of at least this gain only */
  leastGainDbi?: number;
  /**
   * above the database: rules for links between fixed points, which it does not know; what an authority permits in one job; and what restricts a job, whatever else
   * is allowed
   */
  layer?: 'fixedLink' | 'permit' | 'restriction';
  /** where it stands */
  source?: string;
  /** from memory: to be looked up before anybody builds by it */
  verify?: boolean;
}

/** A country's rules, as they stand from a day on. They are data that is handed in: law changes, programs do not know it. */
export interface RuleSet {
  country: string;
  name: string;
  /** date, as in 2026-01-31 */
  validFrom: string;
  rules: SpectrumRule[];
  /** where they come from, in words */
  source?: string;
  /** what the country allows is not known: here are a job's own notes and nothing else */
  countryUnknown?: boolean;
}

/** What a channel is wanted for. */
export interface SpectrumUse {
  /** between two fixed points, and no others */
  pointToPoint: boolean;
  outdoor: boolean;
}

/** A usual link: no licence, two fixed points, in the open. */
export const openLink: SpectrumUse = { pointToPoint: true, outdoor: true };

/** Said wherever a limit is shown. */
export const lawCaution = 'Local law and the licence come first: Kivram’s rules may be old, or wrong.';

/** The rules of a country among those at hand; undefined where none are known. */
export function lawOf(law: readonly RuleSet[], country: string): RuleSet | undefined {
  return law.find((set) => set.country === country);
}

/** Whether it is known what a country allows; what a job notes by itself says nothing of all the rest. */
export function isKnown(law: RuleSet | null | undefined): law is RuleSet {
  return !!law && !law.countryUnknown;
}

/**
 * The rules by which a radio that keeps to its country's may use a channel, whatever it is used for; empty where it will not: some part of the channel lies in no rule, or over the
 * boundary of two, or in a rule for narrower channels.
 */
export function rulesFor(law: RuleSet | null | undefined, channel: Channel): SpectrumRule[] {
  return covering(
    (law?.rules ?? []).filter((rule) => rule.layer !== 'restriction'),
    channel,
  );
}

/** Whether a country's radios must look out for radar on a channel, whatever it is used for. */
export function needsRadarWatch(law: RuleSet | null | undefined, channel: Channel): boolean {
  return law?.rules.some((rule) => rule.radar && !rule.layer && overlaps(rule, channel)) ?? false;
}

/**
 * How long radios listen for radar before they send, minutes: 1 by 47 CFR 15.407(h)(2)(ii) and ETSI EN 301 893 V2.1.1 table D.1, and by the latter 10 where a channel
 * reaches among weather radars. From memory.
 */
export function radarListenMin(law: RuleSet | null | undefined, { centreMHz, widthMHz }: Channel): 1 | 10 {
  const [low, high] = [centreMHz - widthMHz / 2, centreMHz + widthMHz / 2];
  const among = ({ weatherRadarMHz }: SpectrumRule): boolean =>
    !!weatherRadarMHz && low < weatherRadarMHz[1] && high > weatherRadarMHz[0];
  return law?.rules.some(among) ? 10 : 1;
}

/**
 * The rules among some that carry a channel, or none: each part of it must lie within one of them. So do radios that go by the wireless regulatory database (net/wireless/reg.c of the Linux
 * kernel, `reg_does_bw_fit`; from memory): a wide channel may reach from one rule into the next, the 20 MHz channels that it is made of may not.
 */
export function covering(rules: readonly SpectrumRule[], channel: Channel): SpectrumRule[] {
  const able = rules.filter(
    (rule) => overlaps(rule, channel) && (rule.alone ? carries(rule, channel) : isWideEnough(rule, channel)),
  );
  if (!able.length || able.some((rule) => contains(rule, channel))) return able;
  return channelParts(channel).every((part) => able.some((rule) => contains(rule, part))) ? able : [];
}

/** Whether a channel reaches into what a rule is about. */
export function overlaps(
  { lowestMHz, highestMHz }: Pick<SpectrumRule, 'lowestMHz' | 'highestMHz'>,
  { centreMHz, widthMHz }: Channel,
): boolean {
  return lowestMHz < centreMHz + widthMHz / 2 && highestMHz > centreMHz - widthMHz / 2;
}

/** Whether a channel lies wholly in what a rule is about. */
export function contains({ lowestMHz, highestMHz }: SpectrumRule, channel: Channel): boolean {
  return channelFits(channel, lowestMHz, highestMHz);
}

/** Whether one rule takes a channel by itself: where it lies, and as wide as it is. */
export function carries(rule: SpectrumRule, channel: Channel): boolean {
  return contains(rule, channel) && isWideEnough(rule, channel);
}

function isWideEnough({ mostWidthMHz }: SpectrumRule, { widthMHz }: Channel): boolean {
  return mostWidthMHz === undefined || widthMHz <= mostWidthMHz;
}
