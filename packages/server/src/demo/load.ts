import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { sweepSeconds, type AimMark, type End, type Reading } from '@kivram/core';
import { Hands, Random, type AimWorld } from '@kivram/standin';
import type { Sequelize } from 'sequelize';
import {
  AimMarkRow,
  AlignmentRow,
  BenchRunRow,
  CrewMemberRow,
  EventRow,
  GearModelRow,
  JobRow,
  KnownDeviceRow,
  NetworkRow,
  ObstacleRow,
  PlaceRow,
  ReadingRow,
  StandinWorldRow,
  TerrainFileRow,
  type AlignmentPlan,
} from '../database/models';
import { ensureReadingPartition } from '../database/readingPartition';
import { StandinWorlds } from '../radio/standinWorlds';
import { guideFor, judge } from '../services/aimSessions';
import { loadLink, tryPredict } from '../services/links';
import { Plans } from '../services/plans';
import { Sheets } from '../services/sheets';
import { Tests } from '../services/tests';
import { importTerrain } from '../terrain/importer';
import { gear } from './gear';
import * as scenario from './scenario';
import type { DemoLink, PlaceKey } from './scenario';

/** Puts the spec sheets in; known ones are brought up to date. */
export async function loadGear(): Promise<void> {
  for (const spec of gear) await GearModelRow.upsert({ id: spec.id, spec });
}

/** Loads the demo job unless a job is there. Links go through the same steps as a user's, by simulated hands. */
export async function loadDemo(sequelize: Sequelize): Promise<boolean> {
  if (await JobRow.count()) return false;
  const job = await JobRow.create(scenario.job);
  const crew = await CrewMemberRow.bulkCreate(scenario.crew.map((name) => ({ jobId: job.id, name })));
  const network = await NetworkRow.create({ ...scenario.network, jobId: job.id });
  await KnownDeviceRow.bulkCreate(scenario.devices.map((d) => ({ ...d, networkId: network.id })));
  await loadTerrain(sequelize);
  const placeIds = new Map<PlaceKey, string>();
  for (const [key, place] of Object.entries(scenario.places)) {
    placeIds.set(key as PlaceKey, (await PlaceRow.create({ ...place, jobId: job.id })).id);
  }
  await PlaceRow.bulkCreate(
    Object.values(scenario.landmarks).map((place) => ({ ...place, kind: 'landmark' as const, jobId: job.id })),
  );
  await ObstacleRow.bulkCreate(scenario.obstacles.map((obstacle) => ({ ...obstacle, jobId: job.id })));

  const worlds = new StandinWorlds();
  const by = crew[0]?.id ?? '';
  for (const [index, link] of scenario.links.entries()) {
    const linkId = await new Plans(sequelize).create(job.id, {
      name: link.name,
      near: {
        placeId: placeIds.get(link.near ?? 'ferry'),
        modelId: link.model,
        mountHeightM: link.heightM.near,
        conductedDbm: link.conductedDbm,
      },
      far: {
        placeId: placeIds.get(link.far),
        modelId: link.model,
        mountHeightM: link.heightM.far,
        conductedDbm: link.conductedDbm,
      },
      centreMHz: link.centreMHz,
      widthMHz: link.widthMHz,
      protocol: '802.11',
      needNearToFarMbps: link.need.nearToFarMbps,
      needFarToNearMbps: link.need.farToNearMbps,
      ...(link.shaft && { pathKind: 'shaft' as const, shaftLeastM: link.shaft.leastM, shaftMostM: link.shaft.mostM }),
      crewMemberId: by,
    });
    await StandinWorldRow.create({ linkId, setup: { ...worldSetup(link, index) } });
    const daysAgo = scenario.links.length + 1 - index;
    await work(sequelize, worlds, linkId, link, by, daysAgo);
    await spreadEvents(sequelize, linkId, daysAgo);
  }
  return true;
}

/** The isles' terrain goes through the same importer as anyone's file, once. */
async function loadTerrain(sequelize: Sequelize): Promise<void> {
  const bytes = await readFile(createRequire(import.meta.url).resolve('@kivram/server/data/tessary.tif'));
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  if (await TerrainFileRow.count({ where: { sha256 } })) return;
  const source = {
    name: 'tessary.tif',
    bytes: bytes.length,
    read: (offset: number, length: number) => Promise.resolve(bytes.subarray(offset, offset + length)),
  };
  await importTerrain(sequelize, source, { sha256 });
}

