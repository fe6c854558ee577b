import { allowanceOf, channelCentresMHz, channelFits, type Channel } from '../spectrum';
import { useOf, type Air } from '../air';
import type { Model, Price } from '../gear';
import { minutesAYear } from './availability';
import { ends, type LinkPlan, type RadioPlan } from './plan';
import { capsOf } from './power';
import { groundOf, predictOver, type LinkGround, type LinkPrediction } from './prediction';

/** What keeps a model from doing a job, and by how much. */
export type RuledOut =
  | { why: 'band'; words: string }
  | { why: 'law'; words: string }
  | { why: 'level'; shortDb: number; words: string }
  | { why: 'need'; shortMbps: number; words: string }
  | { why: 'margin'; shortDb: number; words: string }
  | { why: 'overload'; overDb: number; words: string }
  | { why: 'stations'; words: string };

/** What one model at both ends would give. */
export interface GearOption {
  model: Model;
  /** on the channel and width that suit it best; null where none is allowed or the model is none for this air */
  channel: Channel | null;
  /** at the most that model, law and receivers bear */
  powerDbm: { near: number; far: number } | null;
  /** TCP one way with nothing the other way, the slower of the two directions */
  aloneMbps: number;
  /** by how much the levels may fade until the need is not met; of a plan that needs nothing: until it drops */
  fadeDb: number;
  /** minutes of an average year in which the need is not met */
  belowMin: number;
  /** of both ends together */
  price: Price | null;
  watts: number | null;
  ruledOut: RuledOut | null;
}

/**
 * Ranks a catalogue for a path and its need: every model at both ends, on the best channel that the law allows it, at the most power that is allowed. Those that do the job
 * come first, cheapest first where money is known and then by what they have to spare; then those that do not, by how little they lack.
 * @throws RangeError as predictLink does
 */
