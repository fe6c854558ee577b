import { jobDocumentVersion } from '@kivram/contract/jobDocument/document';
import { randomUUID } from 'node:crypto';
import { airsOf } from '../../database/migrations/0003-airs/groups';
import {
  basisOfRecord,
  placeOfMarks,
  radioBasisAt,
  type OldEvent,
  type OldLink,
  type OldRecord,
} from '../../database/migrations/0003-airs/bases';

type Plain = Record<string, unknown>;

const lonelyAir = {
  kind: 'pair',
  centreMHz: 5500,
  returnMHz: null,
  widthMHz: 20,
  protocol: '802.11',
  errorCorrection: false,
  version: 0,
};

/**
 * A document of an older version in the shape of today's. It goes the way that a database of that time went. What does not look like such a document is handed on
 * as it is, for the check to name what is wrong with it.
 */
export function upgradeDocument(plain: unknown): unknown {
  return withNamedCommands(withRoles(withSubnets(withAirs(plain))));
}

/** From version 4, in which a job said itself what program to run, to version 5. */
function withNamedCommands(plain: unknown): unknown {
  if (!isPlain(plain) || plain.formatVersion !== 4) return plain;
  const sources = listOf(plain.levelSources);
  return { ...plain, formatVersion: jobDocumentVersion, ...(sources && { levelSources: sources.map(named) }) };
}

/** The program's own name stands for it. */
function named(record: Plain): Plain {
  const source = record.source;
  if (!isPlain(source) || !isPlain(source.command)) return record;
  const { program } = source.command;
  const name = String(program).split('/').at(-1)?.slice(0, 60) || 'command';
  return { ...record, source: { ...source, command: { name } } };
}

/** From version 3, in which everybody might do everything and there were no visits, to version 4. */
function withRoles(plain: unknown): unknown {
  if (!isPlain(plain) || plain.formatVersion !== 3) return plain;
  const crew = listOf(plain.crew);
  return {
    ...plain,
    formatVersion: 4,
    logins: [],
    visits: [],
    photos: [],
    ...(crew && { crew: crew.map((member) => ({ role: 'lead', leftAt: null, ...member })) }),
  };
}

/** From version 2, whose networks had one subnet with one DHCP range, and whose devices did not say what they are, to version 3. */
function withSubnets(plain: unknown): unknown {
  if (!isPlain(plain) || plain.formatVersion !== 2) return plain;
  const devices = listOf(plain.devices);
  return {
    ...plain,
    formatVersion: 3,
    ...(isPlain(plain.network) && { network: networkWithSubnets(plain.network) }),
    ...(devices && { devices: devices.map((device) => ({ kind: 'other', mac: null, ...device })) }),
  };
}

function networkWithSubnets({
  subnetAddress,
  prefix,
  gateway = null,
  dhcpFirst,
  dhcpLast,
  feedMbps,
  ...network
}: Plain): Plain {
  const dhcp = dhcpFirst || dhcpLast ? [{ first: dhcpFirst, last: dhcpLast }] : [];
  return {
    ...network,
    feedDownMbps: feedMbps ?? null,
    feedUpMbps: null,
    subnets: [{ name: 'site', address: subnetAddress, prefix, gateway, dhcp }],
  };
}

/** From version 1, in which links owned channel and power, to version 2. */
function withAirs(plain: unknown): unknown {
  if (!isPlain(plain) || plain.formatVersion !== 1 || !isPlain(plain.job)) return plain;
  const lists = ['links', 'radios', 'places', 'sheets', 'benchRuns', 'alignments', 'tests', 'events', 'models'];
  if (lists.some((name) => !listOf(plain[name]))) return plain;
  try {
    return upgraded(plain);
  } catch {
    // A list that holds something else than it should: the check of today's version says what.
    return { ...plain, formatVersion: 2 };
  }
}

