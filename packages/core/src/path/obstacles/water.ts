import { asMeasured, type ObstacleKindRules } from './kind';

/** High water above the terrain's zero: it covers all ground below its level, wherever the path goes. It has no footprint. */
export const water: ObstacleKindRules = {
  kind: 'water',
  words: 'water at high tide',
  matter: 'water',
  usualHeightM: 2,
  usualGrowthMPerYear: 0,
  usualWidthM: 0,
  heightInYearM: asMeasured,
};
