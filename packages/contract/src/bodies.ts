import type { ClassConstructor } from 'class-transformer';
import { ObstacleFields } from './entities';
import {
  HandTestBody,
  ImportModelsBody,
  ImportPlacesBody,
  ImportTestBody,
  JobBody,
  LinkPlanBody,
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
  NewPlaceBody,
  ObstacleBody,
  PlaceBody,
  ProfileBody,
  RadioBody,
  SessionBody,
  StandinTestBody,
  SwapBody,
  TightenBody,
  ToldPairingBody,
  TurnBody,
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
  createObstacle: ObstacleFields,
  changeObstacle: ObstacleBody,
  terrainProfile: ProfileBody,
  changeRadio: RadioBody,
  saveSheets: SaveSheetsBody,
  tellPairing: ToldPairingBody,
  mount: MountBody,
  startAlignment: NewAlignmentBody,
  markAlignment: MarkBody,
  turnMount: TurnBody,
  tightenMount: TightenBody,
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
