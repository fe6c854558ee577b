import { channelCentresMHz, channelFits, type Channel } from '../spectrum/channel';
import type { Allowance } from '../spectrum/allowance';
import { askLaw } from '../spectrum/lawAnswer';
import { sendingChannel, spectrumUse, type Air } from '../air/air';
import { feederLossDb } from '../gear/cable';
import type { Model, Price } from '../gear/model';
import { minutesAYear } from './availability';
import { ends, otherEnd, type End, type LinkPlan, type RadioPlan } from './plan';
import { mostHeardDbm } from './overload';
import { groundOf, predictOver, shaftGround, type LinkGround, type LinkPrediction } from './prediction';

/** What keeps a model from doing a job, and by how much. */
export type RuledOut =
  | { why: 'band'; words: string }
  | { why: 'law'; words: string }
  | { why: 'level'; shortDb: number; words: string }
  | { why: 'need'; shortMbps: number; words: string }
  | { why: 'margin'; shortDb: number; words: string }
  | { why: 'overload'; overDb: number; words: string }
  | { why: 'stations'; words: string };

/** What one model would give, at both ends or at one. */
export interface GearOption {
  model: Model;
  /** on the channel and width that suit it best; null where none is allowed or the model is none for this air */
  channel: Channel | null;
  /** at the most that model, law and receivers bear; an end that keeps its radio keeps its power */
  powerDbm: { near: number; far: number } | null;
  /** TCP one way with nothing the other way, the slower of the two directions */
  aloneMbps: number;
  /** by how much the levels may fade until the need is not met; of a plan that needs nothing: until it drops */
  fadeDb: number;
  /** minutes of an average year in which the need is not met */
  belowMin: number;
  /** of the radios that would be bought: both, or the one */
  price: Price | null;
  watts: number | null;
  ruledOut: RuledOut | null;
}

/** How a catalogue is ranked. */
export interface RankingTerms {
  /** by how much the levels are to be able to fade */
  wantedDb: number;
  /** where others share the air: only this end gets other gear, and the air and the other radio stay as they are */
  onlyEnd?: End;
}

/**
 * Ranks a catalogue for a path and its need: every model at both ends, on the best channel that the law allows it, at the most power that is allowed; or at one end of
 * an air that stays. Those that do the job come first, cheapest first where money is known and then by what they have to spare; then those that do not, by how little they lack.
 * @throws RangeError as predictLink does
 */
export function rankGear(
  plan: LinkPlan,
  models: readonly Model[],
  terms: RankingTerms,
  ground: LinkGround = groundOf(plan),
): GearOption[] {
  return models
    .map((model) => optionOf(plan, model, terms, ground))
    .sort((a, b) => Number(a.ruledOut !== null) - Number(b.ruledOut !== null) || byMerit(a, b));
}

/** The plan with the gear of an option, as it was ranked; null where it has no channel. */
export function planWithGear(plan: LinkPlan, { model, channel, powerDbm }: GearOption, onlyEnd?: End): LinkPlan | null {
  if (!channel || !powerDbm) return null;
  const protocol = onlyEnd ? plan.air.protocol : protocolFor(model, plan.air);
  const air = plan.air.kind === 'duplex' ? { ...plan.air, protocol } : { ...plan.air, ...channel, protocol };
  return withGear(plan, air, model, powerDbm, onlyEnd);
}

function withGear(
  plan: LinkPlan,
  air: Air,
  model: Model,
  powerDbm: Record<End, number>,
  onlyEnd: End | undefined,
): LinkPlan {
  const radio = (end: End): RadioPlan =>
    onlyEnd && end !== onlyEnd ? plan[end] : { ...plan[end], model, conductedDbm: powerDbm[end] };
  return { ...plan, air, near: radio('near'), far: radio('far') };
}

/** The protocol of an air where a model speaks it, else the first that it does. */
function protocolFor({ protocols }: Model, { protocol }: Air): Air['protocol'] {
  return protocols.includes(protocol) ? protocol : (protocols[0] ?? protocol);
}

