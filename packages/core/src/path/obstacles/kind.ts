import type { Obstacle, ObstacleKind } from '../obstacle';

/** What one kind of obstacle does to a path. */
export interface ObstacleKindRules {
  kind: ObstacleKind;
  /** as the installer says it */
  words: string;
  /** solid things are diffracted over; leaves also let some through; a transient stands there only sometimes */
  matter: 'solid' | 'foliage' | 'transient' | 'water';
  /** height a new one starts with, common practice, no source */
  usualHeightM: number;
  usualGrowthMPerYear: number;
  /** width a new one starts with */
  usualWidthM: number;
  /** its height in a year */
  heightInYearM(obstacle: Obstacle, year: number): number;
}

export const asMeasured = (obstacle: Obstacle): number => obstacle.heightM;
