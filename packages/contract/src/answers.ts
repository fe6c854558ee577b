import type { Model, RuleSet, Sheet, TerrainProfile } from '@kivram/core';
import type { Job, Obstacle, Photo, Place, Radio, Visit } from './entities';
import type { JobDocument } from './jobDocument';
import type {
  AimEvent,
  AlignmentSummary,
  AlignmentView,
  BenchRunView,
  CatalogueEntry,
  DeviceAnswer,
  Found,
  GearDocument,
  HandsView,
  Health,
  ImportResult,
  InvitationView,
  JobLawView,
  JobLinks,
  KnownLaw,
  NeedsView,
  JobMapView,
  JobSummary,
  JobView,
  LevelProfile,
  LevelSourcesView,
  LevelTableResult,
  LinksOnAirView,
  LinkView,
  LoginView,
  ModelsImport,
  PathCheck,
  PeopleView,
  Present,
  PlacesImport,
  ProfileDocument,
  ProfilesImport,
  RemovalView,
  RevealedView,
  ServerSettings,
  SessionView,
  SiteNetwork,
  StandinAgent,
  StandinPage,
  TerrainFile,
  TerrainUpload,
  ThroughputTest,
  TimelineView,
  VisitsView,
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
  acceptInvitation: SessionView;
  signIn: SessionView;
  setPassword: SessionView;
  signOut: SessionView;
  endSession: { ended: true };
  people: PeopleView;
  addPerson: PeopleView;
  changePerson: PeopleView;
  invite: InvitationView;
  listRuleSets: KnownLaw[];
  ruleSet: RuleSet | null;
  keepAlternative: LinkView;
  removeAlternative: { removed: true };
  jobLaw: JobLawView;
  createLocalRule: JobLawView;
  changeLocalRule: JobLawView;
  removeLocalRule: { removed: true };
  createLicence: JobLawView;
  changeLicence: JobLawView;
  removeLicence: { removed: true };
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
  getAir: LinksOnAirView;
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
  visits: VisitsView;
  createVisit: Visit;
  changeVisit: Visit;
  removeVisit: { removed: true };
  addPhoto: Photo;
  changePhoto: Photo;
  removePhoto: { removed: true };
  photo: never;
  saveLogin: LoginView;
  revealPassphrases: RevealedView;
  needs: NeedsView;
  saveNeed: NeedsView;
  planNeeds: NeedsView;
  createCable: NeedsView;
  removeCable: { removed: true };
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
  joinAlignment: { present: Present[] };
  finishAlignment: AlignmentSummary;
  abandonAlignment: AlignmentSummary;
  pathChecks: PathCheck[];
  storePathCheck: PathCheck;
  getHands: HandsView;
  turnMount: HandsView;
  tightenMount: HandsView;
  importTest: ThroughputTest[];
  standinTest: ThroughputTest;
  handTest: ThroughputTest;
  alignmentStream: AimEvent;
  levelSources: LevelSourcesView;
  saveLevelSource: LevelSourcesView;
  askDevice: DeviceAnswer;
  tellLevel: { taken: true };
  pasteLevels: LevelTableResult;
  tellAngle: { taken: true };
  levelProfiles: LevelProfile[];
  saveLevelProfile: LevelProfile;
  removeLevelProfile: { removed: true };
  importLevelProfiles: ProfilesImport;
  exportLevelProfiles: ProfileDocument;
  standinPage: StandinPage;
  standinAgent: StandinAgent;
  exportPlaces: never;
  aimCard: never;
  testsCsv: never;
}
