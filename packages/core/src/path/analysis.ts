import { standardK } from '../geodesy/tilt';
import { deltaBullingtonLossDb } from '../propagation/deltaBullington';
import { foliageLimits, foliageLossDb } from '../propagation/vegetation';
import type { TerrainProfile } from '../terrain/profile';
import { clearanceAt, targetZoneShare, worstIndex, type Clearance, type SightLine } from './clearance';
import type { Obstacle } from './obstacle';
import type { Polarisation } from './polarisation';
import { pathSurface, type GroundPoint, type PathSurface } from './surface';

/** A path to analyse: where, over what, from which heights, on which frequency, when. */
export interface PathInput {
  near: GroundPoint;
  far: GroundPoint;
  /** heights all null where no terrain is known */
  profile: TerrainProfile;
  obstacles: readonly Obstacle[];
  nearAntennaAslM: number;
  farAntennaAslM: number;
  frequencyMHz: number;
  /** of the wave; dual: both, and the one that loses more counts */
  polarisation: Polarisation;
  /** trees are taken as tall as they will be in this year */
  year: number;
  /** effective-radius factor, 4/3 by default */
  k?: number;
}

/** What the surface comes from. */
type GroundOfPath = 'near' | 'far' | 'profile' | 'obstacles';

/** What makes a point of the path tight. */
export type TightestWhat = Obstacle | 'ridge' | 'ground' | 'bulge';

