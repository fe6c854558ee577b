import type { PathCheckBody } from '../requests/pathCheck';
import type { FinishBody, MarkBody, NewAlignmentBody, PresenceBody, TightenBody, TurnBody } from '../requests/work';
import { route } from './route';

/** Alignments, and the stand-in's hands. */
export const aimingRoutes = {
  startAlignment: route<'startAlignment'>()<NewAlignmentBody>(
    'post',
    '/api/links/:linkId/alignments',
    'installer',
    'Begins to read both radios',
  ),
  listAlignments: route<'listAlignments'>()(
    'get',
    '/api/links/:linkId/alignments',
    'reader',
    'Alignments, newest first',
  ),
  getAlignment: route<'getAlignment'>()(
    'get',
    '/api/alignments/:alignmentId',
    'reader',
    'One alignment with its readings and marks',
  ),
  markAlignment: route<'markAlignment'>()<MarkBody>(
    'post',
    '/api/alignments/:alignmentId/marks',
    'installer',
    'Notes what the installer did',
    { showsItself: true },
  ),
  joinAlignment: route<'joinAlignment'>()<PresenceBody>(
    'post',
    '/api/alignments/:alignmentId/presence',
    'reader',
    'Says who looks on, and at which end; said again every few seconds',
  ),
  finishAlignment: route<'finishAlignment'>()<FinishBody>(
    'post',
    '/api/alignments/:alignmentId/finish',
    'installer',
    'Ends an alignment and judges it',
  ),
  abandonAlignment: route<'abandonAlignment'>()(
    'post',
    '/api/alignments/:alignmentId/abandon',
    'installer',
    'Ends an alignment without a result',
  ),
  readOn: route<'readOn'>()(
    'post',
    '/api/alignments/:alignmentId/read-on',
    'installer',
    'Reads an alignment on that is not read because the server died of it, as it seemed',
    { showsItself: true },
  ),
  alignmentStream: route<'alignmentStream'>()(
    'get',
    '/api/alignments/:alignmentId/stream',
    'reader',
    'Readings and taps as they come, each a piece of JSON',
    { gives: 'text/event-stream' },
  ),
  pathChecks: route<'pathChecks'>()(
    'get',
    '/api/links/:linkId/path-checks',
    'reader',
    'The path as it was measured with a generator and an analyser, newest first',
  ),
  storePathCheck: route<'storePathCheck'>()<PathCheckBody>(
    'post',
    '/api/links/:linkId/path-checks',
    'installer',
    'Stores such a measurement, judged',
  ),
  getHands: route<'getHands'>()(
    'get',
    '/api/standin/links/:linkId/hands',
    'reader',
    'Stand-in: what the scales on the mounts show',
  ),
  turnMount: route<'turnMount'>()<TurnBody>(
    'post',
    '/api/standin/links/:linkId/turns',
    'installer',
    'Stand-in: turns a mount',
  ),
  tightenMount: route<'tightenMount'>()<TightenBody>(
    'post',
    '/api/standin/links/:linkId/tightenings',
    'installer',
    'Stand-in: tightens the bolts of a mount',
  ),
} as const;
