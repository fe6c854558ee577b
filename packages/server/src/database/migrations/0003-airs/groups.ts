import type { OldLink } from './bases';

/** An air as the new table takes it, with the radios on it. */
interface NewAir {
  jobId: string;
  kind: 'pair' | 'hub' | 'chain' | 'duplex';
  centreMHz: number;
  returnMHz: number | null;
  widthMHz: number;
  protocol: string;
  radios: NewRadio[];
}

interface NewRadio {
  id: string;
  role: 'access' | 'station' | 'relay';
  conductedDbm: number;
  cableLossDb: number;
  mountedAt: string | null;
}

/** Licensed pairs had no second frequency in their plan: where no sheet names it, the spacing that was proposed then, or the width where that is more. */
const proposedSpacingMHz = 10;

/** Links that share a radio share its channel: one air for each such set. What one radio was planned with differently by link is taken from the first. */
export function airsOf(links: readonly OldLink[]): { air: NewAir; members: OldLink[] }[] {
  const setOf = new Map<string, OldLink[]>();
  for (const link of links) {
    const joined = new Set([link.near_radio_id, link.far_radio_id].flatMap((id) => setOf.get(id) ?? []));
    const set = [...joined, link];
    for (const { near_radio_id, far_radio_id } of set)
      for (const id of [near_radio_id, far_radio_id]) setOf.set(id, set);
  }
  return [...new Set(setOf.values())].map((members) => ({ members, air: airOf(members) }));
}

function airOf(members: OldLink[]): NewAir {
  const first = members[0] as OldLink;
  const { kind, access } = shapeOf(members);
  const radios = new Map<string, NewRadio>();
  for (const link of members) {
    for (const end of ['near', 'far'] as const) {
      const id = link[`${end}_radio_id`];
      if (radios.has(id)) continue;
      const role = id === access ? 'access' : kind === 'chain' ? 'relay' : 'station';
      radios.set(id, {
        id,
        role,
        conductedDbm: link[`${end}_conducted_dbm`],
        cableLossDb: link[`${end}_cable_loss_db`],
        mountedAt: link[`${end}_mounted_at`],
      });
    }
  }
  return {
    jobId: first.jobId,
    kind,
    centreMHz: first.centre_mhz,
    returnMHz: kind === 'duplex' ? secondFrequencyMHz(first) : null,
    widthMHz: first.width_mhz,
    protocol: first.protocol,
    radios: [...radios.values()],
  };
}

function secondFrequencyMHz({ nearSheets, centre_mhz, width_mhz }: OldLink): number {
  const told = nearSheets.at(-1)?.rx_mhz;
  const apart = told !== null && told !== undefined && Math.abs(told - centre_mhz) >= width_mhz;
  return apart ? told : centre_mhz + Math.max(proposedSpacingMHz, width_mhz);
}

function shapeOf(members: OldLink[]): { kind: NewAir['kind']; access: string } {
  const first = members[0] as OldLink;
  if (members.length === 1) return { kind: first.duplex === 'fdd' ? 'duplex' : 'pair', access: first.near_radio_id };
  const common = [first.near_radio_id, first.far_radio_id].find((id) =>
    members.every((l) => l.near_radio_id === id || l.far_radio_id === id),
  );
  return common ? { kind: 'hub', access: common } : { kind: 'chain', access: first.near_radio_id };
}
