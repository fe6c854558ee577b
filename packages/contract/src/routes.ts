import type { ClassConstructor } from 'class-transformer';
import { ObstacleFields, type Obstacle, type Place, type Radio } from './entities';
import {
  HandTestBody,
  ImportPlacesBody,
  ImportTestBody,
  LinkPlanBody,
  MarkBody,
  MountBody,
  NewAlignmentBody,
  NewLinkBody,
  NewPlaceBody,
  ObstacleBody,
  PlaceBody,
  ProfileBody,
  RadioBody,
  SessionBody,
  StandinTestBody,
  TightenBody,
  ToldPairingBody,
  TurnBody,
} from './requests';
import type { JobDocument } from './jobDocument';
import { SaveSheetsBody } from './sheet';
import type {
  AimEvent,
  AlignmentSummary,
  AlignmentView,
  BenchRunView,
  HandsView,
  Health,
  ImportResult,
  JobLinks,
  JobMapView,
  JobSummary,
  JobView,
  LinkView,
  PlacesImport,
  ServerSettings,
  SessionView,
  TerrainFile,
  TerrainUpload,
  ThroughputTest,
  TimelineView,
} from './views';
import { ends, type Model, type RuleSet, type Sheet, type TerrainProfile } from '@kivram/core';

type Method = 'get' | 'post' | 'patch' | 'put' | 'delete';

/** One route of the API: where it is, what it takes and what it gives. Server and interface both go by this table. */
export interface Route<Body, Response> extends RouteParts {
  method: Method;
  path: string;
  summary: string;
  body?: ClassConstructor<Body & object>;
  /** carries the response's type only */
  readonly response?: Response;
}

interface RouteParts {
  /** what may stand after the question mark, in words */
  query?: Record<string, string>;
  /** parameters of the path that are words, with those there are; all others are identifiers */
  words?: Record<string, readonly string[]>;
  /** the media type of a body that is a file; it is read as it comes */
  takes?: string;
  /** the media type of an answer that is no JSON */
  gives?: string;
}

function route<Response>() {
  return <Body = undefined>(
    method: Method,
    path: string,
    summary: string,
    body?: ClassConstructor<Body & object>,
    parts: RouteParts = {},
  ): Route<Body, Response> => ({ method, path, summary, body, ...parts });
}

