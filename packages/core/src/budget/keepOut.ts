import { sendingChannel } from '../air/air';
import type { Model } from '../gear/model';
import {
  fccPowerDensityLimitWPerM2,
  keepOutDistanceM,
  keepOutOfBeam,
  publicPowerDensityLimitWPerM2,
  type KeepOutWhere,
} from '../propagation/powerDensity';
import { eirpOf } from './hop';
import type { End, LinkPlan } from './plan';

/** How far the public stays out of the beam in front of an antenna. */
export interface KeepOut {
  /** by the stricter limit, rounded up to a tenth of a metre, and never under `leastM` */
  distanceM: number;
  /** by each limit, as it was reckoned; 0 where it is reached nowhere */
  icnirpM: number;
  fccM: number;
  /** what it rests on */
  words: string;
}

/** Nobody comes nearer than this to a sending antenna, however weak it is, m: 47 CFR 2.1091 (mobile devices), from memory. */
const leastM = 0.2;

/** Beams no wider than this both ways are those of a dish: a round aperture that is filled. Common practice, no source. */
const widestDishDeg = 15;

const whereWords: Record<KeepOutWhere, string> = {
  'far field': 'by the far field',
  transition: 'between near and far field of the dish',
  'near field': 'by the near field of the dish',
  nowhere: 'the limit is reached nowhere',
};

/**
 * The distance to keep out of the beam of one end, by ICNIRP 2020 and 47 CFR 1.1310, the larger of the two. Of a dish the near field is reckoned too; in front of
 * every other antenna the far field's formula stands, which promises too much there and so errs to the safe side. The smaller limit is no excuse where local law knows another.
 */
export function keepOutOf(plan: LinkPlan, end: End): KeepOut {
  const { role, model } = plan[end];
  const { centreMHz } = sendingChannel(plan.air, role);
  const eirpDbm = eirpOf(plan[end], centreMHz);
  const by = (limitWPerM2: number): { distanceM: number; where: KeepOutWhere } =>
    isDish(model)
      ? keepOutOfBeam(eirpDbm, model.antennaGainDbi, centreMHz, limitWPerM2)
      : { distanceM: keepOutDistanceM(eirpDbm, limitWPerM2), where: 'far field' };
  const [icnirp, fcc] = [by(publicPowerDensityLimitWPerM2(centreMHz)), by(fccPowerDensityLimitWPerM2(centreMHz))];
  const stricter = icnirp.distanceM >= fcc.distanceM ? icnirp : fcc;
  const distanceM = Math.max(leastM, Math.ceil(10 * stricter.distanceM) / 10);
  return {
    distanceM,
    icnirpM: icnirp.distanceM,
    fccM: fcc.distanceM,
    words: stricter.distanceM > leastM ? whereWords[stricter.where] : 'the least before any antenna that sends',
  };
}

function isDish({ beamWidth }: Model): boolean {
  return Math.max(beamWidth.azimuthDeg, beamWidth.elevationDeg) <= widestDishDeg;
}
