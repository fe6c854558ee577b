import { accessOf } from '../radio/kinds';
import { tcpAloneMbps } from '../throughput/expectation';
import { stepAt, type LadderStep } from './hop';
import type { LinkPlan, OthersInRain, PlanNeed } from './plan';

/** What the two directions of a link can do, as their receivers hear each other. */
export interface Ladders {
  nearToFar: readonly LadderStep[];
  farToNear: readonly LadderStep[];
  /** the slower of the two Ethernet ports */
  ethernetMbps: number;
}

/**
 * By how much the levels of both directions may fade together, as they do in rain, until less crosses than is needed, dB. A pair that takes turns shares
 * its time between both needs and what others on its air need.
 * @returns -Infinity where the need is not met on a clear day
 */
export function needFadeDb(plan: Pick<LinkPlan, 'air' | 'near'>, need: PlanNeed, ladders: Ladders): number {
  const isMet = (fadeDb: number): boolean => meets(plan, need, ladders, fadeDb, need.othersLoad);
  return deepestFadeDb(isMet, ladders, []);
}

/** The same in rain, which takes levels from the others on the air too: they need more of its time then. */
export function needFadeInRainDb(
  plan: Pick<LinkPlan, 'air' | 'near'>,
  need: PlanNeed,
  othersInRain: OthersInRain,
  ladders: Ladders,
): number {
  const isMet = (fadeDb: number): boolean => meets(plan, need, ladders, fadeDb, othersInRain.loadAt(fadeDb));
  return deepestFadeDb(isMet, ladders, othersInRain.edgesDb);
}

function deepestFadeDb(isMet: (fadeDb: number) => boolean, ladders: Ladders, more: readonly number[]): number {
  // Only where a step is lost anything changes.
  const edges = [...ladders.nearToFar, ...ladders.farToNear]
    .map(({ marginDb }) => marginDb)
    .concat(more)
    .filter((marginDb) => marginDb >= 0)
    .sort((a, b) => a - b);
  let [met, unmet] = [-1, edges.length];
  while (unmet - met > 1) {
    const middle = (met + unmet) >> 1;
    if (isMet(edges[middle] as number)) met = middle;
    else unmet = middle;
  }
  return edges[met] ?? -Infinity;
}

/** The step that a ladder has at a fade, and where it has none any more its slowest: who cannot get through goes on trying. */
function rateAt(ladder: readonly LadderStep[], fadeDb: number): number {
  return (stepAt(ladder, fadeDb) ?? ladder[0]?.step)?.phyRateMbps ?? 0;
}

/** Share of the air's time that a link's own needs take while both its levels have faded so far. */
export function loadAtFade(
  { air, near }: Pick<LinkPlan, 'air' | 'near'>,
  need: Pick<PlanNeed, 'nearToFarMbps' | 'farToNearMbps'>,
  ladders: Ladders,
  fadeDb: number,
): number {
  const [there, back] = [rateAt(ladders.nearToFar, fadeDb), rateAt(ladders.farToNear, fadeDb)];
  if (!there || !back) return 0;
  const { phy } = near.model;
  const { protocol } = air;
  const load = (mbps: number, rate: number, reverse: number): number =>
    mbps > 0
      ? mbps /
        tcpAloneMbps({
          phy,
          protocol,
          phyRateMbps: rate,
          reversePhyRateMbps: reverse,
          ethernetMbps: ladders.ethernetMbps,
        })
      : 0;
  return load(need.nearToFarMbps, there, back) + load(need.farToNearMbps, back, there);
}

function meets(
  { air, near }: Pick<LinkPlan, 'air' | 'near'>,
  need: PlanNeed,
  ladders: Ladders,
  fadeDb: number,
  othersLoad: number,
): boolean {
  const there = stepAt(ladders.nearToFar, fadeDb)?.phyRateMbps ?? 0;
  const back = stepAt(ladders.farToNear, fadeDb)?.phyRateMbps ?? 0;
  if (!there || !back) return false;
  const { phy } = near.model;
  const { protocol } = air;
  const load = (mbps: number, rate: number, reverse: number): number =>
    mbps /
    tcpAloneMbps({ phy, protocol, phyRateMbps: rate, reversePhyRateMbps: reverse, ethernetMbps: ladders.ethernetMbps });
  const [out, home] = [load(need.nearToFarMbps, there, back), load(need.farToNearMbps, back, there)];
  return accessOf(phy, protocol).fullDuplex ? Math.max(out, home) <= 1 : out + home + othersLoad <= 1;
}