function byMerit(a: GearOption, b: GearOption): number {
  if (a.ruledOut || b.ruledOut) return rank(a) - rank(b) || b.fadeDb - a.fadeDb || b.aloneMbps - a.aloneMbps;
  // Money of different kinds is not compared.
  if (a.price && b.price && a.price.currency === b.price.currency && a.price.amount !== b.price.amount)
    return a.price.amount - b.price.amount;
  if (!a.price !== !b.price) return a.price ? -1 : 1;
  return a.belowMin - b.belowMin || b.fadeDb - a.fadeDb;
}

const order: readonly RuledOut['why'][] = ['margin', 'need', 'overload', 'level', 'stations', 'law', 'band'];
const rank = ({ ruledOut }: GearOption): number => (ruledOut ? order.indexOf(ruledOut.why) : -1);

function optionOf(plan: LinkPlan, model: Model, terms: RankingTerms, ground: LinkGround): GearOption {
  const { onlyEnd } = terms;
  const none = (ruledOut: RuledOut): GearOption => ({
    model,
    channel: null,
    powerDbm: null,
    aloneMbps: 0,
    fadeDb: -Infinity,
    belowMin: minutesAYear,
    price: priceOf(model, onlyEnd),
    watts: wattsOf(model, onlyEnd),
    ruledOut,
  });
  const isDuplex = plan.air.kind === 'duplex';
  if ((model.band === 'licensed') !== isDuplex)
    return none({
      why: 'band',
      words: isDuplex ? 'sends without a licence; this air is a licensed pair' : 'needs a licensed pair of frequencies',
    });
  const airs = onlyEnd ? sharedAirFor(plan, model) : airsFor(plan, model);
  if (!airs.length && onlyEnd)
    return none({ why: 'band', words: 'cannot join this air: its channel, width or protocol is none of its own' });
  if (!airs.length)
    return none(
      isDuplex
        ? { why: 'band', words: `does not tune to ${plan.air.centreMHz} and ${plan.air.returnMHz ?? '-'} MHz` }
        : { why: 'law', words: 'no channel of its is allowed here for this' },
    );
  let best: GearOption | undefined;
  for (const { air, limitDbm } of airs) {
    const option = tried(plan, model, air, limitDbm, terms, ground);
    if (!best || isBetter(option, best)) best = option;
    // Of widths that do the job the narrowest: less noise, more channels for others.
    if (!option.ruledOut) break;
  }
  return best ?? none({ why: 'law', words: 'no channel of its is allowed here for this' });
}

function isBetter(a: GearOption, b: GearOption): boolean {
  if (!a.ruledOut !== !b.ruledOut) return !a.ruledOut;
  return rank(a) < rank(b) || (rank(a) === rank(b) && a.fadeDb > b.fadeDb);
}

/** An air, and the EIRP that the law allows on it. */
interface LawfulAir {
  air: Air;
  limitDbm: number;
}

/** Stands for a country of which nothing is known. */
const anything = { mostEirpDbm: Infinity, radar: false, doubts: [] };

