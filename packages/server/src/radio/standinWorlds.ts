import { notchesOf } from '@kivram/core/aiming/alignment';
import type { MountAxis } from '@kivram/core/aiming/reading';
import { sendingChannel } from '@kivram/core/air/air';
import { otherEnd, type End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import { wrap180 } from '@kivram/core/geodesy/geodesic';
import { narrowbandStepNames } from '@kivram/core/radio/kinds/narrowband';
import { bridgedGroundM } from '@kivram/core/terrain/profile';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import { Random } from '@kivram/standin/random';
import { layerOf } from '@kivram/standin/throughput/layer';
import { runThroughput, type RunEnd } from '@kivram/standin/throughput/run';
import {
  AimWorld,
  usualConditions,
  type MountState,
  type WorldConditions,
  type WorldEnd,
} from '@kivram/standin/world/aimWorld';
import type { Antenna } from '@kivram/standin/world/antenna';
import { coaxLossDb } from '@kivram/standin/world/coax';
import { arrivingDbm, type WaveEnd } from '@kivram/standin/world/wave';
import type { StandinPage } from '@kivram/contract/views/level';
import type { HandsView } from '@kivram/contract/views/link';
import { StandinWorldRow } from '../database/models/standinWorld';
import { ApiProblem } from '../http/apiProblem';
import { pairOnBench } from '../services/benches';
import { loadLink, predictionOf, type LinkRecord } from '../services/linkRecords';
import { nothingHeard, type LevelReading, type RadioReader, type RadioReaders } from './reader';

/** What is true in the stand-in world of a link and nobody tells the program. */
export interface WorldSetup extends Partial<WorldConditions> {
  seed: number;
  startAzimuthDeg: { near: number; far: number };
  startTiltDeg: { near: number; far: number };
  playDeg: number;
  secondChainLossDb?: number;
  /** what the wall socket or provider behind the near end lets through */
  feedMbps?: number;
  lossShare?: number;
  /** a port or cable that came up slower than the spec sheet says */
  ethernetMbps?: number;
}

interface Standing {
  record: LinkRecord;
  world: AimWorld;
  setup: WorldSetup;
  /** whether the two radios with their sheets become a link at all */
  linked: boolean;
  notchDeg: Record<End, Record<MountAxis, number>>;
  /** up to when the world has gone on, by the monotonic clock, ms */
  lastMs: number;
  /** what the pages of the radios have noted */
  log: Record<End, { atMs: number; rslDbm: number | null }[]>;
}

/** The world goes on by no less than this, seconds: two who read it at one moment read the same. */
const leastStepS = 0.02;

/** Lines that a stand-in radio's page keeps, and the noise that it shows. */
const longestLog = 900;
const standinNoiseDbm = -94;

/** How long a stand-in throughput run takes. */
const runSeconds = 10;

/** The stand-in worlds, one a link, and the hands in them. They outlive the server: mounts stand in the database. */
export class StandinWorlds implements RadioReaders {
  /** @param clockSpeed turns the clock of this world faster, for tests that would otherwise wait */
  constructor(readonly clockSpeed = 1) {}

  private readonly worlds = new Map<string, Promise<Standing>>();

  async readerOf(radioId: string, _peerId: string, linkId: string): Promise<RadioReader> {
    await this.standing(linkId);
    return {
      way: 'standin',
      trouble: null,
      close: () => undefined,
      // The world is asked for anew each time: a plan that changes in the middle of an alignment changes what is heard.
      read: async () => {
        const standing = await this.standing(linkId);
        return this.readNow(standing, standing.record.near.radio.id === radioId ? 'near' : 'far');
      },
    };
  }

  /** What the radio's own page shows. Whoever looks at it lets it note what it hears, a line a second. */
  async page(linkId: string, end: End): Promise<StandinPage> {
    const standing = await this.standing(linkId);
    const { rslDbm, chainsDbm } = this.readNow(standing, end);
    const log = standing.log[end];
    const now = Date.now();
    if (now - (log.at(-1)?.atMs ?? 0) >= 1000 / this.clockSpeed) log.push({ atMs: now, rslDbm });
    if (log.length > longestLog) log.shift();
    const rates = ratesAt(standing, end, rslDbm);
    return {
      rslDbm,
      chainsDbm,
      noiseDbm: standinNoiseDbm,
      ...rates,
      log: log.map(({ atMs, rslDbm: dbm }) => ({ at: new Date(atMs).toISOString(), rslDbm: dbm })),
    };
  }

  /** The level at an end now. */
  private readNow(standing: Standing, end: End): LevelReading {
    advance(standing, this.clockSpeed);
    const reading = standing.world.read(end);
    return standing.linked ? reading : { ...reading, ...nothingLevel };
  }

  async hands(linkId: string): Promise<HandsView> {
    return this.view(await this.standing(linkId));
  }

  async turn(linkId: string, end: End, axis: MountAxis, byDeg: number): Promise<HandsView> {
    const standing = await this.standing(linkId);
    refuseFixed(standing, end);
    standing.world.turn(end, axis, byDeg);
    await this.keep(linkId, standing);
    return this.view(standing);
  }

  async tighten(linkId: string, end: End): Promise<HandsView> {
    const standing = await this.standing(linkId);
    for (const axis of ['azimuth', 'tilt'] as const) standing.world.tighten(end, axis);
    await this.keep(linkId, standing);
    return this.view(standing);
  }

  /** A throughput run over the stand-in link as it stands, as iperf3 writes it. @throws ApiProblem where there is no link */
  async runThroughput(linkId: string, direction: Direction): Promise<Record<string, unknown>> {
    const { record, world, setup, linked } = await this.standing(linkId);
    if (!linked) {
      throw new ApiProblem(
        422,
        'No link',
        'The stand-in radios do not become a link with their settings, so nothing passes. Let them pair on the bench first.',
      );
    }
    const runEnd = (end: End): RunEnd => ({
      model: asSet(record, end),
      levelDbm: world.meanDbm(end),
      conductedDbm: record[end].radio.conductedDbm,
      portMbps: Math.min(record[end].model.ethernetMbps, setup.ethernetMbps ?? Infinity),
    });
    const now = Math.floor(Date.now() / 1000);
    const from: End = direction === 'nearToFar' ? 'near' : 'far';
    return runThroughput({
      from: runEnd(from),
      to: runEnd(otherEnd(from)),
      widthMHz: record.air.widthMHz,
      protocol: record.air.protocol,
      errorCorrection: record.air.errorCorrection,
      feedMbps: setup.feedMbps,
      lossShare: setup.lossShare,
      reverse: from === 'far',
      seconds: runSeconds,
      startedAtS: now,
      seed: setup.seed + now,
    });
  }

  /** The world itself, for the demo's simulated hands. */
  async worldOf(linkId: string): Promise<AimWorld> {
    return (await this.standing(linkId)).world;
  }

  async keepMounts(linkId: string): Promise<void> {
    await this.keep(linkId, await this.standing(linkId));
  }

  /** Plans, sheets or places changed: every world is made anew when it is next asked for, its mounts left where they stand. */
  forgetAll(): void {
    this.worlds.clear();
  }

  private standing(linkId: string): Promise<Standing> {
    let standing = this.worlds.get(linkId);
    if (!standing) {
      standing = make(linkId);
      this.worlds.set(linkId, standing);
      standing.catch(() => this.worlds.delete(linkId));
    }
    return standing;
  }

  private view({ world, notchDeg }: Standing): HandsView {
    const scale = (end: End) => ({ azimuthDeg: world.scaleDeg(end, 'azimuth'), tiltDeg: world.scaleDeg(end, 'tilt') });
    return { near: scale('near'), far: scale('far'), notchDeg, clockSpeed: this.clockSpeed };
  }

  private async keep(linkId: string, { world }: Standing): Promise<void> {
    await StandinWorldRow.update({ mounts: { ...world.save() } }, { where: { linkId } });
  }
}

const nothingLevel = { rslDbm: nothingHeard.rslDbm, chainsDbm: nothingHeard.chainsDbm };

async function make(linkId: string): Promise<Standing> {
  const record = await loadLink(linkId);
  const [row] = await StandinWorldRow.findOrCreate({
    where: { linkId },
    defaults: { linkId, setup: { ...setupFor(record) } },
  });
  const setup = row.setup as unknown as WorldSetup;
  const random = new Random(setup.seed);
  const world = new AimWorld(
    worldEnd(record, 'near', setup, random),
    worldEnd(record, 'far', setup, random),
    { ...usualConditions, ...setup },
    setup.seed,
  );
  if (row.mounts) world.restore(row.mounts as unknown as MountState);
  const notch = (end: End): Record<MountAxis, number> => notchesOf(record[end].model.beamWidth);
  const linked = !!record.near.sheet && !!record.far.sheet && pairOnBench(record).linked;
  return {
    record,
    world,
    setup,
    linked,
    notchDeg: { near: notch('near'), far: notch('far') },
    lastMs: performance.now(),
    log: { near: [], far: [] },
  };
}

/** Connectors and the spread between units take a little that no spec sheet tells. */
const unitLossDb = [0.2, 1.2] as const;

/** A receiver digs so far under the sensitivity of its slowest step before it hears nothing. */
const deafUnderDb = 4;

function worldEnd(record: LinkRecord, end: End, setup: WorldSetup, random: Random): WorldEnd {
  const { model, radio } = record[end];
  const fixed = fixedOffset(record, end);
  const weakestDbm = Math.min(
    ...model.sensitivities.filter((s) => s.widthMHz === record.air.widthMHz).map((s) => s.rslDbm),
  );
  return {
    antenna: antennaOf(model.beamWidth.azimuthDeg),
    beam: model.beamWidth,
    startAzimuthDeg: fixed?.azimuthDeg ?? setup.startAzimuthDeg[end],
    startTiltDeg: fixed?.tiltDeg ?? setup.startTiltDeg[end],
    playDeg: radio.azimuthDeg === null ? setup.playDeg : 0,
    alignedDbm: arrivingAt(record, end) - random.between(...unitLossDb),
    floorDbm: Number.isFinite(weakestDbm) ? weakestDbm - deafUnderDb : Infinity,
    chains: model.streams,
    secondChainLossDb: setup.secondChainLossDb,
  };
}

function antennaOf(beamDeg: number): Antenna {
  if (beamDeg >= 360) return 'rod';
  return beamDeg > 12 ? 'evenPanel' : 'evenDish';
}

/** How far an antenna that points for good points past the other end; undefined for one that is turned. */
function fixedOffset(record: LinkRecord, end: End): { azimuthDeg: number; tiltDeg: number } | undefined {
  const { azimuthDeg, tiltDeg } = record[end].radio;
  if (azimuthDeg === null) return undefined;
  const { prediction } = predictionOf(record);
  if (!prediction) return undefined;
  return {
    azimuthDeg: wrap180(azimuthDeg - prediction[end].azimuthDeg),
    tiltDeg: (tiltDeg ?? prediction[end].tiltDeg) - prediction[end].tiltDeg,
  };
}

/** A model with the modulations that whoever set it up by its licence has left it. */
function asSet(record: LinkRecord, end: End): Model {
  const { model } = record[end];
  const { modulation } = record.licence ?? {};
  const fastest = modulation ? narrowbandStepNames.indexOf(modulation) : -1;
  return fastest < 0 ? model : { ...model, sensitivities: model.sensitivities.filter(({ mcs }) => mcs <= fastest) };
}

/** The level of the other end's wave here, both antennas on target, by the stand-in's own arithmetic. */
function arrivingAt(record: LinkRecord, end: End): number {
  const { link, air, terrain } = record;
  const from = record[otherEnd(end)];
  const frequencyMHz = sendingChannel(air, from.radio.role).centreMHz;
  const waveEnd = ({ place, radio, model }: LinkRecord['near']): WaveEnd => ({
    latitudeDeg: place.latitudeDeg,
    longitudeDeg: place.longitudeDeg,
    heightM: place.groundHeightM + radio.mountHeightM,
    powerDbm: radio.conductedDbm,
    gainDbi: model.antennaGainDbi,
    cableLossDb: radio.cableLossDb + (radio.cable ? coaxLossDb(radio.cable, frequencyMHz) : 0),
  });
  const groundM = terrain
    ? (bridgedGroundM(terrain.profile) ?? straight(record.near.place.groundHeightM, record.far.place.groundHeightM))
    : [];
  return arrivingDbm({
    from: waveEnd(from),
    to: waveEnd(record[end]),
    frequencyMHz,
    groundM: end === 'far' ? groundM : [...groundM].reverse(),
    shaftM: link.pathKind === 'shaft' ? link.shaftMostM : null,
  });
}

/** Ground that nobody measured. */
function straight(nearM: number, farM: number): number[] {
  return Array.from({ length: 101 }, (_, i) => nearM + ((farM - nearM) * i) / 100);
}

/** Seeds a link nobody wrote a scenario for: roughly aimed at both ends, nothing wrong. */
function setupFor({ link, near, far }: LinkRecord): WorldSetup {
  const seed = parseInt(link.id.slice(0, 8), 16) >>> 0;
  const random = new Random(seed + 1);
  const [nearBeamDeg, farBeamDeg] = [near.model.beamWidth.azimuthDeg, far.model.beamWidth.azimuthDeg];
  const off = (beamDeg: number): number => random.between(0.5, 1.4) * beamDeg * (random.chance(0.5) ? 1 : -1);
  return {
    seed,
    startAzimuthDeg: { near: off(nearBeamDeg), far: off(farBeamDeg) * 0.3 },
    startTiltDeg: { near: random.between(-0.4, 0.4) * nearBeamDeg, far: random.between(-0.2, 0.2) * farBeamDeg },
    playDeg: 0.5,
  };
}

function refuseFixed({ record }: Standing, end: End): void {
  if (record[end].radio.azimuthDeg === null) return;
  throw new ApiProblem(
    409,
    'Stays where it points',
    `The antenna at ${record[end].place.name} serves other links too and stays where it points. Turn the other end.`,
  );
}

/** The world goes on by the clock, whoever reads it. Both radios of a link are read at one moment, and it goes on once. */
function advance(standing: Standing, clockSpeed: number): void {
  const nowMs = performance.now();
  const stepS = (clockSpeed * (nowMs - standing.lastMs)) / 1000;
  if (stepS < leastStepS) return;
  standing.world.step(Math.min(1, stepS));
  standing.lastMs = nowMs;
}

/** What the rates on the page go by: the fastest step whose level is reached. */
function ratesAt({ record }: Standing, end: End, rslDbm: number | null): { txMbps: number; rxMbps: number } {
  const { widthMHz, errorCorrection } = record.air;
  const rate = (from: End, to: End): number => {
    const { steps, symbolUs } = layerOf(asSet(record, from), asSet(record, to), widthMHz, errorCorrection);
    const reached = steps.filter((step) => rslDbm !== null && rslDbm >= step.sensitivityDbm);
    return Math.max(0, ...reached.map((step) => step.bitsPerSymbol / symbolUs));
  };
  return { rxMbps: rate(otherEnd(end), end), txMbps: rate(end, otherEnd(end)) };
}
