import { QueryTypes, type Sequelize } from 'sequelize';

/** A link of the tables before, with its radios, their places and their sheets. */
export interface OldLink {
  id: string;
  jobId: string;
  near_radio_id: string;
  far_radio_id: string;
  path_kind: string;
  duplex: 'tdd' | 'fdd';
  centre_mhz: number;
  width_mhz: number;
  protocol: string;
  near_conducted_dbm: number;
  far_conducted_dbm: number;
  near_cable_loss_db: number;
  far_cable_loss_db: number;
  near_mounted_at: string | null;
  far_mounted_at: string | null;
  shaft_least_m: number | null;
  shaft_most_m: number | null;
  near: OldRadio;
  far: OldRadio;
  nearSheets: OldSheet[];
  farSheets: OldSheet[];
}

interface OldRadio {
  id: string;
  model_id: string;
  mount_height_m: number;
  polarisation: string;
  place: { latitude_deg: number; longitude_deg: number; ground_height_m: number };
}

interface OldSheet {
  revision: number;
  saved_at: string;
  centre_mhz: number;
  width_mhz: number;
  protocol: string;
  conducted_dbm: number;
  tx_mhz: number | null;
  rx_mhz: number | null;
}

export interface OldRecord {
  table: 'bench_run' | 'alignment' | 'throughput_test';
  id: string;
  link_id: string;
  at: Date;
  near_revision: number | null;
  far_revision: number | null;
  expected: { near: number; far: number } | null;
}

export interface OldEvent {
  job_id: string;
  link_id: string | null;
  at: Date;
  detail: { radioId?: string; differences?: { field: string }[] };
}

export interface OldBasis {
  table: OldRecord['table'] | 'radio';
  id: string;
  basis: Record<string, unknown>;
}

/** Fields of a plan that decide nothing a record rests on. */
const harmless = /^(need|name|note|kind|serial|mac)/;

/**
 * What old records rested on. The tables before did not keep it, but the timeline kept every change: a record after which nothing was changed that it
 * rests on was true for the plan as it stands. Where something was, nobody knows what it was true for, and its basis stays empty.
 */
export async function basesOf(sequelize: Sequelize, links: readonly OldLink[]): Promise<OldBasis[]> {
  const records = await sequelize.query<OldRecord>(
    `SELECT 'bench_run' AS table, id, link_id, at, near_revision, far_revision, NULL::jsonb AS expected FROM bench_run
     UNION ALL SELECT 'alignment', id, link_id, coalesce(finished_at, started_at), NULL, NULL, plan -> 'expectedDbm' FROM alignment
     UNION ALL SELECT 'throughput_test', id, link_id, at, NULL, NULL, NULL FROM throughput_test`,
    { type: QueryTypes.SELECT },
  );
  const events = await sequelize.query<OldEvent>(
    `SELECT job_id, link_id, at, detail FROM event WHERE kind = 'plan' AND detail ? 'differences'`,
    { type: QueryTypes.SELECT },
  );
  const byId = new Map(links.map((link) => [link.id, link]));
  const bases: OldBasis[] = [];
  for (const record of records) {
    const link = byId.get(record.link_id);
    const basis = link && basisOfRecord(link, record, events);
    if (basis) bases.push({ table: record.table, id: record.id, basis });
  }
  for (const link of links) {
    for (const end of ['near', 'far'] as const) {
      const at = link[`${end}_mounted_at`];
      const basis = at && radioBasisAt(link, end, at, events);
      if (basis) bases.push({ table: 'radio', id: link[end].id, basis });
    }
  }
  return bases;
}

/** What a record rested on; null where something it rests on was changed after it. */
export function basisOfRecord(
  link: OldLink,
  record: OldRecord,
  changes: readonly OldEvent[],
): Record<string, unknown> | null {
  return changedAfter(changes, link, record.at) ? null : linkBasis(link, record);
}

/** What was true of a radio when it went up; null where that was changed after it. */
export function radioBasisAt(
  link: OldLink,
  end: 'near' | 'far',
  mountedAt: string,
  changes: readonly OldEvent[],
): Record<string, unknown> | null {
  const at = new Date(mountedAt);
  return changedAfter(changes, link, at) ? null : radioBasis(link, end, null, at);
}

/** At which end each mark of an alignment was made: the order of the alignment, and how often something had been locked before, say which. */
export function placeOfMarks(kinds: readonly string[], order: string): ('near' | 'far')[] {
  let locked = 0;
  return kinds.map((kind) => {
    const far = order === 'axisByAxis' ? locked % 2 === 1 : locked >= 2;
    if (kind === 'locked' || kind === 'eye') locked++;
    return far ? 'far' : 'near';
  });
}

function changedAfter(events: readonly OldEvent[], link: OldLink, at: Date): boolean {
  return events.some(({ job_id, link_id, detail, at: changedAt }) => {
    if (job_id !== link.jobId || changedAt <= at) return false;
    if (link_id !== null && link_id !== link.id) return false;
    if (detail.radioId && ![link.near_radio_id, link.far_radio_id].includes(detail.radioId)) return false;
    return detail.differences?.some(({ field }) => !harmless.test(field)) ?? true;
  });
}

function linkBasis(link: OldLink, record: OldRecord): Record<string, unknown> {
  return {
    air: {
      // The kind of an air that several links share is decided with them all; a record of one link does not tell it.
      centreMHz: link.centre_mhz,
      widthMHz: link.width_mhz,
      protocol: link.protocol,
    },
    shaft: link.path_kind === 'shaft' ? { leastM: link.shaft_least_m ?? 0, mostM: link.shaft_most_m ?? 0 } : null,
    near: radioBasis(link, 'near', record.near_revision, record.at),
    far: radioBasis(link, 'far', record.far_revision, record.at),
    expectedDbm: record.expected,
  };
}

function radioBasis(link: OldLink, end: 'near' | 'far', revision: number | null, at: Date): Record<string, unknown> {
  const { model_id, mount_height_m, polarisation, place } = link[end];
  const sheets = link[`${end}Sheets`];
  const sheet = sheets.filter((s) => (revision === null ? new Date(s.saved_at) <= at : s.revision === revision)).at(-1);
  return {
    modelId: model_id,
    modelRevision: 1,
    latitudeDeg: place.latitude_deg,
    longitudeDeg: place.longitude_deg,
    groundHeightM: place.ground_height_m,
    mountHeightM: mount_height_m,
    polarisation,
    azimuthDeg: null,
    tiltDeg: null,
    conductedDbm: link[`${end}_conducted_dbm`],
    cableLossDb: link[`${end}_cable_loss_db`],
    sheet: sheet
      ? {
          revision: sheet.revision,
          centreMHz: sheet.centre_mhz,
          widthMHz: sheet.width_mhz,
          protocol: sheet.protocol,
          conductedDbm: sheet.conducted_dbm,
          txMHz: sheet.tx_mhz,
          rxMHz: sheet.rx_mhz,
        }
      : null,
  };
}
