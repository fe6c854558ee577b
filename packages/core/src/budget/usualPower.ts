import type { Model } from '../gear/model';

/** What a new radio begins with where more is allowed, dBm: common practice, no source. */
const beginningDbm = 10;

/** Radios are set in whole steps of this, dB; half a decibel where one has a finer scale is not worth a trip. */
export const powerStepDb = 0.5;

/**
 * The conducted power that a new radio begins with: 10 dBm, or less where the model or the law, with the antenna's gain taken off, allows less.
 * @param limitDbm EIRP that is allowed; undefined where nothing is known
 */
export function usualPowerDbm(
  { leastConductedDbm, mostConductedDbm, antennaGainDbi }: Model,
  limitDbm: number | undefined,
): number {
  const lawfulDbm = Math.floor(((limitDbm ?? Infinity) - antennaGainDbi) / powerStepDb) * powerStepDb;
  return Math.max(leastConductedDbm, Math.min(beginningDbm, mostConductedDbm, lawfulDbm));
}
