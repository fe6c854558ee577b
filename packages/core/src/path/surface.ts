import type { Position } from '../geodesy/coordinates';
import { bridgedGroundM, voidShare, type TerrainProfile } from '../terrain/profile';
import { stretchesOnPath, type Obstacle, type Stretch } from './obstacle';
import { obstacleRules } from './obstacles';
import type { ObstacleKindRules } from './obstacles/kind';

/** What stands between two places, at rising distances from the near end; all heights above sea level. */
export interface PathSurface {
  distanceM: number;
  distancesM: readonly number[];
  groundM: readonly number[];
  /** ground, water and solid things */
  solidM: readonly number[];
  /** and trees */
  withTreesM: readonly number[];
  /** and what stands there only sometimes */
  withTransientsM: readonly number[];
  /** the obstacle that makes the top at each distance, if one does */
  topObstacle: readonly (Obstacle | null)[];
  placed: readonly PlacedObstacle[];
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
  const highestWater = obstacles
    .filter((o) => obstacleRules[o.kind].matter === 'water')
    .reduce<Obstacle | null>((highest, o) => (highest && highest.heightM >= o.heightM ? highest : o), null);
  const placed: PlacedObstacle[] = obstacles.flatMap((obstacle) => {
    if (!obstacle.footprint.length) return [];
    return stretchesOnPath(obstacle, near, far).map((stretch) => ({ obstacle, stretch }));
  });

  const stepM = distanceM / (bridged.length - 1);
  const edgesM = placed
    .flatMap(({ stretch: { fromM, toM } }) => [fromM - edgeM, fromM, (fromM + toM) / 2, toM, toM + edgeM])
    .filter((d) => d > 0 && d < distanceM)
    .sort((a, b) => a - b);
  const distancesM: number[] = [];
  const groundM: number[] = [];
  let edge = 0;
  for (let i = 0; i < bridged.length; i++) {
    const d = i * stepM;
    for (; edge < edgesM.length && (edgesM[edge] as number) < d; edge++) {
      distancesM.push(edgesM[edge] as number);
      groundM.push(heightAt(bridged, (edgesM[edge] as number) / stepM));
    }
    distancesM.push(d);
    groundM.push(bridged[i] as number);
  }
  const topObstacle = new Array<Obstacle | null>(groundM.length).fill(null);
  let wet = 0;
  const flooded = (water: Obstacle): number[] =>
    groundM.map((heightM, i) => {
      if (heightM >= water.heightM) return heightM;
      topObstacle[i] = water;
      wet++;
      return water.heightM;
    });
  const withWaterM = highestWater ? flooded(highestWater) : groundM;
  /** A surface with all that stands on it of one kind. Where nothing does it is the one below itself, which a comparison sees at once: most paths are bare. */
  const raised = (belowM: readonly number[], matter: ObstacleKindRules['matter']): readonly number[] => {
    const standing = placed.filter(({ obstacle }) => obstacleRules[obstacle.kind].matter === matter);
    if (!standing.length) return belowM;
    const topsM = belowM.slice();
    for (const { obstacle, stretch } of standing) {
      const heightM = obstacleRules[obstacle.kind].heightInYearM(obstacle, year);
      distancesM.forEach((d, i) => {
        const topM = (groundM[i] as number) + heightM;
        if (d < stretch.fromM || d > stretch.toM || !(topM > (topsM[i] as number))) return;
        topsM[i] = topM;
        topObstacle[i] = obstacle;
      });
    }
    return topsM;
  };
  const solidM = raised(withWaterM, 'solid');
  const withTreesM = raised(solidM, 'foliage');
  return {
    distanceM,
    distancesM,
    groundM,
    solidM,
    withTreesM,
    withTransientsM: raised(withTreesM, 'transient'),
    topObstacle,
    placed,
    waterShare: wet / groundM.length,
    voidShare: voidShare(profile),
    terrainKnown: known !== null,
  };
}

/** The height between samples, at so many steps from the first one. */
function heightAt(samplesM: readonly number[], steps: number): number {
  const index = Math.min(samplesM.length - 2, Math.floor(steps));
  const share = steps - index;
  return (samplesM[index] as number) * (1 - share) + (samplesM[index + 1] as number) * share;
}
