import type { Position } from '../geodesy';
import { bridgedGroundM, voidShare, type TerrainProfile } from '../terrain';
import { stretchesOnPath, type Obstacle, type Stretch } from './obstacle';
import { obstacleRules } from './obstacles';

/** What stands between two places, at rising distances from the near end; all heights above sea level. */
export interface PathSurface {
  distanceM: number;
  distancesM: number[];
  groundM: number[];
  /** ground, water and solid things */
  solidM: number[];
  /** and trees */
  withTreesM: number[];
  /** and what stands there only sometimes */
  withTransientsM: number[];
  /** the obstacle that makes the top at each distance, if one does */
  topObstacle: (Obstacle | null)[];
  placed: PlacedObstacle[];
  /** share of the path whose ground lies under the water */
  waterShare: number;
  /** share of the profile without terrain, bridged by straight lines */
  voidShare: number;
  /** false where nothing of the ground is known but the two ends: a straight line between them stands in for it */
  terrainKnown: boolean;
}

/** An obstacle with the stretch of the path it covers. */
export interface PlacedObstacle {
  obstacle: Obstacle;
  stretch: Stretch;
}

/** An end of a path with the height of its ground above sea level. */
export type GroundPoint = Position & { groundHeightM: number };

const straightSamples = 201;

function straightGroundM(nearM: number, farM: number): number[] {
  const groundM: number[] = [];
  for (let i = 0; i < straightSamples; i++) groundM.push(nearM + ((farM - nearM) * i) / (straightSamples - 1));
  return groundM;
}

/** Half the width of the points on both sides of an obstacle's edge, between which its side rises. */
const edgeM = 0.01;

/**
 * Builds a path's surface from its terrain profile and the obstacles near it, as they will stand in a year. Points are added at the edges and in the middle
 * of every obstacle, so that none falls between two samples. Where no terrain is known at all, the ground runs straight from end to end over the
 * curved Earth.
 */
export function pathSurface(
  profile: TerrainProfile,
  near: GroundPoint,
  far: GroundPoint,
  obstacles: readonly Obstacle[],
  year: number,
): PathSurface {
  const known = bridgedGroundM(profile);
  const bridged = known ?? straightGroundM(near.groundHeightM, far.groundHeightM);
  const { distanceM } = profile;
  const waterLevelM = Math.max(
    -Infinity,
    ...obstacles.filter((o) => obstacleRules[o.kind].matter === 'water').map((o) => o.heightM),
  );
  const waterObstacle =
    obstacles.find((o) => obstacleRules[o.kind].matter === 'water' && o.heightM === waterLevelM) ?? null;
  const placed: PlacedObstacle[] = obstacles.flatMap((obstacle) => {
    if (!obstacle.footprint.length) return [];
    return stretchesOnPath(obstacle, near, far).map((stretch) => ({ obstacle, stretch }));
  });

  const stepM = distanceM / (bridged.length - 1);
  const distancesM = bridged.map((_, i) => i * stepM);
  if (placed.length) {
    for (const { stretch } of placed) {
      const { fromM, toM } = stretch;
      for (const d of [fromM - edgeM, fromM, (fromM + toM) / 2, toM, toM + edgeM]) {
        if (d > 0 && d < distanceM) distancesM.push(d);
      }
    }
    distancesM.sort((a, b) => a - b);
  }

  const count = distancesM.length;
  const surface: PathSurface = {
    distanceM,
    distancesM,
    groundM: [],
    solidM: [],
    withTreesM: [],
    withTransientsM: [],
    topObstacle: [],
    placed,
    waterShare: 0,
    voidShare: voidShare(profile),
    terrainKnown: known !== null,
  };
  let wet = 0;
  for (let i = 0; i < count; i++) {
    const d = distancesM[i] as number;
    const index = Math.min(bridged.length - 2, Math.floor(d / stepM));
    const share = d / stepM - index;
    const groundM = (bridged[index] as number) * (1 - share) + (bridged[index + 1] as number) * share;
    let solidM = groundM;
    let top: Obstacle | null = null;
    if (groundM < waterLevelM) {
      solidM = waterLevelM;
      top = waterObstacle;
      wet++;
    }
    let treesM = -Infinity;
    let transientM = -Infinity;
    let highestM = solidM;
    for (const { obstacle, stretch } of placed) {
      if (d < stretch.fromM || d > stretch.toM) continue;
      const rules = obstacleRules[obstacle.kind];
      const topM = groundM + rules.heightInYearM(obstacle, year);
      if (rules.matter === 'solid') solidM = Math.max(solidM, topM);
      if (rules.matter === 'foliage') treesM = Math.max(treesM, topM);
      if (rules.matter === 'transient') transientM = Math.max(transientM, topM);
      if (topM > highestM) {
        highestM = topM;
        top = obstacle;
      }
    }
    surface.groundM.push(groundM);
    surface.solidM.push(solidM);
    surface.withTreesM.push(Math.max(solidM, treesM));
    surface.withTransientsM.push(Math.max(solidM, treesM, transientM));
    surface.topObstacle.push(top);
  }
  surface.waterShare = wet / count;
  return surface;
}
