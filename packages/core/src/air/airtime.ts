/** One direction of one hop on an air: what it carries alone, and what it is asked to carry. */
export interface AirMember {
  aloneMbps: number;
  needMbps: number;
}

/** What one member may count on. */
export interface AirShare {
  /** the airtime that its need takes, 0 to 1 and above; infinite where it carries nothing */
  load: number;
  /** what is left for it while every other member carries what it needs */
  sharedMbps: number;
}

/**
 * Shares one channel, on which one sends at a time, among everything that is sent on it: each member's need takes airtime by its own rate, so a
 * slow station costs the others more than a fast one. The same holds for the relays of a chain, each of which sends everything again.
 */
export function shareAir(members: readonly AirMember[]): AirShare[] {
  const loads = members.map(({ aloneMbps, needMbps }) => (needMbps > 0 ? needMbps / aloneMbps : 0));
  const total = loads.reduce((sum, load) => sum + load, 0);
  return members.map(({ aloneMbps }, i) => {
    const load = loads[i] ?? 0;
    const others = Number.isFinite(load) ? total - load : loads.reduce((sum, l, j) => (j === i ? sum : sum + l), 0);
    return { load, sharedMbps: aloneMbps * Math.min(1, Math.max(0, 1 - others)) };
  });
}

/** What passes hop after hop on one channel, each hop costing its share of the time: 1 / sum(1 / rate). */
export function relayedMbps(ratesMbps: readonly number[]): number {
  return ratesMbps.length ? 1 / ratesMbps.reduce((sum, rate) => sum + 1 / rate, 0) : Infinity;
}
