import { routes, type ServerSettings } from '@kivram/contract';
import { openApiDocument } from '@kivram/contract/openapi';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { ApiProblem, problemHandler } from './http/problem';
import { StandinWorlds } from './radio/standinWorlds';
import { sessions as sessionHandler } from './http/session';
import { alignmentRoutes, standinRoutes } from './routes/alignments';
import { jobRoutes } from './routes/jobs';
import { linkRoutes } from './routes/links';
import { placeRoutes } from './routes/places';
import { sessionRoutes } from './routes/session';
import { terrainRoutes } from './routes/terrain';
import { AimSessions } from './services/aimSessions';
import { LinkMemos } from './services/linkMemos';

export interface AppParts {
  app: Express;
  alignments: AimSessions;
  memos: LinkMemos;
  /** Ends what runs; the database connection stays with its owner. */
  close(): Promise<void>;
}

export interface AppOptions {
  /** the built interface; without it only the API answers */
  webRoot?: string;
  /** lets the map show tiles of another server, which is then the only one the page may reach */
  tileUrl?: string | null;
  /** turns the clock of the stand-in radios faster, for tests */
  standinSpeed?: number;
}

/** Puts the application together. */
export async function createApp(
  sequelize: Sequelize,
  log: Logger,
  { webRoot, tileUrl = null, standinSpeed = 1 }: AppOptions = {},
): Promise<AppParts> {
  const app = express();
  const worlds = new StandinWorlds(standinSpeed);
  const alignments = new AimSessions(sequelize, worlds, log);
  const memos = new LinkMemos(sequelize, log);
  const browserSessions = await sessionHandler(sequelize);

  app.disable('x-powered-by');
  app.use(onlyLocal);
  app.use((_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'none'"],
          'script-src': ["'self'"],
          'worker-src': ["'self'"],
          'style-src': ["'self'", (_req, res) => `'nonce-${(res as express.Response).locals.nonce as string}'`],
          'font-src': ["'self'"],
          'img-src': ["'self'", 'data:', ...(tileUrl ? [new URL(tileUrl.replace(/[{}]/g, '')).origin] : [])],
          'connect-src': ["'self'"],
          'manifest-src': ["'self'"],
          'form-action': ["'self'"],
          'base-uri': ["'none'"],
          'frame-ancestors': ["'none'"],
        },
      },
      strictTransportSecurity: false, // plain HTTP on loopback
    }),
  );
  app.use(express.json({ limit: '25mb' }));
  app.use('/api', (_request, response, next) => {
    response.set('cache-control', 'no-store');
    next();
  });

  // Only what may change something, or asks who works here, needs to know who that is.
  app.use('/api', (request, response, next) => {
    if (request.method === 'GET' && request.originalUrl !== routes.getSession.path) next();
    else void browserSessions.handler(request, response, next);
  });

  app.get(routes.getSettings.path, (_request, response) => void response.json({ tileUrl } satisfies ServerSettings));
  app.get('/api/health', (_request, response) => void response.json({ ready: true }));
  app.get('/api/openapi.json', (_request, response) => void response.json(openApiDocument()));
  app.use(
    sessionRoutes(),
    jobRoutes(sequelize, worlds, memos),
    linkRoutes(sequelize, worlds),
    placeRoutes(sequelize, worlds, memos),
    terrainRoutes(sequelize, worlds, memos, log),
    alignmentRoutes(alignments),
    standinRoutes(worlds),
  );
  app.use('/api', () => {
    throw new ApiProblem(404, 'Not found', 'The API has no such address; /api/openapi.json lists them.');
  });
  if (webRoot && existsSync(webRoot)) serveInterface(app, webRoot);
  app.use(problemHandler(log));
  return {
    app,
    alignments,
    memos,
    close: async () => {
      await alignments.stop();
      await memos.stop();
      await browserSessions.close();
    },
  };
}

/** Pages of other sites must not reach the program through the browser: the host must be this machine, and so must the origin. */
const onlyLocal: express.RequestHandler = (request, _response, next) => {
  const local = (host: string | undefined): boolean => /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(host ?? '');
  const { origin } = request.headers;
  if (!local(request.headers.host) || (origin && !local(origin.replace(/^https?:\/\//, '')))) {
    throw new ApiProblem(
      403,
      'Not from here',
      'Kivram answers to this machine only. Open it by its 127.0.0.1 address.',
    );
  }
  next();
};

/** The built interface; every path that is no file is the single page, with the nonce for its style element. */
function serveInterface(app: Express, webRoot: string): void {
  const page = readFileSync(join(webRoot, 'index.html'), 'utf8');
  app.use(express.static(webRoot, { index: false, maxAge: '1h' }));
  app.use('/assets', (_request, response) => void response.sendStatus(404));
  app.get('/{*path}', (_request, response) => {
    response
      .type('html')
      .set('cache-control', 'no-store')
      .send(page.replaceAll('__STYLE_NONCE__', response.locals.nonce as string));
  });
}
