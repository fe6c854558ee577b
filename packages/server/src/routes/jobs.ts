import { routes } from '@kivram/contract';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import {
  CrewMemberRow,
  EventRow,
  GearModelRow,
  JobRow,
  KnownDeviceRow,
  LinkRow,
  NetworkRow,
  PlaceRow,
} from '../database/models';
import { exportJob, importJob } from '../formats/jobDocument';
import { notFound } from '../http/problem';
import { serve } from '../http/serve';
import type { StandinWorlds } from '../radio/standinWorlds';
import { summariseLinks, viewPlace } from '../services/links';
import { obstaclesOf } from '../services/obstacles';
import { viewEvents } from '../services/timeline';

export function jobRoutes(sequelize: Sequelize, worlds: StandinWorlds): Router {
  const router = Router();

  serve(router, routes.listJobs, async () => {
    const jobs = await JobRow.findAll({ order: [['name', 'ASC']] });
    return Promise.all(
      jobs.map(async (job) => ({ ...viewJob(job), links: await LinkRow.count({ where: { jobId: job.id } }) })),
    );
  });

  serve(router, routes.getJob, async ({ params }) => {
    const jobId = params.jobId ?? '';
    const job = await JobRow.findByPk(jobId);
    if (!job) throw notFound('job');
    const [crew, places, network, links] = await Promise.all([
      CrewMemberRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
      PlaceRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
      NetworkRow.findOne({ where: { jobId } }),
      summariseLinks(jobId),
    ]);
    const devices = network
      ? await KnownDeviceRow.findAll({ where: { networkId: network.id }, order: [['address', 'ASC']] })
      : [];
    return {
      job: viewJob(job),
      crew: crew.map(({ id, name }) => ({ id, name })),
      places: places.map(viewPlace),
      obstacles: await obstaclesOf(jobId),
      network: network && viewNetwork(network),
      devices: devices.map(({ id, name, address }) => ({ id, name, address })),
      links,
    };
  });

  serve(router, routes.exportJob, ({ params, query, response }) => {
    response.attachment(`kivram-job-${params.jobId}.json`);
    return exportJob(params.jobId ?? '', query.secrets === 'include');
  });

  serve(router, routes.importJob, async ({ request, query }) => {
    const result = await importJob(sequelize, request.body, query.replace === 'yes');
    worlds.forgetAll();
    return result;
  });

  serve(router, routes.jobTimeline, async ({ params }) => {
    const jobId = params.jobId ?? '';
    return viewEvents(
      await EventRow.findAll({
        where: { jobId },
        order: [
          ['at', 'DESC'],
          ['id', 'DESC'],
        ],
        limit: 200,
      }),
      jobId,
    );
  });

  serve(router, routes.listModels, async () => {
    const models = await GearModelRow.findAll({ order: [['id', 'ASC']] });
    return models.map((m) => m.spec);
  });

  return router;
}

function viewJob({ id, name, customer, country, version }: JobRow) {
  return { id, name, customer, country, version };
}

function viewNetwork({ id, subnetAddress, prefix, gateway, dhcpFirst, dhcpLast, feedMbps, version }: NetworkRow) {
  return { id, subnetAddress, prefix, gateway, dhcpFirst, dhcpLast, feedMbps, version };
}
