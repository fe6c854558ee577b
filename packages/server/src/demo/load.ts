import { createHash, randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { AimMark } from '@kivram/core/aiming/aimGuide';
import { notchesOf } from '@kivram/core/aiming/alignment';
import { sweepSeconds } from '@kivram/core/aiming/guide';
import type { Reading } from '@kivram/core/aiming/reading';
import { otherEnd, type End } from '@kivram/core/budget/plan';
import { Random } from '@kivram/standin/random';
import type { AimWorld } from '@kivram/standin/world/aimWorld';
import { Hands } from '@kivram/standin/world/hands/hands';
import type { Sequelize } from 'sequelize';
import { AimMarkRow } from '../database/models/aimMark';
import { AlignmentRow, type AlignmentPlan } from '../database/models/alignment';
import { CrewMemberRow } from '../database/models/crewMember';
import { EventRow } from '../database/models/event';
import { JobRow } from '../database/models/job';
import { LicenceRow } from '../database/models/licence';
import { LinkRow } from '../database/models/link';
import { NetworkRow } from '../database/models/network';
import { ObstacleRow } from '../database/models/obstacle';
import { PlaceRow } from '../database/models/place';
import { PlaceNeedRow } from '../database/models/placeNeed';
import { RuleSetRow } from '../database/models/ruleSet';
import { StandinWorldRow } from '../database/models/standinWorld';
import { TerrainFileRow } from '../database/models/terrainFile';
import { ensureReadingPartitions } from '../database/readingPartition';
import { storeReadings } from '../database/readings';
import { authorFrom, type Author } from '../http/author';
import { StandinWorlds } from '../radio/standinWorlds';
import { guideFor, judge } from '../services/alignmentJudge';
import { Benches } from '../services/benches';
import { keepModel } from '../services/gear';
import { fillNetwork } from '../services/networks';
import { loadLink, predictionOf, type LinkRecord } from '../services/linkRecords';
import { recordBasis } from '../services/linkStates';
import { NewLinks } from '../services/newLinks';
import { Plans } from '../services/plans';
import { Sheets } from '../services/sheets';
import { Tests } from '../services/tests';
import { importTerrain } from '../terrain/importer';
import { gear } from './gear';
import { law } from './law';
import * as scenario from './scenario';
import type { DemoLink, PlaceKey } from './scenario';
import { loadProfiles } from './profiles';

/** Puts spec sheets, profiles and laws in. A spec sheet that has changed becomes a new revision; radios keep the one they were planned with. */
export async function loadCatalogue(): Promise<void> {
  await loadProfiles();
  for (const spec of gear) await keepModel(spec);
  for (const { country, name, validFrom, rules, source } of law)
    await RuleSetRow.upsert({ country, name, validFrom, rules, source });
}

/** Where it is written that the demo is being loaded, and as which job. */
const beingLoaded = 'demo being loaded';

/**
 * Loads the demo job unless a job is there. Links go through the same steps as a user's, by simulated hands. That is many transactions: a demo whose loading was cut
 * off is removed, and loaded from the beginning.
 */
export async function loadDemo(sequelize: Sequelize): Promise<boolean> {
  await sequelize.query(
    `WITH half AS (DELETE FROM setting WHERE name = :beingLoaded RETURNING value) DELETE FROM job WHERE id::text IN (SELECT value FROM half)`,
    { replacements: { beingLoaded } },
  );
  if (await JobRow.count()) return false;
  const job = await sequelize.transaction(async (transaction) => {
    const made = await JobRow.create({ ...scenario.job, practice: true }, { transaction });
    await sequelize.query('INSERT INTO setting (name, value) VALUES (:beingLoaded, :id)', {
      transaction,
      replacements: { beingLoaded, id: made.id },
    });
    return made;
  });
  const crew = await CrewMemberRow.bulkCreate(scenario.crew.map((member) => ({ ...member, jobId: job.id })));
  await loadTerrain(sequelize);
  const placeIds = new Map<PlaceKey, string>();
  for (const [key, place] of Object.entries(scenario.places)) {
    placeIds.set(key as PlaceKey, (await PlaceRow.create({ ...place, jobId: job.id })).id);
  }
  const network = await NetworkRow.create({
    ...scenario.feed,
    feedPlaceId: placeIds.get(scenario.feedAt),
    jobId: job.id,
  });
  await fillNetwork(network.id, scenario);
  await PlaceRow.bulkCreate(
    Object.values(scenario.landmarks).map((place) => ({ ...place, kind: 'landmark' as const, jobId: job.id })),
  );
  await PlaceNeedRow.bulkCreate(
    Object.entries(scenario.needs).map(([key, need]) => ({
      ...need,
      items: [...need.items],
      placeId: placeIds.get(key as PlaceKey) ?? '',
    })),
  );
  const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
  const licences = await LicenceRow.bulkCreate(
    scenario.licences.map(({ lowAt, highAt, ...licence }) => ({
      ...licence,
      validFrom: inDays(-scenario.licencesBeganDays),
      validUntil: inDays(scenario.licenceDays),
      lowPlaceId: placeIds.get(lowAt),
      highPlaceId: placeIds.get(highAt),
      jobId: job.id,
    })),
  );
  await ObstacleRow.bulkCreate(scenario.obstacles.map((obstacle) => ({ ...obstacle, jobId: job.id })));

  const worlds = new StandinWorlds();
  const by = (): Author => authorFrom(crew[0] as CrewMemberRow, randomUUID());
  const radios = new Map<string, string>();
  const linkIds: string[] = [];
  for (const [index, link] of scenario.links.entries()) {
    const licenceId = link.air.kind === 'duplex' ? licences[0]?.id : undefined;
    const linkId = await planLink(sequelize, job.id, link, licenceId, placeIds, radios, by());
    await StandinWorldRow.create({ linkId, setup: { ...worldSetup(link, index) } });
    linkIds.push(linkId);
  }
  for (const [index, link] of scenario.links.entries()) {
    const linkId = linkIds[index] ?? '';
    const daysAgo = scenario.links.length + 1 - index;
    await work(sequelize, worlds, linkId, link, by, daysAgo);
    await spreadEvents(sequelize, linkId, daysAgo);
  }
  // It draws pictures: what that needs is loaded only where the demo is.
  const { loadVisits } = await import('./visits');
  await loadVisits(sequelize, crew[0] as CrewMemberRow);
  await sequelize.query('DELETE FROM setting WHERE name = :beingLoaded', { replacements: { beingLoaded } });
  return true;
}

/** Plans a link as a user would; an end that names a radio of an earlier link joins its air. */
async function planLink(
  sequelize: Sequelize,
  jobId: string,
  link: DemoLink,
  licenceId: string | undefined,
  placeIds: ReadonlyMap<PlaceKey, string>,
  radios: Map<string, string>,
  author: Author,
): Promise<string> {
  const end = (side: End) => {
    const { radio, place, model, heightM, conductedDbm, azimuthDeg, tiltDeg, mac } = link[side];
    const known = radio && radios.get(radio);
    if (known) return { radioId: known };
    return {
      placeId: placeIds.get(place),
      modelId: model,
      mountHeightM: heightM,
      conductedDbm,
      azimuthDeg,
      tiltDeg,
      mac,
    };
  };
  const { air, need, shaft, name } = link;
  const [linkId = ''] = await new NewLinks(sequelize).create(
    jobId,
    [
      {
        name,
        near: end('near'),
        far: end('far'),
        airKind: air.kind,
        centreMHz: air.centreMHz,
        returnMHz: air.returnMHz,
        widthMHz: air.widthMHz,
        errorCorrection: air.errorCorrection,
        licenceId,
        protocol: air.protocol ?? '802.11',
        needNearToFarMbps: need.nearToFarMbps,
        needFarToNearMbps: need.farToNearMbps,
        ...(shaft && { pathKind: 'shaft' as const, shaftLeastM: shaft.leastM, shaftMostM: shaft.mostM }),
      },
    ],
    author,
  );
  const row = await LinkRow.findByPk(linkId, { rejectOnEmpty: true });
  if (link.near.radio) radios.set(link.near.radio, row.nearRadioId);
  if (link.far.radio) radios.set(link.far.radio, row.farRadioId);
  return linkId;
}

/** The isles' terrain goes through the same importer as anyone's file, once. */
export async function loadTerrain(sequelize: Sequelize): Promise<void> {
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
  const beamDeg = (end: End): number => gear.find((g) => g.id === link[end].model)?.beamWidth.azimuthDeg ?? 10;
  const random = new Random(100 + index);
  const narrowest = Math.min(beamDeg('near'), beamDeg('far'));
  return {
    seed: 4000 + index,
    startAzimuthDeg: {
      near: random.between(0.7, 1.3) * beamDeg('near'),
      far: -random.between(0.3, 0.5) * beamDeg('far'),
    },
    startTiltDeg: {
      near: random.between(-0.4, 0.4) * beamDeg('near'),
      far: random.between(-0.3, 0.3) * beamDeg('far'),
    },
    playDeg: narrowest < 4 ? 0.1 : 0.5,
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
  by: () => Author,
  daysAgo: number,
): Promise<void> {
  const reached = (step: DemoLink['reached']): boolean => order.indexOf(link.reached) >= order.indexOf(step);
  if (reached('sheets')) {
    const sheets = new Sheets(sequelize);
    const proposed = await sheets.propose(linkId);
    const before = await loadLink(linkId);
    await sheets.save(
      linkId,
      {
        near: { ...proposed.near, ...link.slips?.near },
        far: { ...proposed.far, ...link.slips?.far },
        nearRevision: before.near.sheet?.revision ?? 0,
        farRevision: before.far.sheet?.revision ?? 0,
      },
      by(),
    );
    worlds.forgetAll();
  }
  if (reached('paired')) await new Benches(sequelize).tryStandin(linkId, by());
  if (reached('mounted')) {
    const { near, far } = await loadLink(linkId);
    const plans = new Plans(sequelize);
    for (const [end, { radio }] of [
      ['near', near],
      ['far', far],
    ] as const) {
      if (!radio.mountedAt) await plans.mount(linkId, { end, mounted: true, cautionsRead: true }, by());
    }
    worlds.forgetAll();
  }
  if (reached('aimed')) await aim(sequelize, worlds, linkId, by(), daysAgo, link.stopsOnSideLobe ?? false);
  if (reached('proven')) {
    const tests = new Tests(sequelize, worlds);
    await tests.runStandin(linkId, 'nearToFar', by());
    await tests.runStandin(linkId, 'farToNear', by());
  }
}

const dtS = 0.1;
const dayMs = 86_400_000;

/** One alignment by simulated hands, its readings and marks stored as the server would have. */
async function aim(
  sequelize: Sequelize,
  worlds: StandinWorlds,
  linkId: string,
  by: Author,
  daysAgo: number,
  sideLobe: boolean,
): Promise<void> {
  const record = await loadLink(linkId);
  const { prediction } = predictionOf(record);
  const ends = (['near', 'far'] as const).filter((end) => record[end].radio.azimuthDeg === null);
  if (!prediction || !ends.length) return;
  const plan: AlignmentPlan = {
    nearSource: 'phone',
    farSource: 'phone',
    order: 'endByEnd',
    ends,
    expectedDbm: { near: prediction.near.rslDbm, far: prediction.far.rslDbm },
  };
  const world = await worlds.worldOf(linkId);
  const { readings, marks } = sideLobe
    ? sweepSideLobe(world, record.near.model.beamWidth.azimuthDeg)
    : follow(world, plan, record);
  await worlds.keepMounts(linkId);

  const startedAt = new Date(morning(daysAgo).getTime() + 80 * 60_000);
  await ensureReadingPartitions(sequelize, [startedAt, new Date()]);
  const crewMemberId = by.memberOf(record.job.id);
  const row = await AlignmentRow.create({
    linkId,
    state: 'running',
    startedAt,
    crewMemberId,
    plan,
    evidenceKind: 'standin',
    basis: recordBasis(record),
  });
  const radioAt = (end: End) => ({ radioId: record[end].radio.id, peerId: record[otherEnd(end)].radio.id });
  await storeReadings(
    sequelize,
    row.id,
    readings.map(({ end, ...r }) => ({
      ...r,
      ...radioAt(end),
      at: new Date(startedAt.getTime() + r.tS * 1000).toISOString(),
    })),
  );
  await AimMarkRow.bulkCreate(
    marks.map(({ end, mark }) => ({
      ...radioAt(end),
      alignmentId: row.id,
      kind: mark.kind,
      tS: mark.tS,
      direction: 'direction' in mark ? mark.direction : null,
    })),
  );
  const result = await judge(
    plan,
    record,
    readings,
    marks.map(({ end, mark }) => ({ ...mark, end })),
  );
  await row.update({
    state: 'finished',
    finishedAt: new Date(startedAt.getTime() + 1000 * (readings.at(-1)?.tS ?? 0)),
    result,
  });
  await EventRow.create({
    jobId: record.job.id,
    linkId,
    crewMemberId,
    kind: 'alignment',
    summary: `Aimed: near ${result.near.rslDbm?.toFixed(1) ?? '-'} dBm, far ${result.far.rslDbm?.toFixed(1) ?? '-'} dBm`,
    detail: { alignmentId: row.id },
  });
}

interface Recording {
  readings: Reading[];
  marks: { end: End; mark: AimMark }[];
}

/** A simulated installer follows the guide at both ends. */
function follow(world: AimWorld, plan: AlignmentPlan, record: LinkRecord): Recording {
  const guide = guideFor(plan, record);
  const random = new Random(77);
  const hands = (end: End) => new Hands(world, end, random, 'phone', notchesOf(record[end].model.beamWidth));
  const pair = { near: hands('near'), far: hands('far') };
  const readings: Reading[] = [];
  const marks: Recording['marks'] = [];
  let current = guide.step;
  for (let tS = 0; tS < 1500 && !guide.finished; tS += dtS) {
    const step = guide.step;
    if (!step) break;
    const hand = pair[step.end];
    if (step.end !== current?.end || step.axis !== current.axis) hand.forgetScale();
    current = step;
    const beam = record[step.end].model.beamWidth;
    const width = step.axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
    const taps = hand.act(tS, dtS, step.axis, width / sweepSeconds, guide.advice);
    for (const mark of taps) {
      guide.mark(mark);
      marks.push({ end: step.end, mark });
    }
    readBoth(world, tS, readings, (reading) => guide.push(reading));
  }
  for (let i = 1; i <= 30; i++) readBoth(world, (readings.at(-1)?.tS ?? 0) + dtS, readings);
  return { readings, marks };
}

/** The near end passes its main lobe's flank, is swept about its first side lobe and left there. */
function sweepSideLobe(world: AimWorld, beamWidthDeg: number): Recording {
  const sideLobeDeg = 1.59 * beamWidthDeg; // of a round aperture
  const readings: Reading[] = [];
  for (const axis of ['azimuth', 'tilt'] as const) world.turn('far', axis, -world.offsetDeg('far', axis));
  world.turn('near', 'tilt', -world.offsetDeg('near', 'tilt'));
  world.turn('near', 'azimuth', sideLobeDeg - 1.5 * beamWidthDeg - world.offsetDeg('near', 'azimuth'));
  let tS = 0;
  const turn = (byDeg: number): void => {
    for (let i = 0; i < 60; i++) {
      world.turn('near', 'azimuth', byDeg / 60);
      readBoth(world, (tS += dtS), readings);
    }
  };
  for (const byDeg of [2, -1, 1, -1, 0.5]) turn(byDeg * beamWidthDeg);
  const turnedS = tS;
  turn(0);
  const marks = [
    { end: 'near' as const, mark: { kind: 'turning' as const, tS: 0, direction: 1 as const } },
    { end: 'near' as const, mark: { kind: 'turning' as const, tS: turnedS, direction: 0 as const } },
  ];
  return { readings, marks };
}

function readBoth(world: AimWorld, tS: number, readings: Reading[], then?: (reading: Reading) => void): void {
  world.step(dtS);
  for (const end of ['near', 'far'] as const) {
    const reading = { ...world.read(end), tS };
    readings.push(reading);
    then?.(reading);
  }
}

/** When the demo's people begin on a day: half past eight on this computer's clock. */
function morning(daysAgo: number): Date {
  const day = new Date(Date.now() - daysAgo * dayMs);
  day.setHours(8, 30, 0, 0);
  return day;
}

/** Spreads a link's events over the days before, so that the timeline reads like work and not like loading. */
async function spreadEvents(sequelize: Sequelize, linkId: string, daysAgo: number): Promise<void> {
  await sequelize.query(
    `UPDATE event SET at = :morning::timestamptz + (interval '25 minutes' * (rank - 1))
     FROM (SELECT id, row_number() OVER (ORDER BY id) AS rank FROM event WHERE link_id = :linkId) ranked
     WHERE event.id = ranked.id`,
    { replacements: { linkId, morning: morning(daysAgo) } },
  );
  for (const [table, key] of [
    ['throughput_test', 'testId'],
    ['bench_run', 'benchRunId'],
  ])
    await sequelize.query(
      `UPDATE ${table} SET at = event.at FROM event
       WHERE ${table}.link_id = :linkId AND event.detail ->> '${key}' = ${table}.id::text`,
      { replacements: { linkId } },
    );
  await sequelize.query(
    `UPDATE radio SET mounted_at = :mountedAt FROM link
     WHERE link.id = :linkId AND radio.id IN (link.near_radio_id, link.far_radio_id) AND mounted_at > now() - interval '1 hour'`,
    { replacements: { linkId, mountedAt: new Date(morning(daysAgo).getTime() + 60 * 60_000) } },
  );
}
