import type { Model, RuleSet, Sheet, TerrainProfile } from '@kivram/core';
import type { Job, Obstacle, Place, Radio } from './entities';
import type { JobDocument } from './jobDocument';
import type {
  AimEvent,
  AlignmentSummary,
  AlignmentView,
  BenchRunView,
  CatalogueEntry,
  Found,
  GearDocument,
  HandsView,
  Health,
  ImportResult,
  JobLinks,
  JobMapView,
  JobSummary,
  JobView,
  LinkView,
  ModelsImport,
  PlacesImport,
  RemovalView,
  ServerSettings,
  SessionView,
  SiteNetwork,
  TerrainFile,
  TerrainUpload,
  ThroughputTest,
  TimelineView,
} from './views';

/** What each route answers, by its name in the route table; of those that give no JSON, what each piece of the answer is. */
export interface Answers {
  listJobs: JobSummary[];
  find: Found[];
  getJob: JobView;
  createJob: Job;
  changeJob: Job;
  saveNetwork: SiteNetwork;
  jobLinks: JobLinks;
  jobMap: JobMapView;
  getSession: SessionView;
  chooseMember: SessionView;
  joinCrew: SessionView;
  listRuleSets: RuleSet[];
  exportJob: JobDocument;
  importJob: ImportResult;
  removeJob: { removed: true };
  jobTimeline: TimelineView;
  listModels: Model[];
  catalogue: CatalogueEntry[];
  createModel: CatalogueEntry;
  changeModel: CatalogueEntry;
  retireModel: { removed: true };
  importModels: ModelsImport;
  exportModels: GearDocument;
  createLink: LinkView;
  createLinks: { linkIds: string[] };
  getLink: LinkView;
  linkRemoval: RemovalView;
  removeLink: { removed: true };
  swapEnds: LinkView;
  placeRemoval: RemovalView;
  undoRemoval: { back: true };
  changePlan: LinkView;
  changePlace: Place;
  createPlace: Place;
  removePlace: { removed: true };
  importPlaces: PlacesImport;
  createObstacle: Obstacle;
  changeObstacle: Obstacle;
  removeObstacle: { removed: true };
  health: Health;
  getSettings: ServerSettings;
  listTerrain: TerrainFile[];
  removeTerrain: { removed: true };
  uploadTerrain: TerrainFile;
  terrainUpload: TerrainUpload;
  terrainWindow: never;
  terrainProfile: TerrainProfile;
  changeRadio: Radio;
  proposeSheets: { near: Sheet; far: Sheet };
  saveSheets: LinkView;
  runBench: BenchRunView;
  tellPairing: LinkView;
  mount: LinkView;
  timeline: TimelineView;
  startAlignment: AlignmentSummary;
  listAlignments: AlignmentSummary[];
  getAlignment: AlignmentView;
  markAlignment: AlignmentSummary;
  finishAlignment: AlignmentSummary;
  abandonAlignment: AlignmentSummary;
  getHands: HandsView;
  turnMount: HandsView;
  tightenMount: HandsView;
  importTest: ThroughputTest[];
  standinTest: ThroughputTest;
  handTest: ThroughputTest;
  alignmentStream: AimEvent;
  exportPlaces: never;
  aimCard: never;
  testsCsv: never;
}
