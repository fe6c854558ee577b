import { aimCardPath, routes, testsCsvPath } from '@kivram/contract';
import { runBench, type BenchRadio } from '@kivram/standin';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { BenchRunRow, CrewMemberRow, EventRow, LinkRow } from '../database/models';
import { testsCsv } from '../formats/testsCsv';
import { ApiProblem, notFound } from '../http/problem';
import { serve } from '../http/serve';
import { aimCard } from '../reports/aimCard';
import type { StandinWorlds } from '../radio/standinWorlds';
import { noteEvent } from '../services/events';
import { loadLink, tryPredict, viewLink, viewRadio } from '../services/links';
import { Plans } from '../services/plans';
import { Sheets } from '../services/sheets';
import { Tests } from '../services/tests';
import { viewEvents } from '../services/timeline';
import type { LinkEnd } from '@kivram/contract';

export function linkRoutes(sequelize: Sequelize, worlds: StandinWorlds): Router {
  const router = Router();
  const plans = new Plans(sequelize);
  const sheets = new Sheets(sequelize);
  const tests = new Tests(sequelize, worlds);
  const id = (params: Record<string, string>): string => params.linkId ?? '';

  serve(router, routes.createLink, async ({ params, body }) => viewLink(await plans.create(params.jobId ?? '', body)));
  serve(router, routes.getLink, ({ params }) => viewLink(id(params)));

  serve(router, routes.changePlan, async ({ params, body }) => {
    await plans.change(id(params), body);
    worlds.forget(id(params));
    return viewLink(id(params));
  });
  serve(router, routes.changeRadio, async ({ params, body }) => {
    const radio = await plans.changeRadio(params.radioId ?? '', body);
    worlds.forgetAll();
    return viewRadio(radio);
  });

  router.get(aimCardPath, async (request, response) => {
    const { linkId = '', end } = request.params as Record<string, string>;
    if (end !== 'near' && end !== 'far') throw notFound('end');
    const { prediction, predictionError } = tryPredict(await loadLink(linkId));
    if (!prediction) throw new ApiProblem(422, 'No geometry', predictionError ?? 'The link has no geometry.');
    const view = await viewLink(linkId);
    const units = request.query.units === 'imperial' ? 'imperial' : 'metric';
    const pdf = await aimCard(view, prediction, end, units, new Date().toISOString().slice(0, 10));
    response.attachment(`aim-card-${view.link.name.replace(/[^\w-]+/g, '-')}-${end}.pdf`).send(pdf);
  });

  serve(router, routes.proposeSheets, ({ params }) => sheets.propose(id(params)));
  serve(router, routes.saveSheets, async ({ params, body }) => {
    await sheets.save(id(params), body);
    return viewLink(id(params));
  });

  serve(router, routes.runBench, async ({ params, body }) => {
    const { row, near, far } = await loadLink(id(params));
    const run = runBench(benchRadio(near), benchRadio(far));
    await sequelize.transaction(async (transaction) => {
      await BenchRunRow.create(
        {
          linkId: row.id,
          nearRevision: near.sheet?.revision ?? 0,
          farRevision: far.sheet?.revision ?? 0,
          linked: run.linked,
        },
        { transaction },
      );
      const summary = run.linked
        ? 'Paired on the bench'
        : `Did not pair on the bench: ${run.events.at(-1)?.what ?? 'nothing was heard'}`;
      await noteEvent(
        {
          jobId: row.jobId,
          linkId: row.id,
          crewMemberId: body.crewMemberId,
          kind: 'bench',
          summary,
          detail: { events: run.events },
        },
        transaction,
      );
    });
    return run;
  });

  serve(router, routes.mount, async ({ params, body }) => {
    await plans.mount(id(params), body);
    return viewLink(id(params));
  });

  serve(router, routes.timeline, async ({ params }) => {
    const link = await LinkRow.findByPk(id(params));
    if (!link) throw notFound('link');
    const rows = await EventRow.findAll({
      where: { linkId: link.id },
      order: [
        ['at', 'DESC'],
        ['id', 'DESC'],
      ],
      limit: 500,
    });
    return viewEvents(rows, link.jobId);
  });

  serve(router, routes.importTest, ({ params, body }) => tests.importFile(id(params), body));
  serve(router, routes.standinTest, ({ params, body }) =>
    tests.runStandin(id(params), body.direction, body.crewMemberId),
  );
  serve(router, routes.handTest, ({ params, body }) => tests.noteByHand(id(params), body));

  router.get(testsCsvPath, async (request, response) => {
    const link = await viewLink(request.params.linkId ?? '');
    const crew = await CrewMemberRow.findAll({ where: { jobId: link.link.jobId } });
    response
      .attachment(`${link.link.name} tests.csv`)
      .type('text/csv')
      .send(testsCsv(link.tests, (memberId) => crew.find((m) => m.id === memberId)?.name ?? ''));
  });

  return router;
}

function benchRadio({ sheet, model, place, otherStations }: LinkEnd): BenchRadio {
  if (!sheet)
    throw new ApiProblem(409, 'No settings', 'Save the settings of both ends first; there is nothing to try yet.');
  return { label: place.name, model, sheet: sheet.sheet, otherStations };
}
