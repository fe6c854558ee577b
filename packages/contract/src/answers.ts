import type { Model } from '@kivram/core/gear/model';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import type { TerrainProfile } from '@kivram/core/terrain/profile';
import type { Job } from './entities/job';
import type { Obstacle } from './entities/obstacle';
import type { Place } from './entities/place';
import type { Radio } from './entities/radio';
import type { Photo, Visit } from './entities/visit';
import type { JobDocument } from './jobDocument/document';
import type { AimEvent, AlignmentSummary, AlignmentView, Present } from './views/alignment';
import type { Found } from './views/find';
import type { CatalogueEntry, GearDocument, ModelsImport } from './views/gear';
import type {
  ImportResult,
  JobLinks,
  JobMapView,
  JobSummary,
  JobView,
  RemovalView,
  SiteNetwork,
  TimelineView,
} from './views/job';
import type { KeyView } from './views/key';
import type { JobLawView, KnownLaw } from './views/law';
import type {
  CommandsView,
  DeviceAnswer,
  LevelProfile,
  LevelSourcesView,
  LevelTableResult,
  ProfileDocument,
  ProfilesImport,
  StandinAgent,
  StandinPage,
} from './views/level';
import type { BenchRunView, HandsView, LinksOnAirView, LinkView, LoginView, RevealedView } from './views/link';
import type { NeedsView } from './views/need';
import type { NewsEvent } from './views/news';
import type { PathCheck } from './views/pathCheck';
import type { InvitationView, PeopleView, SessionView } from './views/people';
import type { Health, PlacesImport, ServerSettings, TerrainFile, TerrainUpload } from './views/terrain';
import type { ThroughputTest } from './views/test';
import type { VisitsView } from './views/visit';

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
  takeGround: { changed: number };
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
  jobStream: NewsEvent;
  keyState: KeyView;
  writeKeyDown: { words: string; key: string };
  keyWrittenDown: KeyView;
  bringKeyBack: KeyView;
  beginKey: KeyView;
  readOn: AlignmentSummary;
  levelSources: LevelSourcesView;
  commands: CommandsView;
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
