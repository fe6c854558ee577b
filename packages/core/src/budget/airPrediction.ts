import type { AirKind } from '../air/air';
import { shareAir } from '../air/airtime';
import { loadAtFade } from './needFade';
import type { LinkPlan, OthersInRain, PlanNeed } from './plan';
import { tryPredict, type LinkPrediction } from './prediction';

/** One link among those that share an air. */
export interface MemberPrediction {
  /** null where it has no geometry */
  prediction: LinkPrediction | null;
  /** share of the air's time that its need takes, both ways */
  load: number;
}

export interface AirPrediction {
  /** in the order of the plans */
  members: MemberPrediction[];
  /** of all together; more than 1 does not fit */
  load: number;
}

/** Share of the air's time that a need takes; a direction in which nothing crosses takes none. */
export function needLoad(
  { nearToFar, farToNear }: Record<'nearToFar' | 'farToNear', { aloneMbps: number }>,
  { nearToFarMbps, farToNearMbps }: Pick<PlanNeed, 'nearToFarMbps' | 'farToNearMbps'>,
): number {
  const share = (mbps: number, aloneMbps: number): number => (aloneMbps > 0 ? mbps / aloneMbps : 0);
  return share(nearToFarMbps, nearToFar.aloneMbps) + share(farToNearMbps, farToNear.aloneMbps);
}

/** Plans of one air, each with what the others on it need of the time. */
export interface PlansTogether {
  /** in the order that they were given */
  plans: LinkPlan[];
  /** share of the air's time that each need takes */
  loads: number[];
  /** of all together; more than 1 does not fit */
  load: number;
}

/**
 * Puts the plans of one air together: each gets the share of the time that the others need, on a clear day and while it rains on all of them. Where each direction has a
 * frequency of its own, nothing is shared.
 */
export function plansTogether(plans: readonly LinkPlan[]): PlansTogether {
  const alone = plans.map((plan) => {
    const prediction = predicted(plan);
    return { plan, prediction, dry: plan.rainNowMmPerH ? predicted({ ...plan, rainNowMmPerH: 0 }) : prediction };
  });
  const loads = alone.map(({ plan, prediction }) =>
    prediction && plan.need && plan.air.kind !== 'duplex' ? needLoad(prediction, plan.need) : 0,
  );
  const load = loads.reduce((sum, one) => sum + one, 0);
  return {
    load,
    loads,
    plans: plans.map((plan, i): LinkPlan => {
      if (!plan.need) return plan;
      const others = alone.filter((_, other) => other !== i && plan.air.kind !== 'duplex');
      const othersInRain = othersInRainOf(alone[i]?.dry ?? null, others);
      return { ...plan, need: { ...plan.need, othersLoad: load - (loads[i] ?? 0), othersInRain } };
    }),
  };
}

interface Alone {
  plan: LinkPlan;
  /** whatever falls now */
  dry: LinkPrediction | null;
}

/** The rain that takes so much from one link takes from the others by the length of their paths in it. Several rays come to each link by itself. */
function othersInRainOf(own: LinkPrediction | null, others: readonly Alone[]): OthersInRain | undefined {
  const ownDb = own?.far.weather?.rain?.db001;
  if (!ownDb) return undefined;
  const reckoned = others.flatMap(({ plan, dry }) => {
    if (!dry || !plan.need) return [];
    const { near, far, nearToFar } = dry;
    const ladders = { nearToFar: far.ladder, farToNear: near.ladder, ethernetMbps: nearToFar.ceiling.portMbps };
    return [{ plan, need: plan.need, ladders, share: (far.weather?.rain?.db001 ?? 0) / ownDb }];
  });
  if (!reckoned.length) return undefined;
  return {
    loadAt: (fadeDb) =>
      reckoned.reduce(
        (sum, { plan, need, ladders, share }) => sum + loadAtFade(plan, need, ladders, share * fadeDb),
        0,
      ),
    edgesDb: reckoned.flatMap(({ ladders, share }) =>
      share > 0 ? [...ladders.nearToFar, ...ladders.farToNear].map(({ marginDb }) => marginDb / share) : [],
    ),
  };
}

/** How all links of one air do together: a hub with its stations, a chain. Each is predicted with what the others need of the time. */
export function predictAir(plans: readonly LinkPlan[]): AirPrediction {
  return predictTogether(plansTogether(plans));
}

export function predictTogether({ plans, loads, load }: PlansTogether): AirPrediction {
  return { load, members: plans.map((plan, i) => ({ load: loads[i] ?? 0, prediction: predicted(plan) })) };
}

function predicted(plan: LinkPlan): LinkPrediction | null {
  return tryPredict(plan).prediction;
}

/** One link on an air, with what it is to carry. */
export interface NeedingLink {
  /** null where it has no geometry */
  prediction: Pick<LinkPrediction, 'nearToFar' | 'farToNear'> | null;
  need: { nearToFar: number; farToNear: number };
}

/**
 * What an air leaves one of its links, in Mbit/s, while everything else on it carries what it needs; null where some of it cannot be predicted. On a licensed pair each
 * direction has a frequency of its own.
 */
export function sharedRates(
  kind: AirKind,
  links: readonly NeedingLink[],
  own: number,
): { nearToFar: number; farToNear: number } | null {
  if (links.some(({ prediction }) => !prediction)) return null;
  const members = (['nearToFar', 'farToNear'] as const).flatMap((direction) =>
    links.map(({ prediction, need }, i) => ({
      direction,
      isOwn: i === own,
      aloneMbps: prediction?.[direction].aloneMbps ?? 0,
      needMbps: need[direction],
    })),
  );
  const left = (direction: 'nearToFar' | 'farToNear'): number => {
    const sharing = kind === 'duplex' ? members.filter((m) => m.direction === direction) : members;
    return shareAir(sharing)[sharing.findIndex((m) => m.isOwn && m.direction === direction)]?.sharedMbps ?? 0;
  };
  return { nearToFar: left('nearToFar'), farToNear: left('farToNear') };
}
