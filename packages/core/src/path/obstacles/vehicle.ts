import { asMeasured, type ObstacleKindRules } from './kind';

/** A lorry at a gate, a crane or ship at a quay: there only sometimes, so the path is judged with and without it. */
export const vehicle: ObstacleKindRules = {
  kind: 'vehicle',
  words: 'vehicle',
  matter: 'transient',
  usualHeightM: 4.2,
  usualGrowthMPerYear: 0,
  usualWidthM: 12,
  heightInYearM: asMeasured,
};
