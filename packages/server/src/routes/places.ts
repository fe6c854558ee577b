import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { JobRow } from '../database/models/job';
import { PlaceRow } from '../database/models/place';
import { writeGeoJson, writeKml, type MapExport } from '../formats/places/write';
import { notFound } from '../http/apiProblem';
import { serve, serveRaw, versionOf } from '../http/serve';
import type { Intake } from '../intake/intake';
import type { StandinWorlds } from '../radio/standinWorlds';
import { summaryOf } from '../services/jobLinks';
import type { LinkMemos } from '../services/linkMemos';
import { Cables } from '../services/cables';
import { Needs } from '../services/needs';
import { nameOf, Obstacles, viewObstacle } from '../services/obstacles';
import { Places } from '../services/places';
import { Removals } from '../services/removals';
import { viewPlace } from '../services/rowViews';

interface MapFormat {
  type: string;
  write(map: MapExport): string;
}

const exports: Record<string, MapFormat> = {
  geojson: { type: 'application/geo+json', write: writeGeoJson },
  kml: { type: 'application/vnd.google-earth.kml+xml', write: writeKml },
};

export function placeRoutes(sequelize: Sequelize, worlds: StandinWorlds, memos: LinkMemos, intake: Intake): Router {
  const router = Router();
  const places = new Places(sequelize, intake);
  const obstacles = new Obstacles(sequelize);
  const needs = new Needs(sequelize, memos);
  const cables = new Cables(sequelize);
  const removals = new Removals(sequelize);

  serve(router, routes.createPlace, async ({ params, body, author }) =>
    viewPlace(await places.create(params.jobId ?? '', body, author)),
  );
  serve(router, routes.changePlace, async ({ params, body, author }) => {
    const place = await places.change(params.placeId ?? '', body, author);
    worlds.forgetAll();
    return viewPlace(place);
  });
  serve(router, routes.removePlace, async ({ params, query, author }) => {
    await removals.removePlace(params.placeId ?? '', versionOf(query), query.with === 'links', author);
    worlds.forgetAll();
    return { removed: true };
  });
  serve(router, routes.placeRemoval, ({ params }) => removals.ofPlace(params.placeId ?? ''));
  serve(router, routes.undoRemoval, async ({ params, author }) => {
    await removals.undo(params.removalId ?? '', author);
    worlds.forgetAll();
    return { back: true };
  });
  serve(router, routes.importPlaces, ({ params, body, author }) => places.import(params.jobId ?? '', body, author));

  serve(router, routes.takeGround, async ({ params, author }) => {
    const taken = await places.takeGround(params.jobId ?? '', author);
    worlds.forgetAll();
    return taken;
  });

  serve(router, routes.needs, ({ params }) => needs.view(params.jobId ?? ''));
  serve(router, routes.saveNeed, ({ params, body, author }) => needs.save(params.placeId ?? '', body, author));
  serve(router, routes.createCable, async ({ params, body, author }) => {
    await cables.create(params.jobId ?? '', body, author);
    return needs.view(params.jobId ?? '');
  });
  serve(router, routes.removeCable, async ({ params, query, author }) => {
    await cables.remove(params.cableId ?? '', versionOf(query), author);
    return { removed: true };
  });
  serve(router, routes.planNeeds, ({ params, body, author }) => needs.plan(params.jobId ?? '', body, author));
  serve(router, routes.createObstacle, async ({ params, body, author }) =>
    viewObstacle(await obstacles.create(params.jobId ?? '', body, author)),
  );
  serve(router, routes.changeObstacle, async ({ params, body, author }) =>
    viewObstacle(await obstacles.change(params.obstacleId ?? '', body, author)),
  );
  serve(router, routes.removeObstacle, async ({ params, query, author }) => {
    await removals.removeObstacle(params.obstacleId ?? '', versionOf(query), nameOf, author);
    return { removed: true };
  });

  serveRaw(router, routes.exportPlaces, async ({ params, response }) => {
    const { jobId = '', format = '' } = params;
    const kind = exports[format] as MapFormat;
    const job = await JobRow.findByPk(jobId);
    if (!job) throw notFound('job');
    const rows = await PlaceRow.findAll({ where: { jobId }, order: [['name', 'ASC']] });
    const map = {
      name: job.name,
      places: rows.map(viewPlace),
      links: (await memos.lines(jobId)).map(summaryOf),
    };
    response
      .attachment(`${job.name.replace(/[^\w-]+/g, '-')}.${format}`)
      .type(kind.type)
      .send(kind.write(map));
  });

  return router;
}