function worldSetup(link: DemoLink, index: number): Record<string, unknown> {
  const beamDeg = gear.find((g) => g.id === link.model)?.beamWidth.azimuthDeg ?? 10;
  const random = new Random(100 + index);
  return {
    seed: 4000 + index,
    startAzimuthDeg: { near: random.between(0.7, 1.3) * beamDeg, far: -random.between(0.3, 0.5) * beamDeg },
    startTiltDeg: { near: random.between(-0.4, 0.4) * beamDeg, far: random.between(-0.3, 0.3) * beamDeg },
    playDeg: beamDeg < 4 ? 0.1 : 0.5,
    ...link.world,
  };
}

const order = ['plan', 'sheets', 'paired', 'mounted', 'aimed', 'proven'] as const;

/** Takes a link as far as the scenario says. */
async function work(
  sequelize: Sequelize,
  worlds: StandinWorlds,
  linkId: string,
  link: DemoLink,
  by: string,
  daysAgo: number,
): Promise<void> {
  const reached = (step: DemoLink['reached']): boolean => order.indexOf(link.reached) >= order.indexOf(step);
  const sheets = new Sheets(sequelize);
  if (reached('sheets')) {
    const proposed = await sheets.propose(linkId);
    const near = { ...proposed.near, ...link.slips?.near };
    const far = { ...proposed.far, ...link.slips?.far };
    await sheets.save(linkId, { near, far, nearRevision: 0, farRevision: 0, crewMemberId: by });
  }
  if (reached('paired')) {
    await BenchRunRow.create({ linkId, nearRevision: 1, farRevision: 1, linked: true });
    const { row } = await loadLink(linkId);
    await EventRow.create({
      jobId: row.jobId,
      linkId,
      crewMemberId: by,
      kind: 'bench',
      summary: 'Paired on the bench',
    });
  }
  if (reached('mounted')) {
    for (const end of ['near', 'far'] as const) {
      await new Plans(sequelize).mount(linkId, { end, mounted: true, cautionsRead: true, crewMemberId: by });
    }
  }
  if (reached('aimed')) await aim(sequelize, worlds, linkId, by, daysAgo, link.stopsOnSideLobe ?? false);
  if (reached('proven')) {
    const tests = new Tests(sequelize, worlds);
    await tests.runStandin(linkId, 'nearToFar', by);
    await tests.runStandin(linkId, 'farToNear', by);
  }
}

const dtS = 0.1;
const dayMs = 86_400_000;

/** One alignment by simulated hands, its readings and marks stored as the server would have. */
async function aim(
  sequelize: Sequelize,
  worlds: StandinWorlds,
  linkId: string,
  by: string,
  daysAgo: number,
  sideLobe: boolean,
): Promise<void> {
  const loaded = await loadLink(linkId);
  const { prediction } = tryPredict(loaded);
  if (!prediction) return;
  const plan: AlignmentPlan = {
    nearSource: 'phone',
    farSource: 'phone',
    order: 'endByEnd',
    expectedDbm: { near: prediction.near.rslDbm, far: prediction.far.rslDbm },
  };
  const world = await worlds.worldOf(linkId);
  const { readings, marks } = sideLobe
    ? sweepSideLobe(world, loaded.near.model.beamWidth.azimuthDeg)
    : follow(world, plan, loaded);
  await worlds.keepMounts(linkId);

  const startedAt = new Date(Date.now() - daysAgo * dayMs + 80 * 60_000);
  await ensureReadingPartition(sequelize, startedAt);
  await ensureReadingPartition(sequelize, new Date());
  const row = await AlignmentRow.create({ linkId, state: 'running', startedAt, crewMemberId: by, plan });
  await ReadingRow.bulkCreate(
    readings.map(({ end, ...r }) => ({
      alignmentId: row.id,
      at: new Date(startedAt.getTime() + r.tS * 1000),
      linkEnd: end,
      ...r,
    })),
  );
  await AimMarkRow.bulkCreate(
    marks.map((m, i) => ({
      alignmentId: row.id,
      sequence: i + 1,
      kind: m.kind,
      tS: m.tS,
      direction: 'direction' in m ? m.direction : null,
    })),
  );
  const result = await judge(row, loaded);
  await row.update({
    state: 'finished',
    finishedAt: new Date(startedAt.getTime() + 1000 * (readings.at(-1)?.tS ?? 0)),
    result,
  });
  await EventRow.create({
    jobId: loaded.row.jobId,
    linkId,
    crewMemberId: by,
    kind: 'alignment',
    summary: `Aimed: near ${result.near.rslDbm?.toFixed(1) ?? '-'} dBm, far ${result.far.rslDbm?.toFixed(1) ?? '-'} dBm`,
    detail: { alignmentId: row.id },
  });
}

