import type { ClassConstructor } from 'class-transformer';
import { AlternativeFields, LicenceFields, LocalRuleFields, ObstacleFields } from './entities';
import {
  AngleBody,
  AskDeviceBody,
  HandTestBody,
  ImportModelsBody,
  ImportPlacesBody,
  ImportProfilesBody,
  ImportTestBody,
  InvitationBody,
  JobBody,
  LevelProfileBody,
  LevelSourceBody,
  LevelTableBody,
  LinkPlanBody,
  LoginBody,
  MarkBody,
  ModelBody,
  MountBody,
  NetworkBody,
  NewAlignmentBody,
  NewJobBody,
  NewLinkBody,
  NewLinksBody,
  NewMemberBody,
  NewModelBody,
  NewPersonBody,
  NewPlaceBody,
  NewVisitBody,
  LicenceBody,
  LocalRuleBody,
  ObstacleBody,
  PasswordBody,
  PathCheckBody,
  PersonBody,
  PhotoBody,
  PlaceBody,
  PresenceBody,
  ProfileBody,
  RadioBody,
  SessionBody,
  SignInBody,
  StandinTestBody,
  SwapBody,
  TightenBody,
  ToldPairingBody,
  TurnBody,
  TypedLevelBody,
  VisitBody,
} from './requests';
import { routes, type Route } from './routes';
import { SaveSheetsBody } from './sheet';

type BodyOf<R> = R extends Route<infer Body, unknown> ? Body : never;

/** The class that checks the body of each route that takes one: the compiler asks for every one of them. */
const bodies: {
  [Name in keyof typeof routes as BodyOf<(typeof routes)[Name]> extends object ? Name : never]: ClassConstructor<
    BodyOf<(typeof routes)[Name]> & object
  >;
} = {
  createJob: NewJobBody,
  changeJob: JobBody,
  saveNetwork: NetworkBody,
  chooseMember: SessionBody,
  joinCrew: NewMemberBody,
  acceptInvitation: InvitationBody,
  signIn: SignInBody,
  setPassword: PasswordBody,
  addPerson: NewPersonBody,
  changePerson: PersonBody,
  createModel: NewModelBody,
  changeModel: ModelBody,
  importModels: ImportModelsBody,
  createLink: NewLinkBody,
  createLinks: NewLinksBody,
  swapEnds: SwapBody,
  changePlan: LinkPlanBody,
  changePlace: PlaceBody,
  createPlace: NewPlaceBody,
  importPlaces: ImportPlacesBody,
  createVisit: NewVisitBody,
  changeVisit: VisitBody,
  changePhoto: PhotoBody,
  keepAlternative: AlternativeFields,
  createLocalRule: LocalRuleFields,
  changeLocalRule: LocalRuleBody,
  createLicence: LicenceFields,
  changeLicence: LicenceBody,
  createObstacle: ObstacleFields,
  changeObstacle: ObstacleBody,
  terrainProfile: ProfileBody,
  changeRadio: RadioBody,
  saveSheets: SaveSheetsBody,
  saveLogin: LoginBody,
  tellPairing: ToldPairingBody,
  mount: MountBody,
  startAlignment: NewAlignmentBody,
  markAlignment: MarkBody,
  turnMount: TurnBody,
  tightenMount: TightenBody,
  storePathCheck: PathCheckBody,
  joinAlignment: PresenceBody,
  saveLevelSource: LevelSourceBody,
  askDevice: AskDeviceBody,
  tellLevel: TypedLevelBody,
  pasteLevels: LevelTableBody,
  tellAngle: AngleBody,
  saveLevelProfile: LevelProfileBody,
  importLevelProfiles: ImportProfilesBody,
  importTest: ImportTestBody,
  standinTest: StandinTestBody,
  handTest: HandTestBody,
};

const byRoute = new Map<object, ClassConstructor<object>>(
  Object.entries(bodies).map(([name, body]) => [routes[name as keyof typeof bodies], body]),
);

/** The class that a route's body is checked by; undefined for one without a body. */
export function bodyOf<Body>(route: Route<Body, unknown>): ClassConstructor<Body & object> | undefined {
  return byRoute.get(route) as ClassConstructor<Body & object> | undefined;
}
