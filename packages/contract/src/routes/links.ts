import { ends } from '@kivram/core/budget/plan';
import type { AlternativeFields } from '../entities/alternative';
import type { LoginBody } from '../requests/login';
import type { NewLinkBody, NewLinksBody } from '../requests/newLink';
import type { LinkPlanBody, RadioBody, SwapBody } from '../requests/plan';
import type { HandTestBody, ImportTestBody, StandinTestBody } from '../requests/test';
import type { MountBody, ToldPairingBody } from '../requests/work';
import type { SaveSheetsBody } from '../sheet';
import { route } from './route';

/** Links, from plan to proof, with their radios and settings. */
export const linksRoutes = {
  createLink: route<'createLink'>()<NewLinkBody>(
    'post',
    '/api/jobs/:jobId/links',
    'installer',
    'A new link between two places',
  ),
  createLinks: route<'createLinks'>()<NewLinksBody>(
    'post',
    '/api/jobs/:jobId/links/list',
    'installer',
    'Links that belong together: a hub with its stations, the hops of a chain',
  ),
  getLink: route<'getLink'>()('get', '/api/links/:linkId', 'reader', 'One link with both ends'),
  getAir: route<'getAir'>()('get', '/api/links/:linkId/air', 'reader', 'All links on the air of a link, as planned'),
  linkRemoval: route<'linkRemoval'>()(
    'get',
    '/api/links/:linkId/removal',
    'reader',
    'What goes with a link when it is removed',
  ),
  removeLink: route<'removeLink'>()(
    'delete',
    '/api/links/:linkId',
    'installer',
    'Removes a link with the radios that serve no other; it can be brought back',
    { query: { version: 'the version that was looked at' } },
  ),
  swapEnds: route<'swapEnds'>()<SwapBody>('post', '/api/links/:linkId/swap', 'installer', 'Exchanges near and far end'),
  changePlan: route<'changePlan'>()<LinkPlanBody>('patch', '/api/links/:linkId', 'installer', 'Changes the radio plan'),
  keepAlternative: route<'keepAlternative'>()<AlternativeFields>(
    'post',
    '/api/links/:linkId/alternatives',
    'installer',
    'Keeps a plan that was tried beside the one in place; one of the same name is replaced',
  ),
  removeAlternative: route<'removeAlternative'>()(
    'delete',
    '/api/alternatives/:alternativeId',
    'installer',
    'Throws a kept plan away',
    { query: { version: 'the version that was looked at' } },
  ),
  changeRadio: route<'changeRadio'>()<RadioBody>(
    'patch',
    '/api/radios/:radioId',
    'installer',
    'Changes a radio at its place',
    { later: 'a change of a radio' },
  ),
  proposeSheets: route<'proposeSheets'>()(
    'post',
    '/api/links/:linkId/sheets/proposal',
    'installer',
    'Proposes both settings sheets; saves nothing',
  ),
  saveSheets: route<'saveSheets'>()<SaveSheetsBody>(
    'put',
    '/api/links/:linkId/sheets',
    'installer',
    'Saves both settings sheets as new revisions',
  ),
  revealPassphrases: route<'revealPassphrases'>()(
    'post',
    '/api/links/:linkId/passphrases',
    'installer',
    'The passphrases and logins of both ends, which the timeline says were looked at',
  ),
  saveLogin: route<'saveLogin'>()<LoginBody>(
    'put',
    '/api/radios/:radioId/login',
    'installer',
    "Notes with what one logs in to a radio's own page",
  ),
  runBench: route<'runBench'>()(
    'post',
    '/api/links/:linkId/bench-runs',
    'installer',
    'Lets a stand-in pair try the saved sheets',
  ),
  tellPairing: route<'tellPairing'>()<ToldPairingBody>(
    'post',
    '/api/links/:linkId/bench-runs/told',
    'installer',
    'Notes what the real radios did on the table',
    { later: 'what the radios did on the bench' },
  ),
  mount: route<'mount'>()<MountBody>(
    'post',
    '/api/links/:linkId/mounts',
    'installer',
    'Notes that an end is up, or down again',
    { later: 'an end that is up, or down' },
  ),
  timeline: route<'timeline'>()('get', '/api/links/:linkId/events', 'reader', "The link's timeline, newest first"),
  aimCard: route<'aimCard'>()(
    'get',
    '/api/links/:linkId/aim-cards/:end.pdf',
    'reader',
    'What to aim by at an end, to print',
    {
      words: { end: ends },
      query: { units: '"imperial": feet and miles' },
      gives: 'application/pdf',
    },
  ),
  importTest: route<'importTest'>()<ImportTestBody>(
    'post',
    '/api/links/:linkId/throughput-tests/iperf3',
    'installer',
    'Reads a file of iperf3 -J',
  ),
  standinTest: route<'standinTest'>()<StandinTestBody>(
    'post',
    '/api/links/:linkId/throughput-tests/standin',
    'installer',
    'Runs a test over the stand-in link',
  ),
  handTest: route<'handTest'>()<HandTestBody>(
    'post',
    '/api/links/:linkId/throughput-tests/hand',
    'installer',
    'Notes a speed test read off a screen',
    { later: 'a speed test' },
  ),
  testsCsv: route<'testsCsv'>()(
    'get',
    '/api/links/:linkId/throughput-tests.csv',
    'reader',
    'All throughput tests of a link as a table',
    { gives: 'text/csv' },
  ),
} as const;