export const routes = {
  listJobs: route<JobSummary[]>()('get', '/api/jobs', 'All jobs'),
  getJob: route<JobView>()('get', '/api/jobs/:jobId', 'One job with its network and crew'),
  jobLinks: route<JobLinks>()(
    'get',
    '/api/jobs/:jobId/links',
    'A part of the links, what is wrong and next among all, where traffic goes',
    undefined,
    {
      query: {
        offset: 'how many to leave out',
        limit: 'how many at most, up to 500',
        find: 'a part of a name',
      },
    },
  ),
  jobMap: route<JobMapView>()(
    'get',
    '/api/jobs/:jobId/map',
    'All places, obstacles and links of a job, as a map needs them',
  ),
  getSession: route<SessionView>()('get', '/api/session', 'Who works in this browser'),
  chooseMember: route<SessionView>()('put', '/api/session', 'Says who works in this browser from now on', SessionBody),
  listRuleSets: route<RuleSet[]>()('get', '/api/rule-sets', 'The rules in force, by country'),
  exportJob: route<JobDocument>()(
    'get',
    '/api/jobs/:jobId/export',
    'The whole job as one document; passphrases only where asked for',
    undefined,
    { query: { secrets: '"include": with passphrases' } },
  ),
  importJob: route<ImportResult>()(
    'post',
    '/api/jobs/import',
    'Brings a job document in, as a new job unless it replaces the one it was exported from',
    undefined,
    {
      takes: 'application/json',
      query: { replace: '"yes": replaces the job of the same id', copy: '"yes": makes a second job beside it' },
    },
  ),
  removeJob: route<{ removed: true }>()(
    'delete',
    '/api/jobs/:jobId',
    'Removes a job with all that is in it',
    undefined,
    {
      query: { name: "the job's name, to be sure" },
    },
  ),
  jobTimeline: route<TimelineView>()('get', '/api/jobs/:jobId/events', 'Who did what when, newest first'),
  listModels: route<Model[]>()('get', '/api/models', 'Spec sheets of the gear'),
  createLink: route<LinkView>()('post', '/api/jobs/:jobId/links', 'A new link between two places', NewLinkBody),
  getLink: route<LinkView>()('get', '/api/links/:linkId', 'One link with both ends'),
  changePlan: route<LinkView>()('patch', '/api/links/:linkId', 'Changes the radio plan', LinkPlanBody),
  changePlace: route<Place>()('patch', '/api/places/:placeId', 'Changes a place', PlaceBody),
  createPlace: route<Place>()('post', '/api/jobs/:jobId/places', 'A new place on the map', NewPlaceBody),
  removePlace: route<{ removed: true }>()(
    'delete',
    '/api/places/:placeId',
    'Removes a place that carries no radio',
    undefined,
    { query: { version: 'the version that was looked at' } },
  ),
  importPlaces: route<PlacesImport>()(
    'post',
    '/api/jobs/:jobId/places/import',
    'Reads waypoints from GPX, KML, GeoJSON or CSV',
    ImportPlacesBody,
  ),
  createObstacle: route<Obstacle>()(
    'post',
    '/api/jobs/:jobId/obstacles',
    'Something in the way, as seen',
    ObstacleFields,
  ),
  changeObstacle: route<Obstacle>()('put', '/api/obstacles/:obstacleId', 'Changes an obstacle', ObstacleBody),
  removeObstacle: route<{ removed: true }>()('delete', '/api/obstacles/:obstacleId', 'Removes an obstacle', undefined, {
    query: { version: 'the version that was looked at' },
  }),
  health: route<Health>()('get', '/api/health', 'Whether the server and its database can work'),
  getSettings: route<ServerSettings>()('get', '/api/settings', 'What this server was started with'),
  listTerrain: route<TerrainFile[]>()('get', '/api/terrain', 'Terrain grids on this computer, finest first'),
  removeTerrain: route<{ removed: true }>()('delete', '/api/terrain/:fileId', 'Removes a terrain grid'),
  /** Answers once it is read; how far it is meanwhile is asked under the id that the client made for it. */
  uploadTerrain: route<TerrainFile>()(
    'post',
    '/api/terrain/uploads',
    'Brings a terrain file in, as the body',
    undefined,
    {
      takes: 'application/octet-stream',
      query: {
        name: 'what the file is called',
        epsg: 'its projection, where it does not tell it, as an EPSG code',
        upload: 'an identifier under which to ask how far it is',
      },
    },
  ),
  terrainUpload: route<TerrainUpload>()(
    'get',
    '/api/terrain/uploads/:uploadId',
    'How far a terrain file has been read',
  ),
  terrainWindow: route<never>()(
    'get',
    '/api/terrain/window',
    'A window of heights in web Mercator: 32-bit floats, little-endian, row by row from the north-west',
    undefined,
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
  terrainProfile: route<TerrainProfile>()(
    'post',
    '/api/terrain/profiles',
    'Ground heights along the geodesic between two positions',
    ProfileBody,
  ),
  changeRadio: route<Radio>()('patch', '/api/radios/:radioId', 'Changes a radio at its place', RadioBody),
  proposeSheets: route<{ near: Sheet; far: Sheet }>()(
    'post',
    '/api/links/:linkId/sheets/proposal',
    'Proposes both settings sheets; saves nothing',
  ),
  saveSheets: route<LinkView>()(
    'put',
    '/api/links/:linkId/sheets',
    'Saves both settings sheets as new revisions',
    SaveSheetsBody,
  ),
  runBench: route<BenchRunView>()('post', '/api/links/:linkId/bench-runs', 'Lets a stand-in pair try the saved sheets'),
  tellPairing: route<LinkView>()(
    'post',
    '/api/links/:linkId/bench-runs/told',
    'Notes what the real radios did on the table',
    ToldPairingBody,
  ),
  mount: route<LinkView>()('post', '/api/links/:linkId/mounts', 'Notes that an end is up, or down again', MountBody),
  timeline: route<TimelineView>()('get', '/api/links/:linkId/events', "The link's timeline, newest first"),
  startAlignment: route<AlignmentSummary>()(
    'post',
    '/api/links/:linkId/alignments',
    'Begins to read both radios',
    NewAlignmentBody,
  ),
  listAlignments: route<AlignmentSummary[]>()('get', '/api/links/:linkId/alignments', 'Alignments, newest first'),
  getAlignment: route<AlignmentView>()(
    'get',
    '/api/alignments/:alignmentId',
    'One alignment with its readings and marks',
  ),
  markAlignment: route<AlignmentSummary>()(
    'post',
    '/api/alignments/:alignmentId/marks',
    'Notes what the installer did',
    MarkBody,
  ),
  finishAlignment: route<AlignmentSummary>()(
    'post',
    '/api/alignments/:alignmentId/finish',
    'Ends an alignment and judges it',
  ),
  abandonAlignment: route<AlignmentSummary>()(
    'post',
    '/api/alignments/:alignmentId/abandon',
    'Ends an alignment without a result',
  ),
  getHands: route<HandsView>()(
    'get',
    '/api/standin/links/:linkId/hands',
    'Stand-in: what the scales on the mounts show',
  ),
  turnMount: route<HandsView>()('post', '/api/standin/links/:linkId/turns', 'Stand-in: turns a mount', TurnBody),
  tightenMount: route<HandsView>()(
    'post',
    '/api/standin/links/:linkId/tightenings',
    'Stand-in: tightens the bolts of a mount',
    TightenBody,
  ),
  importTest: route<ThroughputTest>()(
    'post',
    '/api/links/:linkId/throughput-tests/iperf3',
    'Reads a file of iperf3 -J',
    ImportTestBody,
  ),
  standinTest: route<ThroughputTest>()(
    'post',
    '/api/links/:linkId/throughput-tests/standin',
    'Runs a test over the stand-in link',
    StandinTestBody,
  ),
  handTest: route<ThroughputTest>()(
    'post',
    '/api/links/:linkId/throughput-tests/hand',
    'Notes a speed test read off a screen',
    HandTestBody,
  ),
  alignmentStream: route<AimEvent>()(
    'get',
    '/api/alignments/:alignmentId/stream',
    'Readings and taps as they come, each a piece of JSON',
    undefined,
    { gives: 'text/event-stream' },
  ),
  exportPlaces: route<never>()('get', '/api/jobs/:jobId/places.:format', 'Places and links for other maps', undefined, {
    words: { format: ['geojson', 'kml'] },
    gives: 'application/octet-stream',
  }),
  aimCard: route<never>()(
    'get',
    '/api/links/:linkId/aim-cards/:end.pdf',
    'What to aim by at an end, to print',
    undefined,
    {
      words: { end: ends },
      query: { units: '"imperial": feet and miles' },
      gives: 'application/pdf',
    },
  ),
  testsCsv: route<never>()(
    'get',
    '/api/links/:linkId/throughput-tests.csv',
    'All throughput tests of a link as a table',
    undefined,
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
