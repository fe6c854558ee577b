import type { LicenceFields, LocalRuleFields } from '../entities/law';
import type { LicenceBody, LocalRuleBody } from '../requests/law';
import { route } from './route';

const version = { version: 'the version that was looked at' };

/** What the law allows in a job: the country's rules, and what was noted on top of them. */
export const lawRoutes = {
  listRuleSets: route<'listRuleSets'>()('get', '/api/rule-sets', 'signedIn', 'Rules by country, in force today'),
  ruleSet: route<'ruleSet'>()('get', '/api/rule-sets/:country', 'signedIn', 'The rules of one country', {
    words: { country: 'any' },
  }),
  jobLaw: route<'jobLaw'>()('get', '/api/jobs/:jobId/law', 'reader', 'What a job may send, and by what right'),
  createLocalRule: route<'createLocalRule'>()<LocalRuleFields>(
    'post',
    '/api/jobs/:jobId/local-rules',
    'lead',
    "Notes a rule that stands in for the country's in this job, with its reason",
  ),
  changeLocalRule: route<'changeLocalRule'>()<LocalRuleBody>(
    'put',
    '/api/local-rules/:localRuleId',
    'lead',
    'Changes a local rule',
  ),
  removeLocalRule: route<'removeLocalRule'>()(
    'delete',
    '/api/local-rules/:localRuleId',
    'lead',
    "Takes a local rule away: the country's hold again",
    { query: version },
  ),
  createLicence: route<'createLicence'>()<LicenceFields>(
    'post',
    '/api/jobs/:jobId/licences',
    'installer',
    'Notes a licence for a pair of frequencies',
  ),
  changeLicence: route<'changeLicence'>()<LicenceBody>(
    'put',
    '/api/licences/:licenceId',
    'installer',
    'Changes a licence',
  ),
  removeLicence: route<'removeLicence'>()('delete', '/api/licences/:licenceId', 'installer', 'Takes a licence away', {
    query: version,
  }),
} as const;
