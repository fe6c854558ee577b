import type { AlignmentEndResult } from '@kivram/contract/views/alignment';
import type { LinkState } from '@kivram/contract/views/state';
import { needLoad, sharedRates } from '@kivram/core/budget/airPrediction';
import { disturbanceOf, type HeardAir } from '@kivram/core/budget/neighbours';
import { needFadeDb } from '@kivram/core/budget/needFade';
import { ends, planOf, type End } from '@kivram/core/budget/plan';
import { basisOf, type Basis } from '@kivram/core/evidence/basis';
import type { Evidence, EvidenceKind } from '@kivram/core/evidence/evidence';
import { checkBench } from '@kivram/core/pairing/check';
import type { Finding, PairingEnd } from '@kivram/core/pairing/pair';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { licenceFacts } from '@kivram/core/budget/licenceFacts';
import { nextWork } from '@kivram/core/verdict/next';
import { judgeSteps, type LinkFacts, type ProofTest, type SharedRates } from '@kivram/core/verdict/steps';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import { QueryTypes, type Sequelize } from 'sequelize';
import { AlignmentRow } from '../database/models/alignment';
import { BenchRunRow } from '../database/models/benchRun';
import { LinkRow } from '../database/models/link';
import { ThroughputTestRow } from '../database/models/throughputTest';
import { predictionOf, type LinkRecord } from './linkRecords';
import { siteFor } from './sites';

/** The latest of everything that was done on links, by link. */
export interface DoneRecords {
  bench: Map<string, BenchRunRow>;
  alignment: Map<string, AlignmentRow>;
  tests: Map<string, Partial<Record<Direction, ThroughputTestRow>>>;
}

/** Reads what was done last on some links, in three queries however many they are. */
export async function doneOn(linkIds: readonly string[]): Promise<DoneRecords> {
  if (!linkIds.length) return { bench: new Map(), alignment: new Map(), tests: new Map() };
  const sequelize = LinkRow.sequelize as Sequelize;
  const options = { type: QueryTypes.SELECT as const, replacements: { linkIds: [...linkIds] }, mapToModel: true };
  const [bench, alignments, tests] = await Promise.all([
    sequelize.query(
      'SELECT DISTINCT ON (link_id) * FROM bench_run WHERE link_id IN (:linkIds) ORDER BY link_id, at DESC',
      {
        ...options,
        model: BenchRunRow,
      },
    ),
    sequelize.query(
      `SELECT DISTINCT ON (link_id) * FROM alignment WHERE link_id IN (:linkIds) AND state = 'finished' ORDER BY link_id, started_at DESC`,
      { ...options, model: AlignmentRow },
    ),
    sequelize.query(
      `SELECT DISTINCT ON (link_id, direction) id, link_id, at, direction, mbps, aborted, both_loaded, other_mbps, loss_share, conditions, expected_mbps, crew_member_id, evidence_kind, basis
       FROM throughput_test WHERE link_id IN (:linkIds)
       -- what proves nothing hides nothing that was proven before
       ORDER BY link_id, direction, verdict->>'state' = 'open', at DESC`,
      { ...options, model: ThroughputTestRow },
    ),
  ]);
  const byLink: DoneRecords['tests'] = new Map();
  for (const test of tests) byLink.set(test.linkId, { ...byLink.get(test.linkId), [test.direction]: test });
  return {
    bench: new Map(bench.map((row) => [row.linkId, row])),
    alignment: new Map(alignments.map((row) => [row.linkId, row])),
    tests: byLink,
  };
}

/** Judges how far a link is, from its record, the other links of its air, what was done, and which other airs of the job it hears. */
export function stateOf(
  record: LinkRecord,
  onAir: readonly LinkRecord[],
  done: DoneRecords,
  heard: readonly HeardAir[],
): LinkState {
  const { link, job, near, far } = record;
  const bench = done.bench.get(link.id);
  const tests = done.tests.get(link.id) ?? {};
  const facts: LinkFacts = {
    practice: job.practice,
    ...predictionOf(record),
    missingTerrain: job.terrainNames,
    need: needOf(record),
    fade: fadeOf(record, onAir),
    licence: licenceFacts(record),
    disturbance: disturbed(record, onAir, heard),
    shared: sharedOf(record, onAir),
    findings: findingsOf(record),
    sheetsExist: !!near.sheet && !!far.sheet,
    pairing: bench ? { linked: bench.linked, evidence: evidenceOf(bench, bench.at) } : null,
    mounted: { near: mountedOf(record, 'near'), far: mountedOf(record, 'far') },
    alignment: aimedOf(done.alignment.get(link.id)),
    tests: { nearToFar: proofOf(tests.nearToFar), farToNear: proofOf(tests.farToNear) },
    accessEnd: far.radio.role === 'access' ? 'far' : 'near',
    basis: recordBasis(record),
  };
  const steps = judgeSteps(facts);
  return { steps, next: nextWork(facts, steps) ?? null };
}

/** What plan, sheets and models of a link are now. */
export function recordBasis(record: LinkRecord): Basis {
  const { prediction } = predictionOf(record);
  return basisOf(record, prediction && { near: prediction.near.rslDbm, far: prediction.far.rslDbm });
}

