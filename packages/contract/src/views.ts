import type {
  AimMark,
  AngleSource,
  DiagnosisResult,
  End,
  Model,
  PathTerrain,
  Reading,
  Sheet,
  ThroughputVerdict,
} from '@kivram/core';
import type { CrewMember, Event, Job, KnownDevice, Link, LinkState, Network, Obstacle, Place, Radio } from './entities';
import type { Direction } from './requests';

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

/** The ground of a link, with the job's obstacles as they are stored. */
export interface LinkTerrain extends PathTerrain {
  obstacles: Obstacle[];
}

/** A link with everything needed to compute on it. */
export interface LinkView {
  link: Link;
  country: string;
  near: LinkEnd;
  far: LinkEnd;
  /** the ground between the ends and what stands on it; null in a shaft */
  terrain: LinkTerrain | null;
  /** other places of the job, to aim by */
  landmarks: Place[];
  state: LinkState;
  /** the last alignment that was finished */
  alignment: AlignmentSummary | null;
  running: AlignmentSummary | null;
  tests: ThroughputTest[];
}

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

export interface JobSummary extends Job {
  links: number;
}

export interface JobView {
  job: Job;
  crew: CrewMember[];
  places: Place[];
  obstacles: Obstacle[];
  network: Network | null;
  devices: KnownDevice[];
  links: LinkSummary[];
}

/** What one end's radio was left at. */
export interface AlignmentEndResult extends DiagnosisResult {
  end: End;
  rslDbm: number | null;
  expectedDbm: number;
  chainsDbm: number[];
}

export interface AlignmentSummary {
  id: string;
  linkId: string;
  state: 'running' | 'finished' | 'abandoned';
  startedAt: string;
  finishedAt: string | null;
  crewMemberId: string | null;
  nearSource: AngleSource;
  farSource: AngleSource;
  order: 'endByEnd' | 'axisByAxis';
  readings: number;
  result: { near: AlignmentEndResult; far: AlignmentEndResult } | null;
}

export interface AlignmentView extends AlignmentSummary {
  expectedDbm: { near: number; far: number };
  samples: Reading[];
  marks: AimMark[];
}

/** What the stream of an alignment sends. */
export type AimEvent =
  | { type: 'reading'; readings: Reading[]; atMs: number }
  | { type: 'mark'; mark: AimMark }
  | { type: 'ended'; state: 'finished' | 'abandoned' };

export interface ThroughputTest {
  id: string;
  at: string;
  direction: Direction;
  source: 'iperf3' | 'standin' | 'hand';
  protocol: 'TCP' | 'UDP';
  mbps: number;
  seconds: number | null;
  retransmits: number | null;
  lossShare: number | null;
  jitterMs: number | null;
  aborted: boolean;
  fileName: string | null;
  note: string;
  crewMemberId: string | null;
  verdict: ThroughputVerdict;
  warning: string | null;
}

export interface BenchRunView {
  associated: boolean;
  linked: boolean;
  events: { atS: number; who: string; what: string }[];
}

export interface HandsView {
  near: { azimuthDeg: number; tiltDeg: number };
  far: { azimuthDeg: number; tiltDeg: number };
  notchDeg: { near: number; far: number };
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

/** A terrain grid as the shelf shows it. */
export interface TerrainFile {
  id: string;
  name: string;
  format: string;
  projection: string;
  columns: number;
  rows: number;
  cellM: number;
  leastM: number;
  mostM: number;
  voidShare: number;
  bytes: number;
  importedAt: string;
  /** corners, from the south-west around */
  outline: { latitudeDeg: number; longitudeDeg: number }[];
}

/** One line of the answer to a terrain upload; the last one is `done` or `failed`. */
export type TerrainImportLine =
  { type: 'progress'; share: number } | { type: 'done'; file: TerrainFile } | { type: 'failed'; detail: string };

export interface PlacesImport {
  places: Place[];
  /** what was left out or changed, each with the reason */
  notes: string[];
}

export interface ServerSettings {
  /** address of map tiles from a server of the user's choice, with {z}, {x} and {y}; none by default */
  tileUrl: string | null;
}
