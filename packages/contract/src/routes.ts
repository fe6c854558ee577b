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
  AlignmentSummary,
  AlignmentView,
  BenchRunView,
  HandsView,
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
  ThroughputTest,
  TimelineView,
} from './views';
import type { Model, RuleSet, Sheet, TerrainProfile } from '@kivram/core';

type Method = 'get' | 'post' | 'patch' | 'put' | 'delete';

/** One route of the API: where it is, what it takes and what it gives. Server and interface both go by this table. */
export interface Route<Body, Response> {
  method: Method;
  path: string;
  summary: string;
  body?: ClassConstructor<Body & object>;
  /** carries the response's type only */
  readonly response?: Response;
}

function route<Response>() {
  return <Body = undefined>(
    method: Method,
    path: string,
    summary: string,
    body?: ClassConstructor<Body & object>,
  ): Route<Body, Response> => ({
    method,
    path,
    summary,
    body,
  });
}

export const routes = {
  listJobs: route<JobSummary[]>()('get', '/api/jobs', 'All jobs'),
  getJob: route<JobView>()('get', '/api/jobs/:jobId', 'One job with its network and crew'),
  jobLinks: route<JobLinks>()(
    'get',
    '/api/jobs/:jobId/links',
    'A part of the links (?offset, ?limit, ?find), what is wrong and next among all, where traffic goes',
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
    'The whole job as one document; passphrases only with ?secrets=include',
  ),
  importJob: route<ImportResult>()(
    'post',
    '/api/jobs/import',
    'Brings a job document in; an existing job only with ?replace=yes',
  ),
  jobTimeline: route<TimelineView>()('get', '/api/jobs/:jobId/events', 'Who did what when, newest first'),
  listModels: route<Model[]>()('get', '/api/models', 'Spec sheets of the gear'),
  createLink: route<LinkView>()('post', '/api/jobs/:jobId/links', 'A new link between two places', NewLinkBody),
  getLink: route<LinkView>()('get', '/api/links/:linkId', 'One link with both ends'),
  changePlan: route<LinkView>()('patch', '/api/links/:linkId', 'Changes the radio plan', LinkPlanBody),
  changePlace: route<Place>()('patch', '/api/places/:placeId', 'Changes a place', PlaceBody),
  createPlace: route<Place>()('post', '/api/jobs/:jobId/places', 'A new place on the map', NewPlaceBody),
  removePlace: route<{ removed: true }>()('delete', '/api/places/:placeId', 'Removes a place that carries no radio'),
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
  removeObstacle: route<{ removed: true }>()('delete', '/api/obstacles/:obstacleId', 'Removes an obstacle'),
  getSettings: route<ServerSettings>()('get', '/api/settings', 'What this server was started with'),
  listTerrain: route<TerrainFile[]>()('get', '/api/terrain', 'Terrain grids on this computer, finest first'),
  removeTerrain: route<{ removed: true }>()('delete', '/api/terrain/:fileId', 'Removes a terrain grid'),
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
} as const;

/**
 * The header with the id that a client made for a change: repeating a request with it changes nothing and gives the first answer again (the name is that of
 * the IETF draft "The Idempotency-Key HTTP Header Field").
 */
export const changeIdHeader = 'idempotency-key';

/** Paths that do not answer with JSON. */
export const streamPath = '/api/alignments/:alignmentId/stream';
/** A terrain file as the body; answers with lines of `TerrainImportLine`. */
export const terrainUploadPath = '/api/terrain/uploads';
/** 32-bit floats, little-endian, row by row: a window of heights in web Mercator, for maps. */
export const terrainWindowPath = '/api/terrain/window';
export const placesExportPath = '/api/jobs/:jobId/places.:format';
export const aimCardPath = '/api/links/:linkId/aim-cards/:end.pdf';
export const testsCsvPath = '/api/links/:linkId/throughput-tests.csv';

/** Fills a path's parameters in. */
export function fillPath(path: string, params: Record<string, string>): string {
  return path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
}