export function needOf({ link }: LinkRecord): Record<Direction, number> {
  return { nearToFar: link.needNearToFarMbps, farToNear: link.needFarToNearMbps };
}

/** How far the levels may fade until the need is not met any more, and how much of it is asked for. */
function fadeOf(record: LinkRecord, onAir: readonly LinkRecord[]): LinkFacts['fade'] {
  const { prediction } = predictionOf(record);
  if (!prediction) return null;
  const plan = planOf({ ...record, othersLoad: othersLoadOf(record, onAir) });
  if (!plan.need) return null;
  const ladders = {
    nearToFar: prediction.far.ladder,
    farToNear: prediction.near.ladder,
    ethernetMbps: prediction.nearToFar.ceiling.portMbps,
  };
  return { needDb: needFadeDb(plan, plan.need, ladders), wantedDb: record.link.wantedMarginDb };
}

/** What other airs of the job do to a link. */
function disturbed(
  record: LinkRecord,
  onAir: readonly LinkRecord[],
  heard: readonly HeardAir[],
): LinkFacts['disturbance'] {
  const { prediction } = predictionOf(record);
  const plan = planOf(record);
  if (!prediction || !plan.need) return undefined;
  return disturbanceOf(plan, prediction, needLoad(prediction, plan.need) + othersLoadOf(record, onAir), heard);
}

/** Share of the time of its air that the other links on it need; 0 where each direction has a frequency of its own, or where some cannot be predicted. */
export function othersLoadOf(record: LinkRecord, onAir: readonly LinkRecord[]): number {
  if (record.air.kind === 'duplex') return 0;
  let load = 0;
  for (const other of onAir) {
    if (other.link.id === record.link.id) continue;
    const { prediction } = predictionOf(other);
    const need = planOf(other).need;
    if (prediction && need) load += needLoad(prediction, need);
  }
  return load;
}

/** What its air leaves for a link while all the others on it carry what they need; null where some of it cannot be predicted. */
export function sharedOf(record: LinkRecord, onAir: readonly LinkRecord[]): SharedRates | null {
  const links = onAir.map((other) => ({ prediction: predictionOf(other).prediction, need: needOf(other) }));
  const own = onAir.findIndex((other) => other.link.id === record.link.id);
  const mbps = sharedRates(record.air.kind, links, own);
  return mbps && { mbps, others: onAir.length > 1 };
}

export function findingsOf({ link, near, far, laws, site, air, job, licence, day }: LinkRecord): Finding[] {
  if (!near.sheet || !far.sheet) return [];
  const end = ({ model, radio, otherStations }: LinkRecord['near'], sheet: Sheet): PairingEnd => ({
    sheet,
    model,
    mac: radio.mac,
    otherStations,
  });
  return checkBench(
    { near: end(near, near.sheet.sheet), far: end(far, far.sheet.sheet), law: laws },
    siteFor(site, [near.radio.id, far.radio.id]),
    {
      air,
      country: job.country,
      licence,
      day,
      outdoor: link.pathKind !== 'shaft',
      near: near.radio,
      far: far.radio,
    },
  );
}

interface Known {
  evidenceKind: EvidenceKind;
  crewMemberId: string | null;
  basis: Basis | null;
}

function evidenceOf({ evidenceKind, crewMemberId, basis }: Known, at: Date): Evidence {
  return { kind: evidenceKind, at: at.toISOString(), crewMemberId, basis };
}

/** A mounting tells of its own radio, at whichever end of the link that is. */
function mountedOf(record: LinkRecord, end: End): Evidence | null {
  const { mountedAt, mountedBy, mountBasis } = record[end].radio;
  if (!mountedAt) return null;
  return { kind: 'told', at: mountedAt, crewMemberId: mountedBy, basis: mountBasis && { [end]: mountBasis } };
}

/** An alignment counts by its worse end; what only follows from the other end does not count twice. */
function aimedOf(row: AlignmentRow | undefined): LinkFacts['alignment'] {
  if (!row?.result) return null;
  const { result } = row;
  const worst = ends
    .map((end): AlignmentEndResult => ({ ...result[end], end }))
    .filter((r) => r.diagnosis !== 'otherEnd')
    .sort((a, b) => (b.shortDb ?? Infinity) - (a.shortDb ?? Infinity))[0];
  if (!worst) return null;
  return {
    diagnosis: worst.diagnosis,
    shortDb: worst.shortDb,
    end: worst.end,
    evidence: evidenceOf(row, row.finishedAt ?? row.startedAt),
  };
}

function proofOf(row: ThroughputTestRow | undefined): ProofTest | null {
  if (!row) return null;
  return {
    measured: {
      measuredMbps: row.mbps,
      aborted: row.aborted,
      bothLoaded: row.bothLoaded,
      otherMbps: row.otherMbps,
      lossShare: row.lossShare,
      conditions: row.conditions,
    },
    expectedMbps: row.expectedMbps,
    evidence: evidenceOf(row, row.at),
  };
}
