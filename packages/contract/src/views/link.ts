import type { HeardAir } from '@kivram/core/budget/neighbours';
import type { End, PathTerrain } from '@kivram/core/budget/plan';
import type { Basis } from '@kivram/core/evidence/basis';
import type { Model } from '@kivram/core/gear/model';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { Site } from '@kivram/core/pairing/site';
import type { ClimateChoice } from '@kivram/core/propagation/climate';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import type { SharedRates } from '@kivram/core/verdict/steps';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import type { Air } from '../entities/air';
import type { Alternative } from '../entities/alternative';
import type { Licence } from '../entities/law';
import type { Link } from '../entities/link';
import type { Obstacle } from '../entities/obstacle';
import type { Place } from '../entities/place';
import type { Radio } from '../entities/radio';
import type { AlignmentSummary } from './alignment';
import type { LinkState } from './state';
import type { ThroughputTest } from './test';

/** A saved sheet. */
export interface SheetRevision {
  radioId: string;
  revision: number;
  savedAt: string;
  crewMemberId: string | null;
  sheet: Sheet;
}

export interface LinkEnd {
  radio: Radio;
  place: Place;
  model: Model;
  sheet: SheetRevision | null;
  /** stations of other links on this radio */
  otherStations: number;
}

/** With what one logs in to a radio's own page, but for the password. */
export interface LoginView {
  userName: string;
  hasPassword: boolean;
  version: number;
}

/** What is shown when somebody asks for it. */
export interface Revealed {
  /** of the saved settings */
  passphrase: string | null;
  /** for the radio's own page */
  password: string | null;
}

export type RevealedView = Record<End, Revealed>;

/** The ground of a link, with the job's obstacles as they are stored. */
export interface LinkTerrain extends PathTerrain {
  obstacles: Obstacle[];
}

/** Another place that is seen from an end, near its bearing. */
export interface Landmark {
  name: string;
  distanceM: number;
  /** from the bearing to the landmark, positive to the right */
  rightDeg: number;
  /** false where no terrain is known on the way, so that nobody can say whether it is seen */
  terrainKnown: boolean;
}

/** With one direction loaded, and with both. */
export interface ExpectedRates {
  aloneMbps: number;
  bothMbps: number;
}

/** A link with everything needed to compute on it. */
export interface LinkView {
  link: Link;
  air: Air;
  country: string;
  practice: boolean;
  /** the rules in force in the job's country; null where none are known */
  law: RuleSet | null;
  /** that a licensed pair is planned by */
  licence: Licence | null;
  /** today at the server, as in 2026-01-31: permits and licences are looked at for it */
  day: string;
  /** those of the job, for a licensed pair to be planned by */
  licences: Licence[];
  /** that and those of countries that the radios are told they stand in */
  laws: RuleSet[];
  near: LinkEnd;
  far: LinkEnd;
  /** how one logs in to the radios, as far as it was noted */
  logins: Record<End, LoginView | null>;
  /** other links on this air, by name */
  sharers: { id: string; name: string }[];
  /** what this air leaves for the link while the others take what they need; null where nothing can be predicted */
  shared: SharedRates | null;
  /** between its ends; null where it has no geometry */
  distanceM: number | null;
  /** TCP that the plan expects each way, Mbit/s; null where it cannot be computed */
  expected: Record<Direction, ExpectedRates> | null;
  /** share of the air's time that the others on it need */
  othersLoad: number;
  /** other airs of the job that its receivers hear, on whatever channel, loudest first */
  heard: HeardAir[];
  /** the weather of the job */
  climate: ClimateChoice;
  /** the ground between the ends and what stands on it; null in a shaft */
  terrain: LinkTerrain | null;
  /** who has which address there, but for the two radios themselves */
  site: Site;
  /** plans that were tried and kept beside this one, by name */
  alternatives: Alternative[];
  /** what to aim by from each end; null where nothing is seen on the bearing */
  landmarks: Record<End, Landmark | null>;
  state: LinkState;
  /** what plan, sheets and models are now */
  basis: Basis;
  /** the last alignment that was finished */
  alignment: AlignmentSummary | null;
  running: AlignmentSummary | null;
  tests: ThroughputTest[];
}

/** A link as far as it is predicted from. */
export type PlannedLink = Pick<LinkView, 'link' | 'air' | 'law' | 'licence' | 'day' | 'terrain' | 'climate'> &
  Record<End, Pick<LinkEnd, 'place' | 'radio' | 'model'>>;

/** All links of one air, by name: a hub with its stations, a chain. */
export interface LinksOnAirView {
  links: PlannedLink[];
}

export interface BenchRunView {
  associated: boolean;
  linked: boolean;
  events: { atS: number; who: string; what: string }[];
}

export interface HandsView {
  near: { azimuthDeg: number; tiltDeg: number };
  far: { azimuthDeg: number; tiltDeg: number };
  /** degrees per notch of the scales on both mounts */
  notchDeg: Record<'near' | 'far', { azimuth: number; tilt: number }>;
  /** how much faster than ours the stand-in's clock goes */
  clockSpeed: number;
}