/** The air with each width of a model, narrowest first, on the channel where the law allows it most; a licensed pair has its own. */
function airsFor(plan: LinkPlan, model: Model): LawfulAir[] {
  const { air, law, licence, day } = plan;
  const protocol = protocolFor(model, air);
  const use = spectrumUse(air, !plan.shaft);
  const right = { law, isLicensed: air.kind === 'duplex', licence, day };
  const allowed = (channel: Channel): Pick<Allowance, 'mostEirpDbm' | 'radar' | 'doubts'> | undefined => {
    const answer = askLaw(right, channel, use, model.antennaGainDbi);
    return answer.allowance ?? (answer.isForbidden ? undefined : anything);
  };
  if (air.kind === 'duplex') {
    const { widthMHz } = air;
    const channels = [air.centreMHz, air.returnMHz ?? air.centreMHz].map((centreMHz) => ({ centreMHz, widthMHz }));
    const fits = channels.every((channel) => channelFits(channel, model.lowestMHz, model.highestMHz));
    if (!fits || !model.widthsMHz.includes(widthMHz)) return [];
    // Gear is chosen before a licence is there, too.
    const limits = channels.map((channel) => (licence ? (allowed(channel)?.mostEirpDbm ?? -Infinity) : Infinity));
    return [{ air: { ...air, protocol }, limitDbm: Math.min(...limits) }];
  }
  const airs: LawfulAir[] = [];
  for (const widthMHz of [...model.widthsMHz].sort((a, b) => a - b)) {
    let best: { centreMHz: number; limitDbm: number; usableDbm: number; radar: boolean; isSure: boolean } | undefined;
    for (const centreMHz of channelCentresMHz(model.band, widthMHz)) {
      const channel = { centreMHz, widthMHz };
      if (!channelFits(channel, model.lowestMHz, model.highestMHz)) continue;
      const allowance = allowed(channel);
      if (!allowance) continue;
      const { mostEirpDbm: limitDbm, radar, doubts } = allowance;
      const isSure = !doubts.length;
      // What is to be looked up first comes last. What the power cannot use is no advantage; a channel without radar is.
      const usableDbm = Math.min(limitDbm, model.mostConductedDbm + model.antennaGainDbi);
      const isBetter =
        !best ||
        (isSure !== best.isSure
          ? isSure
          : usableDbm > best.usableDbm || (usableDbm === best.usableDbm && best.radar && !radar));
      if (isBetter) best = { centreMHz, limitDbm, usableDbm, radar, isSure };
    }
    if (best) airs.push({ air: { ...air, centreMHz: best.centreMHz, widthMHz, protocol }, limitDbm: best.limitDbm });
  }
  return airs;
}

/** The air as it is, where a model can join it and the law lets it. */
function sharedAirFor({ air, law, licence, day, shaft }: LinkPlan, model: Model): LawfulAir[] {
  const fits =
    channelFits(air, model.lowestMHz, model.highestMHz) &&
    model.widthsMHz.includes(air.widthMHz) &&
    model.protocols.includes(air.protocol);
  if (!fits) return [];
  const right = { law, isLicensed: air.kind === 'duplex', licence, day };
  const { allowance, isForbidden } = askLaw(right, air, spectrumUse(air, !shaft), model.antennaGainDbi);
  return isForbidden ? [] : [{ air, limitDbm: allowance?.mostEirpDbm ?? Infinity }];
}

