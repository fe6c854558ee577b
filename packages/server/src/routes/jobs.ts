import { jobFileLimits } from '@kivram/contract/jobDocument/limits';
import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import { QueryTypes, type Sequelize } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { EventRow } from '../database/models/event';
import { JobRow } from '../database/models/job';
import { PlaceRow } from '../database/models/place';
import { addressOf } from '../database/connection';
import { exportJob } from '../formats/jobDocument/export';
import { notFound } from '../http/apiProblem';
import { writePieces } from '../http/pieces';
import { isUuid, serve, serveRaw } from '../http/serve';
import { jobsLedBy, jobsSeenBy, needRole } from '../http/who';
import type { Uploads } from '../http/uploads';
import type { Intake } from '../intake/intake';
import type { StandinWorlds } from '../radio/standinWorlds';
import { jobLinks, mapLinkOf } from '../services/jobLinks';
import { find } from '../services/find';
import { Jobs } from '../services/jobs';
import { radiosOf } from '../services/airs';
import type { LinkMemos } from '../services/linkMemos';
import { Networks, networkOf } from '../services/networks';
import { groundsAtZero } from '../services/ground';
import { obstaclesOf } from '../services/obstacles';
import { viewJob, viewPlace } from '../services/rowViews';
import { personBy, viewMember } from '../services/people';
import { viewEvents } from '../services/timeline';
import { workAs } from './session';

/** What a file of a job is called: as the job, without what some system takes amiss in a name. */
const fileNameOf = (name: string): string => name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'job';

/** Links that a list shows unless another number is asked for, and at most. */
const usualPage = 50;
const longestPage = 500;

/** Whoever looks for more than that does not look. */
const longestText = 80;

export function jobRoutes(
  sequelize: Sequelize,
  worlds: StandinWorlds,
  memos: LinkMemos,
  intake: Intake,
  uploads: Uploads,
): Router {
  const router = Router();
  const jobs = new Jobs(sequelize);
  const networks = new Networks(sequelize);
  const id = (params: Record<string, string>): string => params.jobId ?? '';

  serve(router, routes.listJobs, async ({ who }) => {
    const seen = jobsSeenBy(who);
    const rows = await JobRow.findAll({ where: seen ? { id: seen } : {}, order: [['name', 'ASC']] });
    const counts = await sequelize.query<{ jobId: string; links: number }>(
      'SELECT job_id AS "jobId", count(*)::integer AS links FROM link GROUP BY job_id',
      { type: QueryTypes.SELECT },
    );
    const links = new Map(counts.map((c) => [c.jobId, c.links]));
    return rows.map((job) => ({ ...viewJob(job), links: links.get(job.id) ?? 0 }));
  });

  serve(router, routes.find, ({ query, who }) => {
    const job = query.job ?? '';
    return find(sequelize, (query.text ?? '').slice(0, longestText), isUuid(job) ? job : null, jobsSeenBy(who));
  });
  serve(router, routes.getJob, async ({ params }) => {
    const jobId = id(params);
    const job = await JobRow.findByPk(jobId);
    if (!job) throw notFound('job');
    const [crew, site] = await Promise.all([
      CrewMemberRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
      networkOf(jobId),
    ]);
    return {
      job: viewJob(job),
      crew: crew.map(viewMember),
      ...site,
    };
  });

  serve(router, routes.jobLinks, ({ params, query }) => {
    const whole = (text: string | undefined, usual: number, most: number): number => {
      const value = Number(text ?? usual);
      return Number.isInteger(value) && value >= 0 ? Math.min(value, most) : usual;
    };
    return jobLinks(memos, id(params), {
      offset: whole(query.offset, 0, 1e9),
      limit: whole(query.limit, usualPage, longestPage),
      find: query.find ?? '',
    });
  });

  serve(router, routes.jobMap, async ({ params }) => {
    const jobId = id(params);
    const [places, obstacles, lines, radios] = await Promise.all([
      PlaceRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
      obstaclesOf(jobId),
      memos.lines(jobId),
      radiosOf(jobId),
    ]);
    const atZero = [...(await groundsAtZero(places)).keys()];
    return { places: places.map(viewPlace), atZero, obstacles, links: lines.map(mapLinkOf), radios };
  });

  // JSON, and yet a file: it is written as it comes out of the database.
  serveRaw(router, routes.exportJob, async ({ params, query, author, who, response }) => {
    if (query.secrets === 'include') {
      needRole(who, id(params), 'lead');
      await jobs.noteSecretsTaken(id(params), author);
    }
    const pieces = exportJob(sequelize, id(params), query.secrets === 'include');
    const { name } = await JobRow.findByPk(id(params), { attributes: ['name'], rejectOnEmpty: notFound('job') });
    await writePieces(pieces, response, `${fileNameOf(name)}.json`);
  });
  serve(router, routes.importJob, async ({ request, query, who }) => {
    const choice = query.replace === 'yes' ? 'replace' : query.copy === 'yes' ? 'copy' : 'refuse';
    const result = await uploads.receive(request, jobFileLimits.megabytes, ({ path }, signal) =>
      intake.run(
        'job',
        {
          databaseUrl: addressOf(sequelize),
          path,
          choice,
          asks: { personId: who.personId, mayReplace: jobsLedBy(who) },
        },
        { signal },
      ),
    );
    worlds.forgetAll();
    memos.refresh(result.jobId);
    return result;
  });
  serve(router, routes.createJob, async ({ body, author, who, request }) => {
    if (body.copyOf && !who.isHere) needRole(who, body.copyOf, 'reader');
    const member = await jobs.create(body, author, who.personId ? await personBy(who.personId) : null);
    if (who.isHere) await workAs(request, member);
    memos.refresh(member.jobId);
    return viewJob(await JobRow.findByPk(member.jobId, { rejectOnEmpty: true }));
  });
  serve(router, routes.changeJob, async ({ params, body, author }) => {
    const job = await jobs.change(id(params), body, author);
    worlds.forgetAll();
    return viewJob(job);
  });
  serve(router, routes.removeJob, async ({ params, query, author }) => {
    await jobs.remove(id(params), query.name, author);
    worlds.forgetAll();
    return { removed: true as const };
  });
  serve(router, routes.saveNetwork, ({ params, body, author }) => networks.save(id(params), body, author));

  serve(router, routes.jobTimeline, async ({ params }) => {
    const rows = await EventRow.findAll({
      where: { jobId: id(params) },
      order: [
        ['at', 'DESC'],
        ['id', 'DESC'],
      ],
      limit: 200,
    });
    return viewEvents(rows, id(params));
  });

  return router;
}
