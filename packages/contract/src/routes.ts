import type { Answers } from './answers';
import type { ObstacleFields } from './entities';
import type {
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
import type { SaveSheetsBody } from './sheet';
import { ends } from '@kivram/core';

type Method = 'get' | 'post' | 'patch' | 'put' | 'delete';

/** One route of the API: where it is, what it takes and what it gives. Server and interface both go by this table. */
export interface Route<Body, Response> extends RouteParts {
  method: Method;
  path: string;
  summary: string;
  /** carry the types only: the classes that bodies are checked by stand in bodies.ts, so that a page loads those it uses */
  readonly body?: Body;
  readonly response?: Response;
}

interface RouteParts {
  /** what may stand after the question mark, in words */
  query?: Record<string, string>;
  /** parameters of the path that are words, with those there are, or any; all others are identifiers */
  words?: Record<string, readonly string[] | 'any'>;
  /** the media type of a body that is a file; it is read as it comes */
  takes?: string;
  /** the media type of an answer that is no JSON */
  gives?: string;
}

/** A route whose answer stands under its name among the answers. */
function route<Name extends keyof Answers>() {
  return <Body = undefined>(
    method: Method,
    path: string,
    summary: string,
    parts: RouteParts = {},
  ): Route<Body, Answers[Name]> => ({ method, path, summary, ...parts });
}

export const routes = {
  listJobs: route<'listJobs'>()('get', '/api/jobs', 'All jobs'),
  find: route<'find'>()(
    'get',
    '/api/find',
    'Finds jobs, links, places, radios, devices and gear by a part of a name, an address or a label',
    {
      query: { text: 'what to find', job: 'the job whose things come first' },
    },
  ),
  getJob: route<'getJob'>()('get', '/api/jobs/:jobId', 'One job with its network and crew'),
  createJob: route<'createJob'>()<NewJobBody>('post', '/api/jobs', 'A new job, empty or with the plan of another'),
  changeJob: route<'changeJob'>()<JobBody>('patch', '/api/jobs/:jobId', 'Renames a job, moves it, puts it away'),
  saveNetwork: route<'saveNetwork'>()<NetworkBody>(
    'put',
    '/api/jobs/:jobId/network',
    'The whole network of the site: subnets, feed, devices',
  ),
  jobLinks: route<'jobLinks'>()(
    'get',
    '/api/jobs/:jobId/links',
    'A part of the links, what is wrong and next among all, where traffic goes',
    {
      query: {
        offset: 'how many to leave out',
        limit: 'how many at most, up to 500',
        find: 'a part of a name',
      },
    },
  ),
  jobMap: route<'jobMap'>()(
    'get',
    '/api/jobs/:jobId/map',
    'All places, obstacles and links of a job, as a map needs them',
  ),
  getSession: route<'getSession'>()('get', '/api/session', 'Who works in this browser'),
  chooseMember: route<'chooseMember'>()<SessionBody>(
    'put',
    '/api/session',
    'Says who works in this browser from now on',
  ),
  joinCrew: route<'joinCrew'>()<NewMemberBody>(
    'post',
    '/api/jobs/:jobId/crew',
    'Adds somebody to the crew of a job, who then works in this browser',
  ),
  listRuleSets: route<'listRuleSets'>()('get', '/api/rule-sets', 'The rules in force, by country'),
  exportJob: route<'exportJob'>()(
    'get',
    '/api/jobs/:jobId/export',
    'The whole job as one document; passphrases only where asked for',
    { query: { secrets: '"include": with passphrases' } },
  ),
  importJob: route<'importJob'>()(
    'post',
    '/api/jobs/import',
    'Brings a job document in, as a new job unless it replaces the one it was exported from',
    {
      takes: 'application/json',
      query: { replace: '"yes": replaces the job of the same id', copy: '"yes": makes a second job beside it' },
    },
  ),
  removeJob: route<'removeJob'>()('delete', '/api/jobs/:jobId', 'Removes a job with all that is in it', {
    query: { name: "the job's name, to be sure" },
  }),
  jobTimeline: route<'jobTimeline'>()('get', '/api/jobs/:jobId/events', 'Who did what when, newest first'),
  listModels: route<'listModels'>()('get', '/api/models', 'Spec sheets of the gear'),
  catalogue: route<'catalogue'>()('get', '/api/catalogue', 'Spec sheets with who is planned with them'),
  createModel: route<'createModel'>()<NewModelBody>('post', '/api/models', 'A new spec sheet'),
  changeModel: route<'changeModel'>()<ModelBody>(
    'put',
    '/api/models/:modelId',
    'A new revision of a spec sheet; radios keep theirs',
    { words: { modelId: 'any' } },
  ),
  retireModel: route<'retireModel'>()(
    'delete',
    '/api/models/:modelId',
    'Offers a spec sheet for new radios no longer; those that are planned keep it',
    { words: { modelId: 'any' } },
  ),
  importModels: route<'importModels'>()<ImportModelsBody>(
    'post',
    '/api/models/import',
    'Reads spec sheets from a file; one that is wrong keeps no other out',
  ),
  exportModels: route<'exportModels'>()('get', '/api/models/export', 'All spec sheets of the catalogue as one file'),
  createLink: route<'createLink'>()<NewLinkBody>('post', '/api/jobs/:jobId/links', 'A new link between two places'),
  createLinks: route<'createLinks'>()<NewLinksBody>(
    'post',
    '/api/jobs/:jobId/links/list',
    'Links that belong together: a hub with its stations, the hops of a chain',
  ),
  getLink: route<'getLink'>()('get', '/api/links/:linkId', 'One link with both ends'),
  linkRemoval: route<'linkRemoval'>()('get', '/api/links/:linkId/removal', 'What goes with a link when it is removed'),
  removeLink: route<'removeLink'>()(
    'delete',
    '/api/links/:linkId',
    'Removes a link with the radios that serve no other; it can be brought back',
    { query: { version: 'the version that was looked at' } },
  ),
  swapEnds: route<'swapEnds'>()<SwapBody>('post', '/api/links/:linkId/swap', 'Exchanges near and far end'),
  placeRemoval: route<'placeRemoval'>()(
    'get',
    '/api/places/:placeId/removal',
    'What goes with a place when it is removed',
  ),
  undoRemoval: route<'undoRemoval'>()(
    'post',
    '/api/removals/:removalId/undo',
    'Brings back what a removal took, as it was',
  ),
  changePlan: route<'changePlan'>()<LinkPlanBody>('patch', '/api/links/:linkId', 'Changes the radio plan'),
  changePlace: route<'changePlace'>()<PlaceBody>('patch', '/api/places/:placeId', 'Changes a place'),
  createPlace: route<'createPlace'>()<NewPlaceBody>('post', '/api/jobs/:jobId/places', 'A new place on the map'),
  removePlace: route<'removePlace'>()('delete', '/api/places/:placeId', 'Removes a place; it can be brought back', {
    query: {
      version: 'the version that was looked at',
      with: '"links": with the links whose radios stand there; else a place that carries a radio stays',
    },
  }),
  importPlaces: route<'importPlaces'>()<ImportPlacesBody>(
    'post',
    '/api/jobs/:jobId/places/import',
    'Reads waypoints from GPX, KML, GeoJSON or CSV',
  ),
  createObstacle: route<'createObstacle'>()<ObstacleFields>(
    'post',
    '/api/jobs/:jobId/obstacles',
    'Something in the way, as seen',
  ),
  changeObstacle: route<'changeObstacle'>()<ObstacleBody>('put', '/api/obstacles/:obstacleId', 'Changes an obstacle'),
  removeObstacle: route<'removeObstacle'>()('delete', '/api/obstacles/:obstacleId', 'Removes an obstacle', {
    query: { version: 'the version that was looked at' },
  }),
  health: route<'health'>()('get', '/api/health', 'Whether the server and its database can work'),
  getSettings: route<'getSettings'>()('get', '/api/settings', 'What this server was started with'),
  listTerrain: route<'listTerrain'>()('get', '/api/terrain', 'Terrain grids on this computer, finest first'),
  removeTerrain: route<'removeTerrain'>()('delete', '/api/terrain/:fileId', 'Removes a terrain grid'),
  /** Answers once it is read; how far it is meanwhile is asked under the id that the client made for it. */
  uploadTerrain: route<'uploadTerrain'>()('post', '/api/terrain/uploads', 'Brings a terrain file in, as the body', {
    takes: 'application/octet-stream',
    query: {
      name: 'what the file is called',
      epsg: 'its projection, where it does not tell it, as an EPSG code',
      upload: 'an identifier under which to ask how far it is',
    },
  }),
  terrainUpload: route<'terrainUpload'>()(
    'get',
    '/api/terrain/uploads/:uploadId',
    'How far a terrain file has been read',
  ),
  terrainWindow: route<'terrainWindow'>()(
    'get',
    '/api/terrain/window',
    'A window of heights in web Mercator: 32-bit floats, little-endian, row by row from the north-west',
    {
      gives: 'application/octet-stream',
      query: {
        west: 'centre of the first cell, projected metres',
        north: 'centre of the first cell, projected metres',
        cell: 'side of a cell, projected metres',
        columns: 'cells in a row',
        rows: 'rows',
      },
    },
  ),
  terrainProfile: route<'terrainProfile'>()<ProfileBody>(
    'post',
    '/api/terrain/profiles',
    'Ground heights along the geodesic between two positions',
  ),
  changeRadio: route<'changeRadio'>()<RadioBody>('patch', '/api/radios/:radioId', 'Changes a radio at its place'),
  proposeSheets: route<'proposeSheets'>()(
    'post',
    '/api/links/:linkId/sheets/proposal',
    'Proposes both settings sheets; saves nothing',
  ),
  saveSheets: route<'saveSheets'>()<SaveSheetsBody>(
    'put',
    '/api/links/:linkId/sheets',
    'Saves both settings sheets as new revisions',
  ),
  runBench: route<'runBench'>()('post', '/api/links/:linkId/bench-runs', 'Lets a stand-in pair try the saved sheets'),
  tellPairing: route<'tellPairing'>()<ToldPairingBody>(
    'post',
    '/api/links/:linkId/bench-runs/told',
    'Notes what the real radios did on the table',
  ),
  mount: route<'mount'>()<MountBody>('post', '/api/links/:linkId/mounts', 'Notes that an end is up, or down again'),
  timeline: route<'timeline'>()('get', '/api/links/:linkId/events', "The link's timeline, newest first"),
  startAlignment: route<'startAlignment'>()<NewAlignmentBody>(
    'post',
    '/api/links/:linkId/alignments',
    'Begins to read both radios',
  ),
  listAlignments: route<'listAlignments'>()('get', '/api/links/:linkId/alignments', 'Alignments, newest first'),
  getAlignment: route<'getAlignment'>()(
    'get',
    '/api/alignments/:alignmentId',
    'One alignment with its readings and marks',
  ),
  markAlignment: route<'markAlignment'>()<MarkBody>(
    'post',
    '/api/alignments/:alignmentId/marks',
    'Notes what the installer did',
  ),
  finishAlignment: route<'finishAlignment'>()(
    'post',
    '/api/alignments/:alignmentId/finish',
    'Ends an alignment and judges it',
  ),
  abandonAlignment: route<'abandonAlignment'>()(
    'post',
    '/api/alignments/:alignmentId/abandon',
    'Ends an alignment without a result',
  ),
  getHands: route<'getHands'>()(
    'get',
    '/api/standin/links/:linkId/hands',
    'Stand-in: what the scales on the mounts show',
  ),
  turnMount: route<'turnMount'>()<TurnBody>('post', '/api/standin/links/:linkId/turns', 'Stand-in: turns a mount'),
  tightenMount: route<'tightenMount'>()<TightenBody>(
    'post',
    '/api/standin/links/:linkId/tightenings',
    'Stand-in: tightens the bolts of a mount',
  ),
  importTest: route<'importTest'>()<ImportTestBody>(
    'post',
    '/api/links/:linkId/throughput-tests/iperf3',
    'Reads a file of iperf3 -J',
  ),
  standinTest: route<'standinTest'>()<StandinTestBody>(
    'post',
    '/api/links/:linkId/throughput-tests/standin',
    'Runs a test over the stand-in link',
  ),
  handTest: route<'handTest'>()<HandTestBody>(
    'post',
    '/api/links/:linkId/throughput-tests/hand',
    'Notes a speed test read off a screen',
  ),
  alignmentStream: route<'alignmentStream'>()(
    'get',
    '/api/alignments/:alignmentId/stream',
    'Readings and taps as they come, each a piece of JSON',
    { gives: 'text/event-stream' },
  ),
  exportPlaces: route<'exportPlaces'>()('get', '/api/jobs/:jobId/places.:format', 'Places and links for other maps', {
    words: { format: ['geojson', 'kml'] },
    gives: 'application/octet-stream',
  }),
  aimCard: route<'aimCard'>()('get', '/api/links/:linkId/aim-cards/:end.pdf', 'What to aim by at an end, to print', {
    words: { end: ends },
    query: { units: '"imperial": feet and miles' },
    gives: 'application/pdf',
  }),
  testsCsv: route<'testsCsv'>()(
    'get',
    '/api/links/:linkId/throughput-tests.csv',
    'All throughput tests of a link as a table',
    { gives: 'text/csv' },
  ),
} as const;

/**
 * The header with the id that a client made for a change: repeating a request with it changes nothing and gives the first answer again (the name is that of
 * the IETF draft "The Idempotency-Key HTTP Header Field").
 */
export const changeIdHeader = 'idempotency-key';

/** Fills a path's parameters in. */
export function fillPath(path: string, params: Record<string, string>): string {
  return path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
}