function upgraded(document: Plain): Plain {
  const list = (name: string): Plain[] => listOf(document[name]) ?? [];
  const places = new Map(list('places').map((p) => [p.id, p]));
  const radios = new Map(list('radios').map((r) => [r.id, r]));
  const sheets = (radioId: unknown): OldLink['nearSheets'] =>
    list('sheets')
      .filter((s) => s.radioId === radioId)
      .map(({ revision, savedAt, sheet }) => {
        const s = sheet as Plain;
        return {
          revision,
          saved_at: savedAt,
          centre_mhz: s.centreMHz,
          width_mhz: s.widthMHz,
          protocol: s.protocol,
          conducted_dbm: s.conductedDbm,
          tx_mhz: s.txMHz,
          rx_mhz: s.rxMHz,
        } as OldLink['nearSheets'][number];
      })
      .sort((a, b) => a.revision - b.revision);
  const radio = (id: unknown): OldLink['near'] => {
    const r = radios.get(id) as Plain;
    const p = places.get(r.placeId) as Plain;
    return {
      id: r.id,
      model_id: r.modelId,
      mount_height_m: r.mountHeightM,
      polarisation: r.polarisation,
      place: { latitude_deg: p.latitudeDeg, longitude_deg: p.longitudeDeg, ground_height_m: p.groundHeightM },
    } as OldLink['near'];
  };
  const links = list('links').map(
    (l) =>
      ({
        id: l.id,
        jobId: (document.job as Plain).id,
        near_radio_id: l.nearRadioId,
        far_radio_id: l.farRadioId,
        path_kind: l.pathKind,
        duplex: l.duplex,
        centre_mhz: l.centreMHz,
        width_mhz: l.widthMHz,
        protocol: l.protocol,
        near_conducted_dbm: l.nearConductedDbm,
        far_conducted_dbm: l.farConductedDbm,
        near_cable_loss_db: l.nearCableLossDb,
        far_cable_loss_db: l.farCableLossDb,
        near_mounted_at: l.nearMountedAt ?? null,
        far_mounted_at: l.farMountedAt ?? null,
        shaft_least_m: l.shaftLeastM ?? null,
        shaft_most_m: l.shaftMostM ?? null,
        near: radio(l.nearRadioId),
        far: radio(l.farRadioId),
        nearSheets: sheets(l.nearRadioId),
        farSheets: sheets(l.farRadioId),
      }) as OldLink,
  );
  const events = list('events').map((e) => ({
    job_id: (document.job as Plain).id,
    link_id: e.linkId ?? null,
    at: new Date(String(e.at)),
    kind: e.kind,
    detail: e.detail ?? {},
  })) as (OldEvent & { kind: string })[];
  const changes = events.filter((e) => e.kind === 'plan' && e.detail.differences);
  const linkOf = new Map(links.map((l) => [l.id, l]));
  const basis = (record: OldRecord): Plain | null => {
    const link = linkOf.get(record.link_id);
    return link ? basisOfRecord(link, record, changes) : null;
  };

  const airs: Plain[] = [];
  const plans = new Map<unknown, Plain>();
  const airOf = new Map<unknown, string>();
  for (const { air, members } of airsOf(links)) {
    const { jobId, radios: onAir, ...own } = air;
    void jobId;
    const id = randomUUID();
    airs.push({ ...own, id, errorCorrection: false, version: 0 });
    for (const member of members) airOf.set(member.id, id);
    for (const { id: radioId, mountedAt, ...plan } of onAir) {
      const link = members.find((m) => m.near_radio_id === radioId || m.far_radio_id === radioId) as OldLink;
      const end = link.near_radio_id === radioId ? 'near' : 'far';
      plans.set(radioId, {
        ...plan,
        airId: id,
        mountedAt,
        mountedBy: null,
        mountBasis: mountedAt ? radioBasisAt(link, end, mountedAt, changes) : null,
      });
    }
  }
  for (const { id: radioId } of list('radios').filter((r) => !plans.has(r.id))) {
    // A radio that no link used had no plan; an air of its own keeps it whole.
    const id = randomUUID();
    airs.push({ ...lonelyAir, id });
    plans.set(radioId, { airId: id, role: 'station', conductedDbm: 0, cableLossDb: 0 });
  }
  return {
    ...document,
    formatVersion: 2,
    // A job of that time could only be the demo or a copy of it.
    job: { ...(document.job as Plain), practice: true },
    airs,
    radios: list('radios').map((r) => ({
      ...r,
      modelRevision: 1,
      azimuthDeg: null,
      tiltDeg: null,
      mountedAt: null,
      mountedBy: null,
      mountBasis: null,
      ...plans.get(r.id),
    })),
    links: list('links').map(
      ({ id, jobId, name, nearRadioId, farRadioId, pathKind, needNearToFarMbps, needFarToNearMbps, ...l }) => ({
        id,
        jobId,
        name,
        nearRadioId,
        farRadioId,
        pathKind,
        needNearToFarMbps,
        needFarToNearMbps,
        airId: airOf.get(id),
        shaftLeastM: l.shaftLeastM ?? null,
        shaftMostM: l.shaftMostM ?? null,
        version: l.version,
      }),
    ),
    sheets: list('sheets').map((s) => ({
      ...s,
      sheet: { ...(s.sheet as Plain), neighbours: [], errorCorrection: false },
    })),
    benchRuns: list('benchRuns').map(({ nearRevision, farRevision, ...run }) => ({
      ...run,
      crewMemberId: null,
      evidenceKind: 'standin',
      basis: basis({
        table: 'bench_run',
        id: String(run.id),
        link_id: String(run.linkId),
        at: new Date(String(run.at)),
        near_revision: Number(nearRevision),
        far_revision: Number(farRevision),
        expected: null,
      }),
    })),
    alignments: list('alignments').map((a) => upgradedAlignment(a, linkOf, basis)),
    tests: list('tests').map((t) => upgradedTest(t, basis)),
    models: list('models').map((spec) => ({ revision: 1, spec })),
  };
}

