import { routes } from '@kivram/contract';
import { Router } from 'express';
import { QueryTypes, type Sequelize } from 'sequelize';
import { CrewMemberRow, EventRow, JobRow, KnownDeviceRow, NetworkRow, PlaceRow } from '../database/models';
import { exportJob, importJob } from '../formats/jobDocument';
import { notFound } from '../http/problem';
import { serve } from '../http/serve';
import type { StandinWorlds } from '../radio/standinWorlds';
import { newestModels } from '../services/gear';
import { jobLinks, mapLinkOf } from '../services/jobLinks';
import { lawInForce } from '../services/law';
import type { LinkMemos } from '../services/linkMemos';
import { obstaclesOf } from '../services/obstacles';
import { viewJob, viewNetwork, viewPlace } from '../services/rowViews';
import { viewEvents } from '../services/timeline';

/** Links that a list shows unless another number is asked for, and at most. */
const usualPage = 50;
const longestPage = 500;

export function jobRoutes(sequelize: Sequelize, worlds: StandinWorlds, memos: LinkMemos): Router {
  const router = Router();
  const id = (params: Record<string, string>): string => params.jobId ?? '';

  serve(router, routes.listJobs, async () => {
    const jobs = await JobRow.findAll({ order: [['name', 'ASC']] });
    const counts = await sequelize.query<{ jobId: string; links: number }>(
      'SELECT job_id AS "jobId", count(*)::integer AS links FROM link GROUP BY job_id',
      { type: QueryTypes.SELECT },
    );
    const links = new Map(counts.map((c) => [c.jobId, c.links]));
    return jobs.map((job) => ({ ...viewJob(job), links: links.get(job.id) ?? 0 }));
  });

  serve(router, routes.getJob, async ({ params }) => {
    const jobId = id(params);
    const job = await JobRow.findByPk(jobId);
    if (!job) throw notFound('job');
    const [crew, network] = await Promise.all([
      CrewMemberRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
      NetworkRow.findOne({ where: { jobId } }),
    ]);
    const devices = network
      ? await KnownDeviceRow.findAll({ where: { networkId: network.id }, order: [['address', 'ASC']] })
      : [];
    return {
      job: viewJob(job),
      crew: crew.map(({ id: memberId, name }) => ({ id: memberId, name })),
      network: network && viewNetwork(network),
      devices: devices.map(({ id: deviceId, name, address }) => ({ id: deviceId, name, address })),
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
    const [places, obstacles, lines] = await Promise.all([
      PlaceRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
      obstaclesOf(jobId),
      memos.lines(jobId),
    ]);
    return { places: places.map(viewPlace), obstacles, links: lines.map(mapLinkOf) };
  });

  serve(router, routes.exportJob, ({ params, query, response }) => {
    response.attachment(`kivram-job-${id(params)}.json`);
    return exportJob(id(params), query.secrets === 'include');
  });

  serve(router, routes.importJob, async ({ request, query }) => {
    const result = await importJob(sequelize, request.body, query.replace === 'yes');
    worlds.forgetAll();
    memos.refresh(result.jobId);
    return result;
  });

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

  serve(router, routes.listModels, async () => (await newestModels()).map((m) => m.spec));
  serve(router, routes.listRuleSets, () => lawInForce());

  return router;
}