/** One model, at the most power that model, law and receivers bear. */
function tried(
  plan: LinkPlan,
  model: Model,
  air: Air,
  limitDbm: number,
  { wantedDb, onlyEnd }: RankingTerms,
  ground: LinkGround,
): GearOption {
  const changed = onlyEnd ? [onlyEnd] : ends;
  const lawful = (end: End): number =>
    limitDbm - model.antennaGainDbi + feederLossDb(plan[end], sendingChannel(air, plan[end].role).centreMHz);
  const overLawDb = Math.max(...changed.map((end) => model.leastConductedDbm - lawful(end)));
  const powerDbm = { near: plan.near.conductedDbm, far: plan.far.conductedDbm };
  for (const end of changed)
    powerDbm[end] = Math.max(model.leastConductedDbm, Math.min(model.mostConductedDbm, lawful(end)));
  const set = (): LinkPlan => withGear(plan, air, model, powerDbm, onlyEnd);
  // In a shaft the closest point is the loudest.
  const loudest = plan.shaft ? predictOver(set(), shaftGround(plan, plan.shaft.leastM)) : predictOver(set(), ground);
  let tooLoudDb = 0;
  /** what the receiver bears that hears this end */
  const bearable = (end: End): number => mostHeardDbm(set()[otherEnd(end)].model);
  let isTooLoud = false;
  for (const end of changed) {
    const overDb = loudest[otherEnd(end)].rslDbm - bearable(end);
    if (overDb <= 0) continue;
    isTooLoud = true;
    const room = powerDbm[end] - model.leastConductedDbm;
    powerDbm[end] -= Math.min(overDb, room);
    tooLoudDb = Math.max(tooLoudDb, overDb - room);
  }
  // The radio that stays may be too strong for the new one; nothing of it is turned down here.
  if (onlyEnd) tooLoudDb = Math.max(tooLoudDb, loudest[onlyEnd].rslDbm - model.overloadDbm);
  const prediction = isTooLoud || plan.shaft ? predictOver(set(), ground) : loudest;
  const fadeDb = prediction.need?.fadeDb ?? Math.min(...ends.map((end) => prediction[end].marginDb));
  return {
    model,
    channel: { centreMHz: air.centreMHz, widthMHz: air.widthMHz },
    powerDbm,
    aloneMbps: Math.min(prediction.nearToFar.aloneMbps, prediction.farToNear.aloneMbps),
    fadeDb,
    belowMin:
      prediction.need?.below.totalMin ??
      Math.max(...ends.map((end) => prediction[end].ladder[0]?.below.totalMin ?? minutesAYear)),
    price: priceOf(model, onlyEnd),
    watts: wattsOf(model, onlyEnd),
    ruledOut: whyNot(set(), model, prediction, { fadeDb, wantedDb, overLawDb, tooLoudDb }),
  };
}

function whyNot(
  plan: LinkPlan,
  model: Model,
  prediction: LinkPrediction,
  { fadeDb, wantedDb, overLawDb, tooLoudDb }: Record<'fadeDb' | 'wantedDb' | 'overLawDb' | 'tooLoudDb', number>,
): RuledOut | null {
  if (
    plan.air.kind === 'hub' &&
    plan.near.model === model &&
    model.mostStations !== undefined &&
    model.mostStations < 2
  )
    return { why: 'stations', words: 'takes one station only' };
  if (overLawDb > 0.05)
    return { why: 'law', words: `its least power is ${overLawDb.toFixed(1)} dB over the legal limit` };
  if (tooLoudDb > 0.05)
    return {
      why: 'overload',
      overDb: tooLoudDb,
      words: `a receiver hears ${tooLoudDb.toFixed(1)} dB too much here`,
    };
  const marginDb = Math.min(prediction.near.marginDb, prediction.far.marginDb);
  if (marginDb < 0)
    return { why: 'level', shortDb: -marginDb, words: `${(-marginDb).toFixed(1)} dB short of its slowest step` };
  if (plan.need && fadeDb === -Infinity) {
    const shortMbps = Math.max(
      plan.need.nearToFarMbps - prediction.nearToFar.aloneMbps,
      plan.need.farToNearMbps - prediction.farToNear.aloneMbps,
      0,
    );
    const words = shortMbps > 0 ? `${figure(shortMbps)} Mbit/s short` : 'not enough for both directions at once';
    return { why: 'need', shortMbps, words };
  }
  if (fadeDb < wantedDb)
    return {
      why: 'margin',
      shortDb: wantedDb - fadeDb,
      words: `${(wantedDb - fadeDb).toFixed(1)} dB short of the margin asked for`,
    };
  return null;
}

const figure = (mbps: number): string => (mbps >= 10 ? mbps.toFixed(0) : mbps.toPrecision(2));

function priceOf({ price }: Model, onlyEnd: End | undefined): Price | null {
  return price ? { ...price, amount: (onlyEnd ? 1 : 2) * price.amount } : null;
}

/** What is drawn at most; what a supply can deliver is no measure of it. */
function wattsOf({ poeWatts }: Model, onlyEnd: End | undefined): number | null {
  return poeWatts === undefined ? null : (onlyEnd ? 1 : 2) * poeWatts;
}
