import type { ObstacleKindRules } from './kind';

/** A tree line or a wood. It grows, so it has a year in which it was measured. */
export const trees: ObstacleKindRules = {
  kind: 'trees',
  words: 'trees',
  matter: 'foliage',
  usualHeightM: 10,
  usualGrowthMPerYear: 0.4,
  usualWidthM: 12,
  heightInYearM: ({ heightM, growthMPerYear, measuredYear }, year) =>
    Math.max(0, heightM + growthMPerYear * (year - measuredYear)),
};
