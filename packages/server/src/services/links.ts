import {
  checkPair,
  ends,
  judgeSteps,
  nextStep,
  predictLink,
  solveGeodesic,
  type End,
  type Finding,
  type LinkPlan,
  type LinkPrediction,
  type PairingEnd,
  type Shaft,
  type Sheet,
  type Step,
} from '@kivram/core';
import type {
  Link,
  LinkEnd,
  LinkState,
  LinkSummary,
  LinkTerrain,
  LinkView,
  Place,
  Radio,
  ThroughputTest,
} from '@kivram/contract';
import { Op } from 'sequelize';
import {
  AlignmentRow,
  BenchRunRow,
  GearModelRow,
  JobRow,
  LinkRow,
  PlaceRow,
  RadioRow,
  SheetRow,
  ThroughputTestRow,
} from '../database/models';
import { notFound } from '../http/problem';
import { terrainShelf } from '../terrain/shelf';
import { summariseAlignment } from './alignmentViews';
import { obstaclesOf } from './obstacles';

/** Everything of one link, read in one go. */
export interface LoadedLink {
  row: LinkRow;
  job: JobRow;
  near: LinkEnd;
  far: LinkEnd;
  terrain: LinkTerrain | null;
}

export async function loadLink(linkId: string): Promise<LoadedLink> {
  const row = await LinkRow.findByPk(linkId);
  if (!row) throw notFound('link');
  const [job, near, far] = await Promise.all([
    JobRow.findByPk(row.jobId, { rejectOnEmpty: true }),
    loadEnd(row.nearRadioId, row.id),
    loadEnd(row.farRadioId, row.id),
  ]);
  return {
    row,
    job,
    near,
    far,
    terrain: row.pathKind === 'shaft' ? null : await terrainOf(job.id, near.place, far.place),
  };
}

/** The ground between two places with what stands on it this year; null where no terrain is known. */
async function terrainOf(jobId: string, near: Place, far: Place): Promise<LinkTerrain | null> {
  const profile = await terrainShelf.profile(near, far);
  if (profile.groundM.every((h) => h === null)) return null;
  return { profile, obstacles: await obstaclesOf(jobId), year: new Date().getFullYear() };
}

async function loadEnd(radioId: string, linkId: string): Promise<LinkEnd> {
  const radio = await RadioRow.findByPk(radioId, { rejectOnEmpty: true });
  const [place, model, sheet, otherStations] = await Promise.all([
    PlaceRow.findByPk(radio.placeId, { rejectOnEmpty: true }),
    GearModelRow.findByPk(radio.modelId, { rejectOnEmpty: true }),
    latestSheet(radioId),
    LinkRow.count({ where: { id: { [Op.ne]: linkId }, [Op.or]: [{ nearRadioId: radioId }, { farRadioId: radioId }] } }),
  ]);
  return {
    radio: viewRadio(radio),
    place: viewPlace(place),
    model: model.spec,
    otherStations,
    sheet: sheet && {
      radioId,
      revision: sheet.revision,
      savedAt: sheet.savedAt.toISOString(),
      crewMemberId: sheet.crewMemberId,
      sheet: viewSheet(sheet),
    },
  };
}

export async function latestSheet(radioId: string): Promise<SheetRow | null> {
  return SheetRow.findOne({ where: { radioId }, order: [['revision', 'DESC']] });
}

/** The plan of a link in the terms of the core. */
export function planOf({ row, job, near, far, terrain }: LoadedLink): LinkPlan {
  const end = (view: LinkEnd, side: End) => ({
    position: { latitudeDeg: view.place.latitudeDeg, longitudeDeg: view.place.longitudeDeg },
    groundHeightM: view.place.groundHeightM,
    mountHeightM: view.radio.mountHeightM,
    model: view.model,
    conductedDbm: row[`${side}ConductedDbm`],
    cableLossDb: row[`${side}CableLossDb`],
  });
  return {
    near: end(near, 'near'),
    far: end(far, 'far'),
    centreMHz: row.centreMHz,
    widthMHz: row.widthMHz,
    protocol: row.protocol,
    country: job.country,
    terrain,
    shaft: shaftOf(row),
  };
}

function shaftOf({ pathKind, shaftLeastM, shaftMostM }: LinkRow): Shaft | null {
  return pathKind === 'shaft' && shaftLeastM && shaftMostM ? { leastM: shaftLeastM, mostM: shaftMostM } : null;
}

/** The prediction, or why there is none. */
export function tryPredict(loaded: LoadedLink): { prediction: LinkPrediction | null; predictionError: string | null } {
  try {
    return { prediction: predictLink(planOf(loaded)), predictionError: null };
  } catch (error) {
    if (error instanceof RangeError) return { prediction: null, predictionError: error.message };
    throw error;
  }
}

export function findingsOf({ near, far }: LoadedLink): Finding[] {
  if (!near.sheet || !far.sheet) return [];
  const end = ({ sheet, model, otherStations }: LinkEnd & { sheet: { sheet: Sheet } }): PairingEnd => ({
    sheet: sheet.sheet,
    model,
    otherStations,
  });
  return checkPair({ near: end({ ...near, sheet: near.sheet }), far: end({ ...far, sheet: far.sheet }) });
}

