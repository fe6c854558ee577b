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
  /** with antennas of at least this gain only */
  leastGainDbi?: number;
  /** above the database: rules for fixed links, and what was noted for one job, which stands in for all others */
  layer?: 'fixedLink' | 'local';
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
}

/** What a channel is wanted for. */
export interface SpectrumUse {
  /** on a licence, which names the frequencies */
  licensed: boolean;
  /** between two fixed points, and no others */
  pointToPoint: boolean;
  outdoor: boolean;
}

/** A usual link: no licence, two fixed points, in the open. */
export const openLink: SpectrumUse = { licensed: false, pointToPoint: true, outdoor: true };

/** What the law allows on a channel, and by which of its rules. */
export interface Allowance {
  mostEirpDbm: number;
  radar: boolean;
  rules: readonly SpectrumRule[];
}

/** Said wherever a limit is shown. */
export const lawCaution = 'Local law and the licence come first: Kivram’s rules may be old, or wrong.';

/** The rules of a country among those at hand; undefined where none are known. */
export function lawOf(law: readonly RuleSet[], country: string): RuleSet | undefined {
  return law.find((set) => set.country === country);
}

/** The rules that a radio's country has for a channel, whatever it is used for; empty where some part of it is not covered, and the radio will not use it. Neighbouring pieces may join. */
export function rulesFor(law: RuleSet | null | undefined, channel: Channel, licensed = false): SpectrumRule[] {
  return covering(
    (law?.rules ?? []).filter((r) => (r.licensed ?? false) === licensed),
    channel,
  );
}

/**
 * What the law allows with an antenna on a channel: of all rules, and all rows of pieces that join, under which it falls the one that allows most. What was noted
 * for the job alone stands in for all others.
 * @returns undefined where the channel is not allowed, or the law is not known
 */
export function allowanceOf(
  law: RuleSet | null | undefined,
  channel: Channel,
  use: SpectrumUse,
  gainDbi: number,
): Allowance | undefined {
  const low = channel.centreMHz - channel.widthMHz / 2;
  const high = channel.centreMHz + channel.widthMHz / 2;
  const joining: SpectrumRule[] = [];
  let best: Allowance | undefined;
  let local = false;
  for (const rule of law?.rules ?? []) {
    if (rule.highestMHz <= low || rule.lowestMHz >= high || !serves(rule, use, gainDbi)) continue;
    if (!rule.alone && !rule.layer) joining.push(rule);
    else if (rule.lowestMHz <= low && rule.highestMHz >= high && channel.widthMHz <= (rule.mostWidthMHz ?? Infinity)) {
      if (rule.layer === 'local' && !local) [best, local] = [undefined, true];
      if (local && rule.layer !== 'local') continue;
      best = better(best, [rule], channel.widthMHz, gainDbi);
    }
  }
  const row = local ? [] : covering(joining, channel);
  return row.length ? better(best, row, channel.widthMHz, gainDbi) : best;
}

/** Of two allowances the one with the higher limit; where they are the same, the one that leaves radar in peace. */
function better(
  known: Allowance | undefined,
  rules: readonly SpectrumRule[],
  widthMHz: number,
  gainDbi: number,
): Allowance {
  const mostEirpDbm = Math.min(...rules.map((rule) => limitDbm(rule, widthMHz, gainDbi)));
  const radar = rules.some((rule) => rule.radar);
  const isBetter =
    !known || mostEirpDbm > known.mostEirpDbm || (mostEirpDbm === known.mostEirpDbm && known.radar && !radar);
  return isBetter ? { mostEirpDbm, radar, rules } : known;
}

function serves(rule: SpectrumRule, use: SpectrumUse, gainDbi: number): boolean {
  if ((rule.licensed ?? false) !== use.licensed || rule.joinOnly) return false;
  if (rule.indoor && use.outdoor) return false;
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

/** Rules that cover a channel from edge to edge, or none. */
function covering(rules: readonly SpectrumRule[], { centreMHz, widthMHz }: Channel): SpectrumRule[] {
  const [low, high] = [centreMHz - widthMHz / 2, centreMHz + widthMHz / 2];
  const touched = rules
    .filter((r) => r.lowestMHz < high && r.highestMHz > low)
    .sort((a, b) => a.lowestMHz - b.lowestMHz);
  let coveredTo = low;
  for (const r of touched) if (r.lowestMHz <= coveredTo) coveredTo = Math.max(coveredTo, r.highestMHz);
  return coveredTo >= high ? touched : [];
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

/** Whether a country's radios must look out for radar on a channel, whatever it is used for. */
export function needsRadarWatch(law: RuleSet | null | undefined, channel: Channel): boolean {
  return rulesFor(law, channel).some((r) => r.radar && !r.layer);
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