function upgradedAlignment(
  { readings, marks, ...a }: Plain,
  linkOf: ReadonlyMap<string, OldLink>,
  basis: (record: OldRecord) => Plain | null,
): Plain {
  const link = linkOf.get(String(a.linkId));
  const [near, far] = [link?.near_radio_id, link?.far_radio_id];
  const at = (end: unknown) => (end === 'near' ? { radioId: near, peerId: far } : { radioId: far, peerId: near });
  const plan = a.plan as Plain;
  const oldMarks = listOf(marks) ?? [];
  const ends = placeOfMarks(
    oldMarks.map((m) => String(m.kind)),
    String(plan.order),
  );
  return {
    ...a,
    plan: { ...plan, ends: ['near', 'far'] },
    evidenceKind: 'standin',
    basis: basis({
      table: 'alignment',
      id: String(a.id),
      link_id: String(a.linkId),
      at: new Date(String(a.finishedAt ?? a.startedAt)),
      near_revision: null,
      far_revision: null,
      expected: plan.expectedDbm as OldRecord['expected'],
    }),
    readings: listOf(readings) ?? [],
    marks: oldMarks.map(({ kind, tS, direction }, i) => ({
      id: randomUUID(),
      kind,
      tS,
      direction: direction ?? null,
      ...at(ends[i]),
    })),
  };
}

/** A reading of version 1 told of an end of its link; now it tells of a radio and its peer. */
export function upgradeReading(reading: unknown, link: { nearRadioId: string; farRadioId: string }): unknown {
  if (!isPlain(reading) || (reading.linkEnd !== 'near' && reading.linkEnd !== 'far')) return reading;
  const { linkEnd, ...rest } = reading;
  const [radioId, peerId] =
    linkEnd === 'near' ? [link.nearRadioId, link.farRadioId] : [link.farRadioId, link.nearRadioId];
  return { ...rest, radioId, peerId };
}

function upgradedTest(test: Plain, basis: (record: OldRecord) => Plain | null): Plain {
  const { terms } = test.verdict as { terms?: { label: string; value: number }[] };
  const start = isPlain(test.raw) && isPlain(test.raw.start) ? test.raw.start : {};
  return {
    ...test,
    bothLoaded: isPlain(start.test_start) && start.test_start.bidir === 1,
    expectedMbps: terms?.find((t) => t.label === 'expected')?.value ?? null,
    evidenceKind: test.source === 'iperf3' ? 'measured' : test.source === 'hand' ? 'told' : 'standin',
    basis: basis({
      table: 'throughput_test',
      id: String(test.id),
      link_id: String(test.linkId),
      at: new Date(String(test.at)),
      near_revision: null,
      far_revision: null,
      expected: null,
    }),
  };
}

function isPlain(value: unknown): value is Plain {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function listOf(value: unknown): Plain[] | undefined {
  return Array.isArray(value) && value.every(isPlain) ? value : undefined;
}
