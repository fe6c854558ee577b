import { aimingRoutes } from './aiming';
import { catalogueRoutes } from './catalogue';
import { jobsRoutes } from './jobs';
import { lawRoutes } from './law';
import { levelsRoutes } from './levels';
import { linksRoutes } from './links';
import { peopleRoutes } from './people';
import { placesRoutes } from './places';
import { serverRoutes } from './server';
import { visitsRoutes } from './visits';

/** Every route of the API: server and interface both go by this table. */
export const routes = {
  ...jobsRoutes,
  ...peopleRoutes,
  ...catalogueRoutes,
  ...lawRoutes,
  ...linksRoutes,
  ...placesRoutes,
  ...visitsRoutes,
  ...aimingRoutes,
  ...levelsRoutes,
  ...serverRoutes,
} as const;
