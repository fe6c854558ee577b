import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { serve } from '../http/serve';
import { jobsSeenBy } from '../http/who';
import { Catalogue } from '../services/catalogue';
import { newestModels } from '../services/gear';

export function catalogueRoutes(sequelize: Sequelize): Router {
  const router = Router();
  const catalogue = new Catalogue(sequelize);
  const id = (params: Record<string, string>): string => params.modelId ?? '';

  serve(router, routes.listModels, async () => (await newestModels()).map((m) => m.spec));
  // Who is planned with it is told of the jobs that one may know of.
  serve(router, routes.catalogue, async ({ who }) => {
    const seen = jobsSeenBy(who);
    const entries = await catalogue.list();
    return entries.map((entry) => ({
      ...entry,
      older: entry.older.filter(({ jobId }) => !seen || seen.includes(jobId)),
    }));
  });
  serve(router, routes.exportModels, async ({ response }) => {
    response.attachment('kivram-gear.json');
    return catalogue.export();
  });
  serve(router, routes.importModels, ({ body, author }) => catalogue.import(body.text, author));
  serve(router, routes.createModel, ({ body, author }) => catalogue.create(body.spec, author));
  serve(router, routes.changeModel, ({ params, body, author }) => catalogue.change(id(params), body, author));
  serve(router, routes.retireModel, async ({ params, author }) => {
    await catalogue.retire(id(params), author);
    return { removed: true };
  });
  return router;
}
