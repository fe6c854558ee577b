import { sendingChannel } from '../air/air';
import { feederLossDb } from '../gear/cable';
import { freeSpaceLossDb, lightSpeedMPerS } from '../propagation/freeSpace';
import { mostHeardDbm } from './overload';
import { otherEnd, type End, type LinkPlan } from './plan';

/** What two radios may send at each other on a table. */
export interface BenchPower {
  /** the most at each end with which the other is not overloaded; below the radio's least: an attenuator takes the rest */
  mostDbm: Record<End, number>;
  /** what an attenuator must take where even the least power is too much, dB; 0 where none is needed */
  attenuatorDb: Record<End, number>;
  distanceM: number;
}

/** How far apart radios stand on a table, m: common practice, no source. */
export const usualBenchM = 2;

/** What to set on the bench at one end, in words that go on after "set it to". */
export function benchPowerWords({ near, far }: LinkPlan, end: End, { mostDbm, attenuatorDb }: BenchPower): string {
  const { leastConductedDbm, mostConductedDbm } = { near, far }[end].model;
  return attenuatorDb[end] > 0
    ? `its least, ${leastConductedDbm} dBm, with ${attenuatorDb[end]} dB of attenuator or dummy loads, or further apart`
    : `at most ${Math.floor(Math.min(mostDbm[end], mostConductedDbm))} dBm`;
}

/**
 * Power for two radios that face each other on a bench. By free space, which promises too much so close to an antenna: on the safe side.
 * @param distanceM between the antennas
 */
export function benchPower({ air, near, far }: LinkPlan, distanceM: number): BenchPower {
  const radios = { near, far };
  const mostFor = (end: End): number => {
    const [from, to] = [radios[end], radios[otherEnd(end)]];
    const { centreMHz } = sendingChannel(air, from.role);
    const lossDb = freeSpaceLossDb(Math.max(distanceM, (1.01 * lightSpeedMPerS) / (centreMHz * 1e6)), centreMHz);
    const gainsDb = from.model.antennaGainDbi + to.model.antennaGainDbi;
    const feedersDb = feederLossDb(from, centreMHz) + feederLossDb(to, centreMHz);
    return mostHeardDbm(to.model) + lossDb + feedersDb - gainsDb;
  };
  const mostDbm = { near: mostFor('near'), far: mostFor('far') };
  const attenuator = (end: End): number => Math.max(0, Math.ceil(radios[end].model.leastConductedDbm - mostDbm[end]));
  return { mostDbm, attenuatorDb: { near: attenuator('near'), far: attenuator('far') }, distanceM };
}
