import type { LinkState } from './state';
import type { Air } from '../entities/air';
import type { CrewMember } from '../entities/crewMember';
import type { Event } from '../entities/event';
import type { Job } from '../entities/job';
import type { KnownDevice, Network } from '../entities/network';
import type { Obstacle } from '../entities/obstacle';
import type { Place } from '../entities/place';
import type { AirRole } from '@kivram/core/air/air';
import type { End } from '@kivram/core/budget/plan';
import type { Step } from '@kivram/core/verdict/steps';
import type { State } from '@kivram/core/verdict/verdict';

export interface JobSummary extends Job {
  links: number;
}

/** A job's network with its devices by address; null while nothing is known. */
export interface SiteNetwork {
  network: Network | null;
  devices: KnownDevice[];
}

/** What stands at the top of every page of a job. */
export interface JobView extends SiteNetwork {
  job: Job;
  crew: CrewMember[];
}

/** A link in a list. */
export interface LinkSummary {
  id: string;
  name: string;
  nearPlaceId: string;
  farPlaceId: string;
  nearPlace: string;
  farPlace: string;
  distanceM: number | null;
  state: LinkState;
}

/** One thing that is wrong at one link. */
export interface Matter {
  linkId: string;
  name: string;
  step: Step;
  state: State;
  because: string;
}

/** The next thing to do at one link, and where. */
export interface NextMatter extends Omit<Matter, 'because'> {
  task: string;
  why: string;
  /** null where it is done at the table, or at both ends alike */
  where: { end: End; place: string } | null;
}

/** The most urgent of a list, with how many there are. */
export interface Urgent<Of = Matter> {
  count: number;
  first: Of[];
}

/** Which way the traffic of a place goes, and what limits it. */
export interface TrafficView {
  placeId: string;
  place: string;
  /** names of the places on the way, the feed first */
  way: string[];
  toPlaceMbps: number;
  toFeedMbps: number;
  /** what limits, in words */
  limit: string;
}

/** A part of a job's links, with what is most urgent among all of them. */
export interface JobLinks {
  /** links that were found, and that there are */
  total: number;
  all: number;
  offset: number;
  links: LinkSummary[];
  wrong: Urgent;
  next: Urgent<NextMatter>;
  traffic: TrafficView[];
  /** rings of links, in words */
  loops: string[];
}

/** A link as a line on the map. */
export interface MapLink {
  id: string;
  name: string;
  nearPlaceId: string;
  farPlaceId: string;
  state: State;
}

/** What goes with something that is to be removed. */
export interface RemovalView {
  what: string;
  /** links by their names */
  links: string[];
  /** in words, like "3 alignments" */
  goes: string[];
}

/** A radio as others of its job see it. */
export interface MapRadio {
  id: string;
  placeId: string;
  modelId: string;
  modelRevision: number;
  role: AirRole;
  conductedDbm: number;
  mountHeightM: number;
  azimuthDeg: number | null;
  tiltDeg: number | null;
  air: Air;
}

export interface JobMapView {
  places: Place[];
  /** places that stand at 0 m where the terrain knows better: they came before it */
  atZero: string[];
  obstacles: Obstacle[];
  links: MapLink[];
  radios: MapRadio[];
}

export interface TimelineView {
  events: Event[];
  crew: CrewMember[];
}

export interface ImportResult {
  jobId: string;
  links: number;
  warnings: string[];
}
