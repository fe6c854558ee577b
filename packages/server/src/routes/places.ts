import { placesExportPath, routes } from '@kivram/contract';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { JobRow, PlaceRow } from '../database/models';
import { writeGeoJson, writeKml, type MapExport } from '../formats/places';
import { ApiProblem, notFound } from '../http/problem';
import { serve } from '../http/serve';
import type { StandinWorlds } from '../radio/standinWorlds';
import { summaryOf } from '../services/jobLinks';
import type { LinkMemos } from '../services/linkMemos';
import { Obstacles, viewObstacle } from '../services/obstacles';
import { Places } from '../services/places';
import { viewPlace } from '../services/rowViews';

const exports: Record<string, { type: string; write(map: MapExport): string }> = {
  geojson: { type: 'application/geo+json', write: writeGeoJson },
  kml: { type: 'application/vnd.google-earth.kml+xml', write: writeKml },
};

export function placeRoutes(sequelize: Sequelize, worlds: StandinWorlds, memos: LinkMemos): Router {
  const router = Router();
  const places = new Places(sequelize);
  const obstacles = new Obstacles(sequelize);

  serve(router, routes.createPlace, async ({ params, body, author }) =>
    viewPlace(await places.create(params.jobId ?? '', body, author)),
  );
  serve(router, routes.changePlace, async ({ params, body, author }) => {
    const place = await places.change(params.placeId ?? '', body, author);
    worlds.forgetAll();
    return viewPlace(place);
  });
  serve(router, routes.removePlace, async ({ params, author }) => {
    await places.remove(params.placeId ?? '', author);
    return { removed: true };
  });
  serve(router, routes.importPlaces, ({ params, body, author }) => places.import(params.jobId ?? '', body, author));

  serve(router, routes.createObstacle, async ({ params, body, author }) =>
    viewObstacle(await obstacles.create(params.jobId ?? '', body, author)),
  );
  serve(router, routes.changeObstacle, async ({ params, body, author }) =>
    viewObstacle(await obstacles.change(params.obstacleId ?? '', body, author)),
  );
  serve(router, routes.removeObstacle, async ({ params, author }) => {
    await obstacles.remove(params.obstacleId ?? '', author);
    return { removed: true };
  });

  router.get(placesExportPath, async (request, response) => {
    const { jobId = '', format = '' } = request.params as Record<string, string>;
    const kind = exports[format];
    if (!kind) throw new ApiProblem(404, 'Not found', `Places are exported as geojson or kml, not as "${format}".`);
    if (!/^[0-9a-f-]{36}$/i.test(jobId)) throw notFound('job');
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
