import type { ClassConstructor } from 'class-transformer';
import { AlternativeFields } from './entities/alternative';
import { LicenceFields, LocalRuleFields } from './entities/law';
import { CableFields } from './entities/need';
import { ObstacleFields } from './entities/obstacle';
import { ImportModelsBody, ModelBody, NewModelBody } from './requests/gear';
import { JobBody, NetworkBody, NewJobBody } from './requests/job';
import { LicenceBody, LocalRuleBody } from './requests/law';
import {
  AngleBody,
  AskDeviceBody,
  ImportProfilesBody,
  LevelProfileBody,
  LevelSourceBody,
  LevelTableBody,
  TypedLevelBody,
} from './requests/level';
import { KeyBody } from './requests/key';
import { LoginBody } from './requests/login';
import { PlaceNeedBody, PlannedNeedsBody } from './requests/need';
import { NewLinkBody, NewLinksBody } from './requests/newLink';
import { ObstacleBody } from './requests/obstacle';
import { PathCheckBody } from './requests/pathCheck';
import { NewInvitationBody, NewPersonBody, PersonBody } from './requests/people';
import { ImportPlacesBody, NewPlaceBody, PlaceBody, ProfileBody } from './requests/place';
import { LinkPlanBody, RadioBody, SwapBody } from './requests/plan';
import { InvitationBody, NewMemberBody, PasswordBody, SessionBody, SignInBody } from './requests/session';
import { HandTestBody, ImportTestBody, StandinTestBody } from './requests/test';
import { NewVisitBody, PhotoBody, VisitBody } from './requests/visit';
import {
  FinishBody,
  MarkBody,
  MountBody,
  NewAlignmentBody,
  PresenceBody,
  TightenBody,
  ToldPairingBody,
  TurnBody,
} from './requests/work';
import { routes } from './routes';
import type { Route } from './routes/route';
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
  bringKeyBack: KeyBody,
  addPerson: NewPersonBody,
  invite: NewInvitationBody,
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
  saveNeed: PlaceNeedBody,
  createCable: CableFields,
  planNeeds: PlannedNeedsBody,
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
  finishAlignment: FinishBody,
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
