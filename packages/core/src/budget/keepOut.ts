import { sendingChannel } from '../air/air';
import {
  fccPowerDensityLimitWPerM2,
  keepOutOfBeam,
  publicPowerDensityLimitWPerM2,
  type KeepOutWhere,
} from '../propagation/powerDensity';
import { eirpOf } from './hop';
import type { End, LinkPlan } from './plan';

/** How far the public stays out of the beam in front of an antenna, by two limits. */
export interface KeepOut {
  icnirpM: number;
  fccM: number;
  /** of the larger of the two */
  where: KeepOutWhere;
}

/** The distance to keep out of the beam of one end. The smaller of the limits is no excuse where local law knows another. */
export function keepOutOf(plan: LinkPlan, end: End): KeepOut {
  const radio = plan[end];
  const { centreMHz } = sendingChannel(plan.air, radio.role);
  const by = (limitWPerM2: number) =>
    keepOutOfBeam(eirpOf(radio, centreMHz), radio.model.antennaGainDbi, centreMHz, limitWPerM2);
  const [icnirp, fcc] = [by(publicPowerDensityLimitWPerM2(centreMHz)), by(fccPowerDensityLimitWPerM2(centreMHz))];
  return {
    icnirpM: icnirp.distanceM,
    fccM: fcc.distanceM,
    where: icnirp.distanceM >= fcc.distanceM ? icnirp.where : fcc.where,
  };
}