export function rankGear(
  plan: LinkPlan,
  models: readonly Model[],
  wantedDb: number,
  ground: LinkGround = groundOf(plan),
): GearOption[] {
  return models
    .map((model) => optionOf(plan, model, wantedDb, ground))
    .sort((a, b) => Number(a.ruledOut !== null) - Number(b.ruledOut !== null) || byMerit(a, b));
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

function optionOf(plan: LinkPlan, model: Model, wantedDb: number, ground: LinkGround): GearOption {
  const none = (ruledOut: RuledOut): GearOption => ({
    model,
    channel: null,
    powerDbm: null,
    aloneMbps: 0,
    fadeDb: -Infinity,
    belowMin: minutesAYear,
    price: pairPrice(model),
    watts: pairWatts(model),
    ruledOut,
  });
  const isDuplex = plan.air.kind === 'duplex';
  if ((model.band === 'licensed') !== isDuplex)
    return none({
      why: 'band',
      words: isDuplex ? 'sends without a licence; this air is a licensed pair' : 'needs a licensed pair of frequencies',
    });
  const airs = airsFor(plan, model);
  if (!airs.length)
    return none(
      isDuplex
        ? { why: 'band', words: `does not tune to ${plan.air.centreMHz} and ${plan.air.returnMHz ?? '-'} MHz` }
        : { why: 'law', words: 'no channel of its is allowed here for this' },
    );
  let best: GearOption | undefined;
  for (const air of airs) {
    const option = tried(plan, model, air, wantedDb, ground);
    if (!best || isBetter(option, best)) best = option;
  }
  return best ?? none({ why: 'law', words: 'no channel of its is allowed here for this' });
}

function isBetter(a: GearOption, b: GearOption): boolean {
  if (!a.ruledOut !== !b.ruledOut) return !a.ruledOut;
  if (a.ruledOut) return rank(a) < rank(b) || (rank(a) === rank(b) && a.fadeDb > b.fadeDb);
  // Of widths that do the job the narrower one: less noise, more channels for others.
  return (a.channel?.widthMHz ?? Infinity) < (b.channel?.widthMHz ?? Infinity);
}

/** The air with each width of a model, on the channel where the law allows it most; a licensed pair has its own. */
function airsFor(plan: LinkPlan, model: Model): Air[] {
  const { air, law } = plan;
  const protocol = model.protocols.includes(air.protocol) ? air.protocol : (model.protocols[0] ?? air.protocol);
  if (air.kind === 'duplex') {
    const fits = [air.centreMHz, air.returnMHz ?? air.centreMHz].every((centreMHz) =>
      channelFits({ centreMHz, widthMHz: air.widthMHz }, model.lowestMHz, model.highestMHz),
    );
    return fits && model.widthsMHz.includes(air.widthMHz) ? [{ ...air, protocol }] : [];
  }
  const use = useOf(air, !plan.shaft);
  return model.widthsMHz.flatMap((widthMHz) => {
    let best: { centreMHz: number; limitDbm: number; radar: boolean } | undefined;
    for (const centreMHz of channelCentresMHz(model.band, widthMHz)) {
      const channel = { centreMHz, widthMHz };
      if (!channelFits(channel, model.lowestMHz, model.highestMHz)) continue;
      const allowance = law
        ? allowanceOf(law, channel, use, model.antennaGainDbi)
        : { mostEirpDbm: Infinity, radar: false };
      if (!allowance) continue;
      const { mostEirpDbm, radar } = allowance;
      // What the power cannot use is no advantage; a channel without radar is.
      const usableDbm = Math.min(mostEirpDbm, model.mostConductedDbm + model.antennaGainDbi);
      if (!best || usableDbm > best.limitDbm || (usableDbm === best.limitDbm && best.radar && !radar))
        best = { centreMHz, limitDbm: usableDbm, radar };
    }
    return best ? [{ ...air, centreMHz: best.centreMHz, widthMHz, protocol }] : [];
  });
}

function tried(plan: LinkPlan, model: Model, air: Air, wantedDb: number, ground: LinkGround): GearOption {
  const radio = (end: RadioPlan): RadioPlan => ({ ...end, model, conductedDbm: model.mostConductedDbm });
  const loud: LinkPlan = { ...plan, air, near: radio(plan.near), far: radio(plan.far) };
  const caps = capsOf(loud, ground);
  const powerDbm = {
    near: Math.max(model.leastConductedDbm, caps.near.mostDbm),
    far: Math.max(model.leastConductedDbm, caps.far.mostDbm),
  };
  const set: LinkPlan = {
    ...loud,
    near: { ...loud.near, conductedDbm: powerDbm.near },
    far: { ...loud.far, conductedDbm: powerDbm.far },
  };
  const prediction = predictOver(set, ground);
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
    price: pairPrice(model),
    watts: pairWatts(model),
    ruledOut: whyNot(set, prediction, fadeDb, wantedDb, caps),
  };
}

function whyNot(
  plan: LinkPlan,
  prediction: LinkPrediction,
  fadeDb: number,
  wantedDb: number,
  caps: ReturnType<typeof capsOf>,
): RuledOut | null {
  const { model } = plan.near;
  if (plan.air.kind === 'hub' && model.mostStations !== undefined && model.mostStations < 2)
    return { why: 'stations', words: 'takes one station only' };
  for (const end of ends) {
    const overDb = model.leastConductedDbm - caps[end].mostDbm;
    if (overDb <= 0.05) continue;
    return caps[end].bound === 'overload'
      ? { why: 'overload', overDb, words: `its least power is ${overDb.toFixed(1)} dB too strong here` }
      : { why: 'law', words: `its least power is ${overDb.toFixed(1)} dB over the legal limit` };
  }
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

function pairPrice({ price }: Model): Price | null {
  return price ? { ...price, amount: 2 * price.amount } : null;
}

/** What both draw at most; what a supply can deliver is no measure of it. */
function pairWatts({ poeWatts }: Model): number | null {
  return poeWatts === undefined ? null : 2 * poeWatts;
}
