import type { AirKind } from '../air/air';
import { shareAir } from '../air/airtime';
import type { LinkPlan, PlanNeed } from './plan';
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
  { nearToFarMbps, farToNearMbps }: Omit<PlanNeed, 'othersLoad'>,
): number {
  const share = (mbps: number, aloneMbps: number): number => (aloneMbps > 0 ? mbps / aloneMbps : 0);
  return share(nearToFarMbps, nearToFar.aloneMbps) + share(farToNearMbps, farToNear.aloneMbps);
}

/**
 * How all links of one air do together: a hub with its stations, a chain. Each is predicted with what the others need of the time. Where each direction has a frequency
 * of its own, nothing is shared.
 */
export function predictAir(plans: readonly LinkPlan[]): AirPrediction {
  const alone = plans.map((plan): MemberPrediction => {
    const prediction = predicted(plan, 0);
    if (!prediction || !plan.need || plan.air.kind === 'duplex') return { prediction, load: 0 };
    return { prediction, load: needLoad(prediction, plan.need) };
  });
  const load = alone.reduce((sum, member) => sum + member.load, 0);
  return {
    load,
    members: alone.map((member, i) => ({
      load: member.load,
      prediction: member.prediction && predicted(plans[i] as LinkPlan, load - member.load),
    })),
  };
}

function predicted(plan: LinkPlan, othersLoad: number): LinkPrediction | null {
  return tryPredict(plan.need ? { ...plan, need: { ...plan.need, othersLoad } } : plan).prediction;
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
