import { standardK, type Position } from '../geodesy';
import { deltaBullingtonLossDb, foliageLossDb } from '../propagation';
import type { TerrainProfile } from '../terrain';
import { clearanceAt, targetZoneShare, worstIndex, type Clearance, type SightLine } from './clearance';
import type { Obstacle } from './obstacle';
import { pathSurface, type PathSurface } from './surface';

/** A path to analyse: where, over what, from which heights, on which frequency, when. */
export interface PathInput {
  near: Position;
  far: Position;
  profile: TerrainProfile;
  obstacles: readonly Obstacle[];
  nearAntennaAslM: number;
  farAntennaAslM: number;
  frequencyMHz: number;
  /** trees are taken as tall as they will be in this year */
  year: number;
  /** effective-radius factor, 4/3 by default */
  k?: number;
}

export interface PathAnalysis {
  surface: PathSurface;
  line: SightLine;
  /** the point that matters most, without what stands there only sometimes */
  worst: Clearance & { what: Obstacle | 'ridge' | 'ground' };
  /** over terrain, water and solid things, ITU-R P.526 */
  diffractionDb: number;
  /** through or over trees, whichever loses less */
  vegetationDb: number;
  vegetationDepthM: number;
  /** what is lost on top while a vehicle stands in the way */
  transientDb: number;
  transient: Obstacle | null;
  /** clearance of the worst point when the air bends rays less (k = 2/3) */
  subRefractive: Clearance;
  growth: GrowthForecast | null;
}

/** The years in which growing trees reach into the zone and up to the sight line. */
export interface GrowthForecast {
  trees: Obstacle;
  /** null when not within 40 years; the current year or earlier when they do already */
  intoZoneYear: number | null;
  toSightLineYear: number | null;
}

/** For days on which the air bends rays less than usual; ITU-R P.530 lets k fall so on long paths, this is the classical check value. */
export const subRefractiveK = 2 / 3;
const forecastYears = 40;

/**
 * Judges a path in radio's sense. Losses follow ITU-R P.526 (delta-Bullington), through leaves Weissberger.
 * @returns null when no terrain is known on it
 */
export function analysePath(input: PathInput): PathAnalysis | null {
  const surface = pathSurface(input.profile, input.near, input.far, input.obstacles, input.year);
  if (!surface) return null;
  const line: SightLine = {
    distanceM: surface.distanceM,
    nearAntennaAslM: input.nearAntennaAslM,
    farAntennaAslM: input.farAntennaAslM,
    frequencyMHz: input.frequencyMHz,
    k: input.k ?? standardK,
  };
  const worstAt = worstIndex(line, surface.distancesM, surface.withTreesM);
  const loss = (heightsM: number[]): number => lossOver(line, surface, heightsM);
  const diffractionDb = loss(surface.solidM);
  const overTreesDb = differs(surface.solidM, surface.withTreesM) ? loss(surface.withTreesM) - diffractionDb : 0;
  const depthM = foliageDepthM(line, surface);
  const vegetationDb = Math.max(0, Math.min(overTreesDb, foliageLossDb(depthM, input.frequencyMHz)));
  const vehicleStands = differs(surface.withTreesM, surface.withTransientsM);
  return {
    surface,
    line,
    worst: {
      ...clearanceAt(line, surface.distancesM[worstAt] as number, surface.withTreesM[worstAt] as number),
      what: whatStandsAt(surface, worstAt),
    },
    diffractionDb,
    vegetationDb,
    vegetationDepthM: vegetationDb > 0 ? depthM : 0,
    transientDb: vehicleStands ? Math.max(0, loss(surface.withTransientsM) - diffractionDb - overTreesDb) : 0,
    transient: vehicleStands ? (surface.topObstacle.find((o) => o?.kind === 'vehicle') ?? null) : null,
    subRefractive: worstClearance({ ...line, k: subRefractiveK }, surface.distancesM, surface.withTreesM),
    growth: forecastGrowth(surface, line, input.year),
  };
}

function worstClearance(line: SightLine, distancesM: number[], surfaceM: number[]): Clearance {
  const i = worstIndex(line, distancesM, surfaceM);
  return clearanceAt(line, distancesM[i] as number, surfaceM[i] as number);
}

function lossOver(line: SightLine, surface: PathSurface, heightsM: number[]): number {
  return deltaBullingtonLossDb({
    ...line,
    distancesM: surface.distancesM,
    heightsM,
    seaShare: surface.waterShare,
    // Above 1 GHz the ground's admittance, and with it the polarisation, changes the loss by less than 0.1 dB.
    polarisation: 'vertical',
  });
}

function differs(a: number[], b: number[]): boolean {
  return a.some((value, i) => value !== b[i]);
}

/** Path length on which leaves reach into the 60 % zone or above it. */
function foliageDepthM(line: SightLine, surface: PathSurface): number {
  const { distancesM, solidM, withTreesM } = surface;
  let depthM = 0;
  for (let i = 1; i < distancesM.length; i++) {
    const leaves = withTreesM[i - 1] !== solidM[i - 1] && withTreesM[i] !== solidM[i];
    if (!leaves) continue;
    const from = distancesM[i - 1] as number;
    const to = distancesM[i] as number;
    const topM = ((withTreesM[i - 1] as number) + (withTreesM[i] as number)) / 2;
    if (clearanceAt(line, (from + to) / 2, topM).zoneShare < targetZoneShare) depthM += to - from;
  }
  return depthM;
}

/** An obstacle, or the ground: a ridge when it is higher than the ground a twentieth of the path to both sides. */
function whatStandsAt(surface: PathSurface, index: number): Obstacle | 'ridge' | 'ground' {
  const top = surface.topObstacle[index];
  if (top && top.kind !== 'vehicle') return top;
  const at = surface.distancesM[index] as number;
  const sideM = surface.distanceM / 20;
  const groundAt = (d: number): number => {
    const j = surface.distancesM.findIndex((x) => x >= d);
    return surface.groundM[j < 0 ? surface.groundM.length - 1 : j] as number;
  };
  const here = surface.groundM[index] as number;
  const rises = (d: number): boolean => here - groundAt(d) > Math.max(2, 0.01 * sideM);
  return rises(Math.max(0, at - sideM)) && rises(Math.min(surface.distanceM, at + sideM)) ? 'ridge' : 'ground';
}

/** Years in which trees on the path reach the zone and the line; of several, those that reach it first. */
function forecastGrowth(surface: PathSurface, line: SightLine, thisYear: number): GrowthForecast | null {
  let found: GrowthForecast | null = null;
  for (const { obstacle: trees, stretch } of surface.placed) {
    if (!(trees.growthMPerYear > 0)) continue;
    const yearAt = (share: number): number | null => {
      let allowedM = Infinity;
      surface.distancesM.forEach((d, i) => {
        if (d <= 0 || d >= line.distanceM || d < stretch.fromM || d > stretch.toM) return;
        const { clearanceM, zoneM } = clearanceAt(line, d, surface.groundM[i] as number);
        allowedM = Math.min(allowedM, clearanceM - share * zoneM);
      });
      const year = Math.ceil(trees.measuredYear + (allowedM - trees.heightM) / trees.growthMPerYear);
      return year > thisYear + forecastYears ? null : Math.max(thisYear, year);
    };
    const intoZoneYear = yearAt(targetZoneShare);
    if (intoZoneYear === null || (found?.intoZoneYear && found.intoZoneYear <= intoZoneYear)) continue;
    found = { trees, intoZoneYear, toSightLineYear: yearAt(0) };
  }
  return found;
}