/** Judges how far a link is, from what is on record. */
export async function stateOf(loaded: LoadedLink): Promise<LinkState> {
  const { row, near, far } = loaded;
  const [benchRun, alignment, tests] = await Promise.all([
    BenchRunRow.findOne({
      where: { linkId: row.id, nearRevision: near.sheet?.revision ?? 0, farRevision: far.sheet?.revision ?? 0 },
      order: [['at', 'DESC']],
    }),
    latestAlignment(row.id, 'finished'),
    ThroughputTestRow.findAll({
      where: { linkId: row.id },
      order: [['at', 'DESC']],
      attributes: ['direction', 'verdict'],
    }),
  ]);
  const worst = ends
    .map((end) => alignment?.result?.[end])
    .filter((r) => r !== undefined)
    .filter((r) => r.diagnosis !== 'otherEnd')
    .sort((a, b) => (b.shortDb ?? Infinity) - (a.shortDb ?? Infinity))[0];
  const steps = judgeSteps({
    ...tryPredict(loaded),
    needNearToFarMbps: row.needNearToFarMbps,
    needFarToNearMbps: row.needFarToNearMbps,
    findings: findingsOf(loaded),
    sheetsExist: !!near.sheet && !!far.sheet,
    paired: benchRun?.linked ?? null,
    mounted: { near: !!row.nearMountedAt, far: !!row.farMountedAt },
    alignment: worst ? { diagnosis: worst.diagnosis, shortDb: worst.shortDb } : null,
    tests: tests.map((t) => ({ state: t.verdict.state, direction: t.direction, headline: t.verdict.headline })),
  });
  const next = nextStep(steps);
  return { steps, next: next ? { ...next, end: endOf(next.step, row) } : null };
}

/** At which end the next work is. */
function endOf(step: Step, row: LinkRow): End | 'both' {
  if (step === 'mount') return row.nearMountedAt ? 'far' : 'near';
  return 'both';
}

export function latestAlignment(linkId: string, state: 'finished' | 'running'): Promise<AlignmentRow | null> {
  return AlignmentRow.findOne({ where: { linkId, state }, order: [['startedAt', 'DESC']] });
}

export async function viewLink(linkId: string): Promise<LinkView> {
  const loaded = await loadLink(linkId);
  const ends = [loaded.near.place.id, loaded.far.place.id];
  const [others, state, finished, running, tests] = await Promise.all([
    PlaceRow.findAll({ where: { jobId: loaded.job.id, id: { [Op.notIn]: ends } }, order: [['name', 'ASC']] }),
    stateOf(loaded),
    latestAlignment(linkId, 'finished'),
    latestAlignment(linkId, 'running'),
    ThroughputTestRow.findAll({ where: { linkId }, order: [['at', 'DESC']], attributes: { exclude: ['raw'] } }),
  ]);
  return {
    link: viewLinkRow(loaded.row),
    country: loaded.job.country,
    near: loaded.near,
    far: loaded.far,
    terrain: loaded.terrain,
    landmarks: others.map(viewPlace),
    state,
    alignment: finished && (await summariseAlignment(finished)),
    running: running && (await summariseAlignment(running)),
    tests: tests.map(viewTest),
  };
}

export async function summariseLinks(jobId: string): Promise<LinkSummary[]> {
  const rows = await LinkRow.findAll({ where: { jobId }, order: [['name', 'ASC']], attributes: ['id'] });
  return Promise.all(
    rows.map(async ({ id }) => {
      const loaded = await loadLink(id);
      const { row, near, far } = loaded;
      return {
        id: row.id,
        name: row.name,
        nearPlaceId: near.place.id,
        farPlaceId: far.place.id,
        nearPlace: near.place.name,
        farPlace: far.place.name,
        distanceM: row.shaftMostM ?? solveGeodesic(near.place, far.place).distanceM,
        state: await stateOf(loaded),
      };
    }),
  );
}

export function viewLinkRow(row: LinkRow): Link {
  const { nearMountedAt, farMountedAt, ...rest } = row.get({ plain: true });
  return {
    ...rest,
    nearMountedAt: nearMountedAt?.toISOString() ?? null,
    farMountedAt: farMountedAt?.toISOString() ?? null,
  };
}

export function viewPlace(row: PlaceRow): Place {
  const { id, name, latitudeDeg, longitudeDeg, groundHeightM, kind, note, version } = row;
  return { id, name, latitudeDeg, longitudeDeg, groundHeightM, kind, note, version };
}

export function viewRadio(row: RadioRow): Radio {
  const { id, placeId, modelId, mountHeightM, polarisation, serial, mac, version } = row;
  return { id, placeId, modelId, mountHeightM, polarisation, serial, mac, version };
}

export function viewSheet(row: SheetRow): Sheet {
  const { radioId, revision, savedAt, crewMemberId, ...sheet } = row.get({ plain: true });
  void [radioId, revision, savedAt, crewMemberId];
  return sheet;
}

export function viewTest(row: ThroughputTestRow): ThroughputTest {
  const { linkId, raw, sha256, at, ...rest } = row.get({ plain: true });
  void [linkId, raw, sha256];
  return { ...rest, at: at.toISOString() };
}
