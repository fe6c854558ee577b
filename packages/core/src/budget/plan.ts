import type { Air, AirRole } from '../air/air';
import type { CableRun } from '../gear/cable';
import type { Model } from '../gear/model';
import type { Position } from '../geodesy/coordinates';
import type { Obstacle } from '../path/obstacle';
import type { Polarisation } from '../path/polarisation';
import type { ClimateChoice } from '../propagation/climate';
import type { Licence } from '../spectrum/licence';
import type { RuleSet } from '../spectrum/ruleSet';
import type { TerrainProfile } from '../terrain/profile';
import type { Shaft } from './shaft';

/** The two ends of a link. Which one is near is a point of view: the end that has the feed. */
export type End = 'near' | 'far';
export const ends: readonly End[] = ['near', 'far'];
export const otherEnd = (end: End): End => (end === 'near' ? 'far' : 'near');

/** One radio as planned: where, what, how strong, which way. */
export interface RadioPlan {
  position: Position;
  groundHeightM: number;
  mountHeightM: number;
  model: Model;
  role: AirRole;
  conductedDbm: number;
  /** a loss between radio and antenna that was typed; the cable's own comes on top */
  cableLossDb: number;
  cable: CableRun | null;
  /** by how much the aim may be off when all is done: wind, sway, an eye's error */
  aimOffDeg: number;
  /** what others' sending may raise the noise by at this receiver, dB */
  interferenceDb: number;
  polarisation: Polarisation;
  /** where the antenna points, true north and above the horizon; null: at the other radio */
  azimuthDeg: number | null;
  tiltDeg: number | null;
}

/** Of the antenna above sea level. */
export function antennaHeightM(end: Pick<RadioPlan, 'groundHeightM' | 'mountHeightM'>): number {
  return end.groundHeightM + end.mountHeightM;
}

/** What must cross a link, and what others on its air take meanwhile. */
export interface PlanNeed {
  nearToFarMbps: number;
  farToNearMbps: number;
  /** share of the air's time that other links on it need, 0 to 1 and more */
  othersLoad: number;
  /** the same while rain takes so much from this link, dB, and its share from the others; left out: they stay as on a clear day */
  othersInRain?: OthersInRain;
}

/** What the others on an air need of its time while it rains. */
export interface OthersInRain {
  loadAt(fadeDb: number): number;
  /** fades of this link at which one of them loses a step, dB */
  edgesDb: readonly number[];
}

export interface LinkPlan {
  air: Air;
  near: RadioPlan;
  far: RadioPlan;
  /** the rules in force; null where none are known */
  law: RuleSet | null;
  /** that a licensed pair is planned by; left out or null: none */
  licence?: Licence | null;
  /** on which it is looked at whether licence and permits hold, as in 2026-01-31 */
  day: string;
  /** what lies between the ends; left out or null: a smooth Earth */
  terrain?: PathTerrain | null;
  /** a vertical path; the positions do not matter then */
  shaft?: Shaft | null;
  /** the weather it lives in; left out: guessed from the latitude */
  climate?: ClimateChoice;
  /** rain that falls now, all along: what arrives then, and what still crosses; left out: a clear day. The year is the climate's whatever falls now */
  rainNowMmPerH?: number;
  /** left out: nothing is asked of it but to hold */
  need?: PlanNeed;
}

/** The ground between two ends and what stands on it. */
export interface PathTerrain {
  profile: TerrainProfile;
  obstacles: readonly Obstacle[];
  /** for which trees are grown */
  year: number;
  k?: number;
}

/** What a record keeps of one end: a radio, where it stands, and its model. */
export interface EndRecord {
  place: Position & { groundHeightM: number };
  radio: Omit<RadioPlan, 'position' | 'groundHeightM' | 'model'>;
  model: Model;
}

/** What a record keeps of a link, however it is stored. */
export interface LinkRecord {
  link: {
    pathKind: 'outdoor' | 'shaft';
    shaftLeastM: number | null;
    shaftMostM: number | null;
    needNearToFarMbps: number;
    needFarToNearMbps: number;
  };
  air: Air;
  near: EndRecord;
  far: EndRecord;
  law: RuleSet | null;
  licence: Licence | null;
  /** see `LinkPlan` */
  day: string;
  terrain: PathTerrain | null;
  climate: ClimateChoice;
  /** see `PlanNeed`; left out where the others were not reckoned */
  othersLoad?: number;
}

/** The plan that a record holds: the one way from stored rows to a prediction, on the server and on the page. */
export function planOf({
  link,
  air,
  near,
  far,
  law,
  licence,
  day,
  terrain,
  climate,
  othersLoad = 0,
}: LinkRecord): LinkPlan {
  const { pathKind, shaftLeastM, shaftMostM, needNearToFarMbps, needFarToNearMbps } = link;
  return {
    air,
    near: radioPlanOf(near),
    far: radioPlanOf(far),
    law,
    licence,
    day,
    terrain,
    climate,
    need: { nearToFarMbps: needNearToFarMbps, farToNearMbps: needFarToNearMbps, othersLoad },
    shaft: pathKind === 'shaft' && shaftLeastM && shaftMostM ? { leastM: shaftLeastM, mostM: shaftMostM } : null,
  };
}

/** The radio of a record as it is predicted from. */
export function radioPlanOf({ place, radio, model }: EndRecord): RadioPlan {
  const { mountHeightM, role, conductedDbm, polarisation, azimuthDeg, tiltDeg } = radio;
  const { cableLossDb, cable, aimOffDeg, interferenceDb } = radio;
  return {
    position: { latitudeDeg: place.latitudeDeg, longitudeDeg: place.longitudeDeg },
    groundHeightM: place.groundHeightM,
    mountHeightM,
    model,
    role,
    conductedDbm,
    cableLossDb,
    cable,
    aimOffDeg,
    interferenceDb,
    polarisation,
    azimuthDeg,
    tiltDeg,
  };
}