interface Recording {
  readings: Reading[];
  marks: AimMark[];
}

/** A simulated installer follows the guide at both ends. */
function follow(world: AimWorld, plan: AlignmentPlan, loaded: Parameters<typeof guideFor>[1]): Recording {
  const guide = guideFor(plan, loaded);
  const random = new Random(77);
  const hands = (end: End) => new Hands(world, end, random, 'phone', 1);
  const pair = { near: hands('near'), far: hands('far') };
  const readings: Reading[] = [];
  const marks: AimMark[] = [];
  let current = guide.step;
  for (let tS = 0; tS < 1500 && !guide.finished; tS += dtS) {
    const step = guide.step;
    if (!step) break;
    const hand = pair[step.end];
    if (step !== current) hand.forgetScale();
    current = step;
    const beam = loaded[step.end].model.beamWidth;
    const width = step.axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
    const taps = hand.act(tS, dtS, step.axis, width / sweepSeconds, guide.advice);
    if (guide.advice.action === 'lock') {
      world.tighten(step.end);
      taps.push({ kind: 'locked', tS });
    }
    for (const mark of taps) {
      guide.mark(mark);
      marks.push(mark);
    }
    record(world, tS, readings, (reading) => guide.push(reading));
  }
  for (let i = 1; i <= 30; i++) record(world, (readings.at(-1)?.tS ?? 0) + dtS, readings);
  return { readings, marks };
}

/** The near end is swept about its first side lobe only and left there. */
function sweepSideLobe(world: AimWorld, beamWidthDeg: number): Recording {
  const sideLobeDeg = 1.59 * beamWidthDeg; // of a round aperture
  const readings: Reading[] = [];
  for (const axis of ['azimuth', 'tilt'] as const) world.turn('far', axis, -world.offsetDeg('far', axis));
  world.turn('near', 'tilt', -world.offsetDeg('near', 'tilt'));
  world.turn('near', 'azimuth', sideLobeDeg - 0.5 * beamWidthDeg - world.offsetDeg('near', 'azimuth'));
  let tS = 0;
  const turn = (byDeg: number): void => {
    for (let i = 0; i < 60; i++) {
      world.turn('near', 'azimuth', byDeg / 60);
      record(world, (tS += dtS), readings);
    }
  };
  for (const byDeg of [1, -1, 1, -1, 0.5]) turn(byDeg * beamWidthDeg);
  turn(0);
  return { readings, marks: [{ kind: 'turning', tS: 0, direction: 1 }] };
}

function record(world: AimWorld, tS: number, readings: Reading[], then?: (reading: Reading) => void): void {
  world.step(dtS);
  for (const end of ['near', 'far'] as const) {
    const reading = { ...world.read(end), tS };
    readings.push(reading);
    then?.(reading);
  }
}

/** Spreads a link's events over the days before, so that the timeline reads like work and not like loading. */
async function spreadEvents(sequelize: Sequelize, linkId: string, daysAgo: number): Promise<void> {
  await sequelize.query(
    `UPDATE event SET at = now() - (interval '1 hour' * (:days * 24 + 1)) + (interval '25 minutes' * rank)
     FROM (SELECT id, row_number() OVER (ORDER BY id) AS rank FROM event WHERE link_id = :linkId) ranked
     WHERE event.id = ranked.id`,
    { replacements: { linkId, days: daysAgo } },
  );
  await sequelize.query(
    `UPDATE throughput_test SET at = event.at FROM event
     WHERE throughput_test.link_id = :linkId AND event.detail ->> 'testId' = throughput_test.id::text`,
    { replacements: { linkId } },
  );
  await sequelize.query(
    `UPDATE link SET near_mounted_at = near_mounted_at - interval '1 day' * :days, far_mounted_at = far_mounted_at - interval '1 day' * :days
     WHERE id = :linkId`,
    { replacements: { linkId, days: daysAgo } },
  );
}
