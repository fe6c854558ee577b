import { asMeasured, type ObstacleKindRules } from './kind';

export const building: ObstacleKindRules = {
  kind: 'building',
  words: 'building',
  matter: 'solid',
  usualHeightM: 8,
  usualGrowthMPerYear: 0,
  usualWidthM: 15,
  heightInYearM: asMeasured,
};
