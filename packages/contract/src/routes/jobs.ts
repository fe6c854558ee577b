import type { JobBody, NetworkBody, NewJobBody } from '../requests/job';
import { route } from './route';

/** Jobs themselves, and what is found in them. */
export const jobsRoutes = {
  listJobs: route<'listJobs'>()('get', '/api/jobs', 'signedIn', 'All jobs'),
  find: route<'find'>()(
    'get',
    '/api/find',
    'signedIn',
    'Finds jobs, links, places, radios, devices and gear by a part of a name, an address or a label',
    {
      query: { text: 'what to find', job: 'the job whose things come first' },
    },
  ),
  getJob: route<'getJob'>()('get', '/api/jobs/:jobId', 'reader', 'One job with its network and crew'),
  createJob: route<'createJob'>()<NewJobBody>(
    'post',
    '/api/jobs',
    'worker',
    'A new job, empty or with the plan of another',
  ),
  changeJob: route<'changeJob'>()<JobBody>(
    'patch',
    '/api/jobs/:jobId',
    'lead',
    'Renames a job, moves it, puts it away',
  ),
  saveNetwork: route<'saveNetwork'>()<NetworkBody>(
    'put',
    '/api/jobs/:jobId/network',
    'installer',
    'The whole network of the site: subnets, feed, devices',
  ),
  jobLinks: route<'jobLinks'>()(
    'get',
    '/api/jobs/:jobId/links',
    'reader',
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
    'reader',
    'All places, obstacles and links of a job, as a map needs them',
  ),
  exportJob: route<'exportJob'>()(
    'get',
    '/api/jobs/:jobId/export',
    'reader',
    'The whole job as one document; passphrases only where asked for',
    { query: { secrets: '"include": with passphrases' } },
  ),
  importJob: route<'importJob'>()(
    'post',
    '/api/jobs/import',
    'worker',
    'Brings a job document in, as a new job unless it replaces the one it was exported from',
    {
      takes: 'application/json',
      query: { replace: '"yes": replaces the job of the same id', copy: '"yes": makes a second job beside it' },
    },
  ),
  removeJob: route<'removeJob'>()('delete', '/api/jobs/:jobId', 'lead', 'Removes a job with all that is in it', {
    query: { name: "the job's name, to be sure" },
  }),
  jobTimeline: route<'jobTimeline'>()('get', '/api/jobs/:jobId/events', 'reader', 'Who did what when, newest first'),
  jobStream: route<'jobStream'>()(
    'get',
    '/api/jobs/:jobId/stream',
    'reader',
    'What changes in a job, as it changes, each a piece of JSON',
    {
      gives: 'text/event-stream',
      query: {
        after: 'the last number that was heard of: what came since is told first',
        secondsAgo: 'in place of a number: how long ago the oldest thing was read that is shown',
      },
    },
  ),
  undoRemoval: route<'undoRemoval'>()(
    'post',
    '/api/removals/:removalId/undo',
    'installer',
    'Brings back what a removal took, as it was',
  ),
} as const;