export interface PathAnalysis {
  surface: PathSurface;
  line: SightLine;
  /** the point that matters most, without what stands there only sometimes */
  worst: Clearance & { what: TightestWhat };
  /** over terrain, water and solid things, ITU-R P.526 */
  diffractionDb: number;
  /** through or over trees, whichever loses less */
  vegetationDb: number;
  vegetationDepthM: number;
  /** why the loss in trees is only a rough figure here, null where the formula holds */
  vegetationDoubt: 'tooDeep' | 'tooLow' | null;
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

/** Judges a path in radio's sense. Losses follow ITU-R P.526 (delta-Bullington), through leaves Weissberger. */
export function analysePath(input: PathInput): PathAnalysis {
  return analyseOver(pathSurface(input.profile, input.near, input.far, input.obstacles, input.year), input);
}

/** The same over a surface that is at hand already. */
export function analyseOver(surface: PathSurface, input: Omit<PathInput, GroundOfPath>): PathAnalysis {
  const line: SightLine = {
    distanceM: surface.distanceM,
    nearAntennaAslM: input.nearAntennaAslM,
    farAntennaAslM: input.farAntennaAslM,
    frequencyMHz: input.frequencyMHz,
    k: input.k ?? standardK,
  };
  const worstAt = worstIndex(line, surface.distancesM, surface.withTreesM);
  const loss = (heightsM: readonly number[]): number => lossOver(line, surface, heightsM, input.polarisation);
  const diffractionDb = loss(surface.solidM);
  const overTreesDb = surface.withTreesM === surface.solidM ? 0 : loss(surface.withTreesM) - diffractionDb;
  const depthM = foliageDepthM(line, surface);
  const through = foliage(depthM, input.frequencyMHz);
  const vegetationDb = Math.max(0, Math.min(overTreesDb, through.lossDb));
  const vehicleStands = differs(surface.withTreesM, surface.withTransientsM);
  const tightest = clearanceAt(line, surface.distancesM[worstAt] as number, surface.withTreesM[worstAt] as number);
  return {
    surface,
    line,
    worst: { ...tightest, what: blame(tightest, whatStandsAt(surface, worstAt)) },
    diffractionDb,
    vegetationDb,
    vegetationDepthM: vegetationDb > 0 ? depthM : 0,
    vegetationDoubt: vegetationDb > 0 && through.lossDb <= overTreesDb ? through.doubt : null,
    transientDb: vehicleStands ? Math.max(0, loss(surface.withTransientsM) - diffractionDb - overTreesDb) : 0,
    transient: vehicleStands ? (surface.topObstacle.find((o) => o?.kind === 'vehicle') ?? null) : null,
    subRefractive: worstClearance({ ...line, k: subRefractiveK }, surface.distancesM, surface.withTreesM),
    growth: forecastGrowth(surface, line, input.year),
  };
}

function worstClearance(line: SightLine, distancesM: readonly number[], surfaceM: readonly number[]): Clearance {
  const i = worstIndex(line, distancesM, surfaceM);
  return clearanceAt(line, distancesM[i] as number, surfaceM[i] as number);
}

/**
 * Water counts as the sea. Sea or land and the polarisation change the loss over a smooth Earth by some tenths of a dB at 1 GHz and by many dB in the
 * licensed bands below (ITU-R P.526-15 section 3.1.1).
 */
function lossOver(
  line: SightLine,
  surface: PathSurface,
  heightsM: readonly number[],
  polarisation: Polarisation,
): number {
  const { nearAntennaAslM, farAntennaAslM, frequencyMHz, k } = line;
  return deltaBullingtonLossDb({
    nearAntennaAslM,
    farAntennaAslM,
    frequencyMHz,
    k,
    distancesM: surface.distancesM,
    heightsM,
    seaShare: surface.waterShare,
    polarisation,
  });
}

/** Loss through leaves as far as the formula reaches, and where it does not: trees that are deeper take more, lower frequencies lose less. */
function foliage(depthM: number, frequencyMHz: number): { lossDb: number; doubt: PathAnalysis['vegetationDoubt'] } {
  const { depthM: deepestM, leastMHz, mostMHz } = foliageLimits;
  const lossDb = foliageLossDb(Math.min(depthM, deepestM), Math.min(mostMHz, Math.max(leastMHz, frequencyMHz)));
  return { lossDb, doubt: depthM > deepestM ? 'tooDeep' : frequencyMHz < leastMHz ? 'tooLow' : null };
}

/**
 * The Earth's bulge is what is in the way where bare ground or water is tightest and the bulge makes at least half of what it takes of the zone;
 * where nothing is taken, where the bulge is more than what is left free.
 */
function blame(tightest: Clearance, what: TightestWhat): TightestWhat {
  const bare = what === 'ground' || (typeof what !== 'string' && what.kind === 'water');
  const missingM = targetZoneShare * tightest.zoneM - tightest.clearanceM;
  const bulges = missingM > 0 ? tightest.bulgeM >= missingM / 2 : tightest.bulgeM > tightest.clearanceM;
  return bare && bulges ? 'bulge' : what;
}

function differs(a: readonly number[], b: readonly number[]): boolean {
  return a !== b && a.some((value, i) => value !== b[i]);
}

/** Path length on which leaves reach into the 60 % zone or above it. */
function foliageDepthM(line: SightLine, surface: PathSurface): number {
  const { distancesM, solidM, withTreesM } = surface;
  if (solidM === withTreesM) return 0;
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
    const under: Clearance[] = [];
    for (let i = 0; i < surface.distancesM.length; i++) {
      const d = surface.distancesM[i] as number;
      if (d <= 0 || d >= line.distanceM || d < stretch.fromM || d > stretch.toM) continue;
      under.push(clearanceAt(line, d, surface.groundM[i] as number));
    }
    const yearAt = (share: number): number | null => {
      const allowedM = Math.min(...under.map(({ clearanceM, zoneM }) => clearanceM - share * zoneM));
      const year = Math.ceil(trees.measuredYear + (allowedM - trees.heightM) / trees.growthMPerYear);
      return year > thisYear + forecastYears ? null : Math.max(thisYear, year);
    };
    const intoZoneYear = yearAt(targetZoneShare);
    if (intoZoneYear === null || (found?.intoZoneYear && found.intoZoneYear <= intoZoneYear)) continue;
    found = { trees, intoZoneYear, toSightLineYear: yearAt(0) };
  }
  return found;
}
