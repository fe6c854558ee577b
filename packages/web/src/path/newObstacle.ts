import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Position } from '@kivram/core/geodesy/coordinates';
import type { ObstacleKind } from '@kivram/core/path/obstacle';
import { obstacleRules } from '@kivram/core/path/obstacles';

export type ObstacleFields = Omit<Obstacle, 'id' | 'version'>;

/** A new obstacle as its kind usually is. */
export function newObstacle(kind: ObstacleKind, footprint: Position[]): ObstacleFields {
  const rules = obstacleRules[kind];
  return {
    name: '',
    kind,
    footprint,
    isArea: false,
    heightM: rules.usualHeightM,
    widthM: rules.usualWidthM,
    growthMPerYear: rules.usualGrowthMPerYear,
    measuredYear: new Date().getFullYear(),
    confidence: 'estimated',
  };
}
