import { randomUUID } from 'node:crypto';
import { psql } from './database.mjs';
import { operationsOf, requestFor } from './fuzz.mjs';
import { Phone } from './phone.mjs';
import { Random } from './random.mjs';
import { passphrasesOf } from './secrets.mjs';
import { idsOf } from './server.mjs';

/** Stands in every name and note of the job that is not the attacker's. */
const mark = 'zqx';

/**
 * Somebody leads a job of their own, and tries every route with the identifiers of another job wherever one can stand: in the path, after the question mark, in the body, as the id of a change.
 * They must learn nothing of it and change nothing in it. Routes and bodies come from the OpenAPI document, so that none is forgotten.
 * @param {{ here: import('./server.mjs').Client, lan: string, databaseUrl: string, rounds: number, seed: number }} options rounds: how often each route is tried in each way
 */
export async function strangers({ here, lan, databaseUrl, rounds, seed }) {
  const { job } = await here.begin();
  const theirs = await idsOf(here);
  // A job like theirs, of which the attacker has all kinds of things.
  const file = (await here.ask(`/api/jobs/${job.id}/export`)).body;
  const ownJob = (await here.ask('/api/jobs/import?copy=yes', file, 'POST')).body.jobId;
  psql(databaseUrl, marking(job.id));
  const secrets = await passphrasesOf(here, theirs.linkId ?? []);
  const before = await contentOf(here, job.id);

  const lead = (await here.ask(`/api/jobs/${ownJob}`)).body.crew.find((/** @type {any} */ m) => m.role === 'lead');
  await here.ask('/api/session', { crewMemberId: lead.id }, 'PUT');
  const phone = await Phone.invited(here, lan, ownJob, 'The stranger', 'lead');

  const changeIds = psql(databaseUrl, `SELECT id FROM change WHERE job_id = '${job.id}' OR job_id IS NULL LIMIT 300`);
  const own = ownIds(databaseUrl, ownJob);
  const document = /** @type {any} */ (await (await fetch(`${here.address}/api/openapi.json`)).json());
  // Whoever signs out, or takes away what they attack with, asks nothing after that.
  const without = ['signOut', 'removeJob', 'acceptInvitation', 'signIn', 'endSession', 'changePerson'];
  const operations = operationsOf(document).filter(({ name }) => !without.includes(name));
  const random = new Random(seed);
  /** @type {string[]} */
  const faults = [];
  let sent = 0;
  for (const operation of operations) {
    const hasId =
      operation.path.includes('{') && !/modelId|fileId|profileId|sessionId|uploadId|country/.test(operation.path);
    for (let round = 0; round < rounds; round++) {
      for (const [way, inPath] of /** @type {const} */ ([
        ['their identifiers in its path', theirs],
        ['their identifiers in its body', own],
        ['the id of a change of theirs', own],
      ])) {
        if (inPath === theirs && !hasId) continue;
        const made = requestFor(operation, document.components.schemas, random, theirs, inPath);
        const headers = {
          'content-type': made.media,
          'idempotency-key': way.startsWith('the id') ? random.of(changeIds) : randomUUID(),
        };
        const { status, text } = await phone.ask(made.method, made.path, made.text, headers);
        sent++;
        const words = `${operation.name} with ${way}: ${made.method} ${made.path} ${made.text?.slice(0, 200) ?? ''}`;
        if (status >= 500) faults.push(`${status}: ${words}`);
        if (inPath === theirs && status < 400) faults.push(`is answered by ${status}: ${words}`);
        const told = [mark, ...secrets].find((word) => text.includes(word));
        if (told !== undefined) faults.push(`tells "${told}": ${words}`);
      }
    }
  }
  // The one at the computer leads their own job again, and finds it as it was.
  await here.begin();
  if ((await contentOf(here, job.id)) !== before) faults.push('their job is not what it was');
  return { routes: operations.length, sent, faults };
}

/** All of a job but when it was written down. @param {import('./server.mjs').Client} here @param {string} jobId */
async function contentOf(here, jobId) {
  const answer = await fetch(`${here.address}/api/jobs/${jobId}/export`, { headers: { cookie: here.cookie } });
  return (await answer.text()).replace(/"exportedAt":"[^"]*"/, '');
}

/** @param {string} jobId */
const marking = (jobId) => `
  UPDATE place SET name = '${mark} ' || name WHERE job_id = '${jobId}';
  UPDATE link SET name = '${mark} ' || name WHERE job_id = '${jobId}';
  UPDATE obstacle SET name = '${mark} ' || name WHERE job_id = '${jobId}';
  UPDATE crew_member SET name = '${mark} ' || name WHERE job_id = '${jobId}';
  UPDATE visit SET purpose = '${mark} ' || purpose WHERE job_id = '${jobId}';
  UPDATE event SET summary = '${mark} ' || summary WHERE job_id = '${jobId}';
  UPDATE change SET result = '{"name": "${mark}"}' WHERE job_id = '${jobId}' AND result IS NOT NULL;
  UPDATE job SET name = '${mark} ' || name, customer = '${mark}' WHERE id = '${jobId}';`;

/** Identifiers of everything in a job, by the name of the parameter that stands for them. @param {string} databaseUrl @param {string} jobId @returns {Record<string, string[]>} */
function ownIds(databaseUrl, jobId) {
  const of = (/** @type {string} */ table, where = `job_id = '${jobId}'`) =>
    psql(databaseUrl, `SELECT id FROM ${table} WHERE ${where} LIMIT 20`);
  const links = `link_id IN (SELECT id FROM link WHERE job_id = '${jobId}')`;
  return {
    jobId: [jobId],
    linkId: of('link'),
    placeId: of('place'),
    radioId: of('radio'),
    obstacleId: of('obstacle'),
    visitId: of('visit'),
    photoId: of('photo'),
    memberId: of('crew_member'),
    cableId: of('cable'),
    removalId: of('removal'),
    localRuleId: of('local_rule'),
    licenceId: of('licence'),
    alignmentId: of('alignment', links),
    alternativeId: of('alternative', links),
  };
}
