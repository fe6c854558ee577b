import { ends, scaleNotchDeg, type End, type MountAxis, type Reading } from '@kivram/core';
import {
  AimWorld,
  Random,
  usualConditions,
  type MountState,
  type WorldConditions,
  type WorldEnd,
} from '@kivram/standin';
import type { HandsView } from '@kivram/contract';
import { StandinWorldRow } from '../database/models';
import { ApiProblem } from '../http/problem';
import { loadLink, tryPredict } from '../services/links';
import type { RadioReader, RadioReaders } from './reader';

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
  world: AimWorld;
  setup: WorldSetup;
  notchDeg: Record<End, number>;
  lastS: number;
}

/** The stand-in worlds, one a link, and the hands in them. They outlive the server: mounts stand in the database. */
export class StandinWorlds implements RadioReaders {
  private readonly worlds = new Map<string, Promise<Standing>>();

  async readerOf(linkId: string): Promise<RadioReader> {
    const standing = await this.standing(linkId);
    return { read: (tS) => readBoth(standing, tS) };
  }

  async hands(linkId: string): Promise<HandsView> {
    return view(await this.standing(linkId));
  }

  async turn(linkId: string, end: End, axis: MountAxis, byDeg: number): Promise<HandsView> {
    const standing = await this.standing(linkId);
    standing.world.turn(end, axis, byDeg);
    await this.keep(linkId, standing);
    return view(standing);
  }

  async tighten(linkId: string, end: End): Promise<HandsView> {
    const standing = await this.standing(linkId);
    standing.world.tighten(end);
    await this.keep(linkId, standing);
    return view(standing);
  }

  /** For the stand-in throughput run: the mean levels of this moment and what else is true. */
  async conditions(linkId: string): Promise<{ meanDbm: Record<End, number>; setup: WorldSetup }> {
    const { world, setup } = await this.standing(linkId);
    return { meanDbm: { near: world.meanDbm('near'), far: world.meanDbm('far') }, setup };
  }

  /** The world itself, for the demo's simulated hands. */
  async worldOf(linkId: string): Promise<AimWorld> {
    return (await this.standing(linkId)).world;
  }

  async keepMounts(linkId: string): Promise<void> {
    await this.keep(linkId, await this.standing(linkId));
  }

  /** A plan that changed changes the levels: the world is made anew, its mounts left where they stand. */
  forget(linkId: string): void {
    this.worlds.delete(linkId);
  }

  forgetAll(): void {
    this.worlds.clear();
  }

  private standing(linkId: string): Promise<Standing> {
    let standing = this.worlds.get(linkId);
    if (!standing) {
      standing = this.make(linkId);
      this.worlds.set(linkId, standing);
      standing.catch(() => this.worlds.delete(linkId));
    }
    return standing;
  }

  private async make(linkId: string): Promise<Standing> {
    const loaded = await loadLink(linkId);
    const { prediction, predictionError } = tryPredict(loaded);
    if (!prediction) throw new ApiProblem(422, 'No geometry', predictionError ?? 'The link has no geometry.');
    const [row] = await StandinWorldRow.findOrCreate({
      where: { linkId },
      defaults: {
        linkId,
        setup: { ...setupFor(linkId, loaded.near.model.beamWidth.azimuthDeg, loaded.far.model.beamWidth.azimuthDeg) },
      },
    });
    const setup = row.setup as unknown as WorldSetup;
    const random = new Random(setup.seed);
    const worldEnd = (end: End): WorldEnd => {
      const { model } = loaded[end];
      return {
        aperture: model.beamWidth.azimuthDeg > 12 ? 'panel' : 'dish',
        beam: model.beamWidth,
        startAzimuthDeg: setup.startAzimuthDeg[end],
        startTiltDeg: setup.startTiltDeg[end],
        playDeg: setup.playDeg,
        // Connectors and the spread between units take a little that no spec sheet tells.
        alignedDbm: prediction[end].rslDbm - random.between(0.2, 1.2),
        floorDbm: prediction[end].noiseDbm - 2,
        chains: model.streams,
        secondChainLossDb: setup.secondChainLossDb,
      };
    };
    const world = new AimWorld(worldEnd('near'), worldEnd('far'), { ...usualConditions, ...setup }, setup.seed);
    if (row.mounts) world.restore(row.mounts as unknown as MountState);
    const notchDeg = {
      near: scaleNotchDeg(loaded.near.model.beamWidth.azimuthDeg),
      far: scaleNotchDeg(loaded.far.model.beamWidth.azimuthDeg),
    };
    return { world, setup, notchDeg, lastS: 0 };
  }

  private async keep(linkId: string, { world }: Standing): Promise<void> {
    await StandinWorldRow.update({ mounts: { ...world.save() } }, { where: { linkId } });
  }
}

/** Seeds a link nobody wrote a scenario for: roughly aimed at both ends, nothing wrong. */
function setupFor(linkId: string, nearBeamDeg: number, farBeamDeg: number): WorldSetup {
  const seed = parseInt(linkId.slice(0, 8), 16) >>> 0;
  const random = new Random(seed + 1);
  const off = (beamDeg: number): number => random.between(0.5, 1.4) * beamDeg * (random.chance(0.5) ? 1 : -1);
  return {
    seed,
    startAzimuthDeg: { near: off(nearBeamDeg), far: off(farBeamDeg) * 0.3 },
    startTiltDeg: { near: random.between(-0.4, 0.4) * nearBeamDeg, far: random.between(-0.2, 0.2) * farBeamDeg },
    playDeg: 0.5,
  };
}

function readBoth(standing: Standing, tS: number): Reading[] {
  standing.world.step(Math.min(1, Math.max(0.02, tS - standing.lastS)));
  standing.lastS = tS;
  return ends.map((end) => ({ ...standing.world.read(end), tS }));
}

function view({ world, notchDeg }: Standing): HandsView {
  const scale = (end: End) => ({ azimuthDeg: world.scaleDeg(end, 'azimuth'), tiltDeg: world.scaleDeg(end, 'tilt') });
  return { near: scale('near'), far: scale('far'), notchDeg };
}
