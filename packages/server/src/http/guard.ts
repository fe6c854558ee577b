import type { JobRole } from '@kivram/contract/entities/crewMember';
import { routes } from '@kivram/contract/routes';
import { changeIdHeader, tokenHeader, type Route } from '@kivram/contract/routes/route';
import { timingSafeEqual } from 'node:crypto';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import { QueryTypes, type Sequelize } from 'sequelize';
import { ApiProblem, notFound } from './apiProblem';
import { isUuid } from './serve';
import { sessionToken, type Sessions } from './session';
import { isHere, needRole, nobody, whoAsks } from './who';

/** Answered to the computer itself without knowing who asks, these tell about them or do more for some. */
const personal: object[] = [routes.getSession, routes.exportJob, routes.people];

/**
 * Stands before every route of the table and lets in whom its access names. What is not in the table is answered to nobody, so that no route can be forgotten here.
 */
export function guard(sequelize: Sequelize, sessions: Sessions): Router {
  const router = Router();
  for (const route of Object.values(routes) as Route<unknown, unknown>[]) {
    router[route.method](route.path, guardOf(route, sequelize, sessions));
  }
  return router;
}

function guardOf(route: Route<unknown, unknown>, sequelize: Sequelize, sessions: Sessions): RequestHandler {
  const { access, method } = route;
  const changes = method !== 'get';
  const withSession = changes || personal.includes(route);
  return async (request, response, next) => {
    const here = isHere(request);
    request.who = nobody(here);
    if (here && !withSession) return next();
    if (!here && access === 'here')
      throw new ApiProblem(403, 'Only there', 'This is done at the computer that Kivram runs on.');
    await readSession(sessions, request, response);
    request.who = await whoAsks(request);
    if (!here) {
      if (access !== 'anyone') {
        if (!request.who.personId)
          throw new ApiProblem(401, 'Sign in', 'Sign in first: scan an invitation, or give your name and password.');
        await sessions.used(request);
        if (changes) needToken(request);
      }
      if (access === 'worker') needWork(request);
    }
    if (access === 'reader' || access === 'installer' || access === 'lead') {
      await needPart(sequelize, request, access, here);
    }
    if (!here && route.gives === 'text/event-stream') endWithSession(sessions, request, response);
    next();
  };
}

/** How often it is looked whether whoever watches a stream still may, ms. */
const lookMs = 5000;

/** A stream is asked for once and lasts: it ends when the session does, or when somebody has left the job. */
function endWithSession({ pool }: Sessions, request: Request, response: Response): void {
  const { sessionID } = request;
  const memberIds = [...request.who.members.values()].map(({ id }) => id);
  const looking = setInterval(() => {
    pool
      .query(
        `SELECT 1 FROM session WHERE sid = $1 AND expire > now()
           AND $3 = (SELECT count(*) FROM crew_member WHERE id = ANY ($2) AND left_at IS NULL)`,
        [sessionID, memberIds, memberIds.length],
      )
      .then(({ rowCount }) => {
        if (!rowCount) response.destroy();
      })
      // A database that is away for a moment ends nothing.
      .catch(() => undefined);
  }, lookMs);
  response.once('close', () => clearInterval(looking));
}

function readSession({ handler }: Sessions, request: Request, response: Response): Promise<void> {
  return new Promise((resolve, reject) => {
    void handler(request, response, (error?: unknown) => (error ? reject(error as Error) : resolve()));
  });
}

/** A change that another site makes a browser send has the cookie, but not what the page knows. */
function needToken(request: Request): void {
  const [known, given] = [Buffer.from(sessionToken(request)), Buffer.from(request.get(tokenHeader) ?? '')];
  if (given.length === known.length && timingSafeEqual(known, given)) return;
  throw new ApiProblem(
    403,
    'Not from the page',
    'This change did not come from the page that you signed in on. Load it again.',
  );
}

function needWork({ who }: Request): void {
  if ([...who.members.values()].some(({ role }) => role !== 'reader')) return;
  throw new ApiProblem(403, 'Not your part', 'This is for those who lead or work on a job; you only read.');
}

async function needPart(sequelize: Sequelize, request: Request, role: JobRole, here: boolean): Promise<void> {
  if (here && role === 'reader') return;
  const jobId = await jobMeant(sequelize, request);
  if (jobId) return needRole(request.who, jobId, role);
  // At the computer itself the route says what it misses; over the network nobody gets that far with what is in no job of theirs.
  if (!here) throw notFound('entry');
}

/** How a parameter of a path leads to the job that it belongs to. */
const jobBy: Record<string, string> = {
  jobId: 'SELECT id AS "jobId" FROM job WHERE id = :id',
  linkId: 'SELECT job_id AS "jobId" FROM link WHERE id = :id',
  placeId: 'SELECT job_id AS "jobId" FROM place WHERE id = :id',
  cableId: 'SELECT job_id AS "jobId" FROM cable WHERE id = :id',
  alternativeId:
    'SELECT link.job_id AS "jobId" FROM alternative JOIN link ON link.id = alternative.link_id WHERE alternative.id = :id',
  localRuleId: 'SELECT job_id AS "jobId" FROM local_rule WHERE id = :id',
  licenceId: 'SELECT job_id AS "jobId" FROM licence WHERE id = :id',
  obstacleId: 'SELECT job_id AS "jobId" FROM obstacle WHERE id = :id',
  radioId: 'SELECT job_id AS "jobId" FROM radio WHERE id = :id',
  alignmentId: 'SELECT l.job_id AS "jobId" FROM alignment a JOIN link l ON l.id = a.link_id WHERE a.id = :id',
  removalId: 'SELECT job_id AS "jobId" FROM removal WHERE id = :id',
  memberId: 'SELECT job_id AS "jobId" FROM crew_member WHERE id = :id',
  visitId: 'SELECT job_id AS "jobId" FROM visit WHERE id = :id',
  photoId: 'SELECT job_id AS "jobId" FROM photo WHERE id = :id',
  changeId: 'SELECT job_id AS "jobId" FROM change WHERE id = :id',
};

/** The job that a request is about; of something that is gone, the job in which this same change was made before. */
async function jobMeant(sequelize: Sequelize, request: Request): Promise<string | null> {
  const params = { ...request.params, changeId: request.get(changeIdHeader) } as Record<string, string | undefined>;
  for (const [name, sql] of Object.entries(jobBy)) {
    const id = params[name];
    if (!id || !isUuid(id)) continue;
    const [row] = await sequelize.query<{ jobId: string | null }>(sql, {
      type: QueryTypes.SELECT,
      replacements: { id },
    });
    if (row?.jobId) return row.jobId;
  }
  return null;
}
