import { routes } from '@kivram/contract/routes';
import type { End } from '@kivram/core/budget/plan';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { EventRow } from '../database/models/event';
import { LinkRow } from '../database/models/link';
import { testsCsv } from '../formats/testsCsv';
import { ApiProblem, notFound } from '../http/apiProblem';
import { serve, serveRaw, versionOf } from '../http/serve';
import type { Intake } from '../intake/intake';
import { cardDefinition } from '../reports/aimCard';
import type { StandinWorlds } from '../radio/standinWorlds';
import { Benches } from '../services/benches';
import { loadLink, predictionOf } from '../services/linkRecords';
import { viewAir, viewLink } from '../services/linkViews';
import { Logins } from '../services/logins';
import { NewLinks } from '../services/newLinks';
import { Alternatives } from '../services/alternatives';
import { Plans } from '../services/plans';
import { Removals } from '../services/removals';
import { viewRadio } from '../services/rowViews';
import { Sheets } from '../services/sheets';
import { Tests } from '../services/tests';
import { viewEvents } from '../services/timeline';

export function linkRoutes(sequelize: Sequelize, worlds: StandinWorlds, intake: Intake): Router {
  const router = Router();
  const newLinks = new NewLinks(sequelize);
  const plans = new Plans(sequelize);
  const alternatives = new Alternatives(sequelize);
  const sheets = new Sheets(sequelize);
  const logins = new Logins(sequelize);
  const removals = new Removals(sequelize);
  const benches = new Benches(sequelize);
  const tests = new Tests(sequelize, worlds);
  const id = (params: Record<string, string>): string => params.linkId ?? '';

  serve(router, routes.createLink, async ({ params, body, author }) => {
    const [linkId = ''] = await newLinks.create(params.jobId ?? '', [body], author);
    worlds.forgetAll();
    return viewLink(linkId);
  });
  serve(router, routes.createLinks, async ({ params, body, author }) => {
    const linkIds = await newLinks.create(params.jobId ?? '', body.links, author);
    worlds.forgetAll();
    return { linkIds };
  });
  serve(router, routes.getLink, ({ params }) => viewLink(id(params)));
  serve(router, routes.getAir, ({ params }) => viewAir(id(params)));

  serve(router, routes.linkRemoval, ({ params }) => removals.ofLink(id(params)));
  serve(router, routes.removeLink, async ({ params, query, author }) => {
    await removals.removeLink(id(params), versionOf(query), author);
    worlds.forgetAll();
    return { removed: true };
  });
  serve(router, routes.swapEnds, async ({ params, body, author }) => {
    await plans.swapEnds(id(params), body.version, author);
    worlds.forgetAll();
    return viewLink(id(params));
  });

  serve(router, routes.changePlan, async ({ params, body, author }) => {
    await plans.change(id(params), body, author);
    worlds.forgetAll();
    return viewLink(id(params));
  });
  serve(router, routes.keepAlternative, async ({ params, body, author }) => {
    await alternatives.keep(id(params), body, author);
    return viewLink(id(params));
  });
  serve(router, routes.removeAlternative, async ({ params, query, author }) => {
    await alternatives.remove(params.alternativeId ?? '', versionOf(query), author);
    return { removed: true };
  });
  serve(router, routes.changeRadio, async ({ params, body, author }) => {
    const radio = await plans.changeRadio(params.radioId ?? '', body, author);
    worlds.forgetAll();
    return viewRadio(radio);
  });

  serveRaw(router, routes.aimCard, async ({ params, query, response }) => {
    const linkId = id(params);
    const end = params.end as End;
    const { prediction, predictionError } = predictionOf(await loadLink(linkId));
    if (!prediction) throw new ApiProblem(422, 'No geometry', predictionError ?? 'The link has no geometry.');
    const view = await viewLink(linkId);
    const units = query.units === 'imperial' ? 'imperial' : 'metric';
    const definition = cardDefinition(view, prediction, end, units, new Date().toISOString().slice(0, 10));
    const pdf = Buffer.from(await intake.run('pdf', { definition }));
    response.attachment(`aim-card-${view.link.name.replace(/[^\w-]+/g, '-')}-${end}.pdf`).send(pdf);
  });

  serve(router, routes.proposeSheets, ({ params }) => sheets.propose(id(params)));
  serve(router, routes.saveSheets, async ({ params, body, author }) => {
    await sheets.save(id(params), body, author);
    worlds.forgetAll();
    return viewLink(id(params));
  });

  serve(router, routes.revealPassphrases, ({ params, author }) => sheets.reveal(id(params), author));

  serve(router, routes.saveLogin, ({ params, body, author }) => logins.save(params.radioId ?? '', body, author));

  serve(router, routes.runBench, ({ params, author }) => benches.tryStandin(id(params), author));
  serve(router, routes.tellPairing, async ({ params, body, author }) => {
    await benches.tell(id(params), body.linked, author);
    return viewLink(id(params));
  });

  serve(router, routes.mount, async ({ params, body, author }) => {
    await plans.mount(id(params), body, author);
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

  serve(router, routes.importTest, async ({ params, body, author }) => {
    const { text, clientAt } = body;
    return tests.importFile(id(params), body, await intake.run('test', { text, clientAt }), author);
  });
  serve(router, routes.standinTest, ({ params, body, author }) => tests.runStandin(id(params), body.direction, author));
  serve(router, routes.handTest, ({ params, body, author }) => tests.noteByHand(id(params), body, author));

  serveRaw(router, routes.testsCsv, async ({ params, response }) => {
    const link = await viewLink(id(params));
    const crew = await CrewMemberRow.findAll({ where: { jobId: link.link.jobId } });
    response
      .attachment(`${link.link.name} tests.csv`)
      .type('text/csv')
      .send(testsCsv(link.tests, (memberId) => crew.find((m) => m.id === memberId)?.name ?? ''));
  });

  return router;
}
