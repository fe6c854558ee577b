import { routes } from '@kivram/contract/routes';
import type { ServerSettings } from '@kivram/contract/views/terrain';
import express, { type Express } from 'express';
import packedFiles from 'express-static-gzip';
import helmet from 'helmet';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { refuseBulky } from './http/body';
import { guard } from './http/guard';
import { hereDoor } from './http/hereDoor';
import { onlyOwnPages } from './http/origin';
import type { Opening } from './lan/opening';
import { fewAtOnce } from './http/fewAtOnce';
import { ApiProblem } from './http/apiProblem';
import { problemHandler } from './http/problem';
import { Commands } from './radio/commands';
import { DeviceProcesses } from './radio/devices/deviceProcess';
import type { Devices } from './radio/devices/setup';
import { LevelSources } from './radio/levelSources';
import { StandinAgents } from './radio/standinAgents';
import { StandinWorlds } from './radio/standinWorlds';
import { sessions } from './http/session';
import { levelRoutes } from './routes/levels';
import { alignmentRoutes, standinRoutes } from './routes/alignments';
import { catalogueRoutes } from './routes/catalogue';
import { jobRoutes } from './routes/jobs';
import { linkRoutes } from './routes/links';
import { lawRoutes } from './routes/law';
import { newsRoutes } from './routes/news';
import { placeRoutes } from './routes/places';
import { keyRoutes } from './routes/key';
import { sessionRoutes } from './routes/session';
import { terrainRoutes } from './routes/terrain';
import { visitRoutes } from './routes/visits';
import { NewsDesk } from './news/newsDesk';
import { AimSessions } from './services/aimSessions';
import { PathChecks } from './services/pathChecks';
import { healthOf } from './services/health';
import { Keys } from './services/keys';
import { LinkMemos } from './services/linkMemos';
import type { Intake } from './intake/intake';
import { ProcessIntake } from './intake/processIntake';
import { KeyFile } from './secrets/keyFile';
import { Uploads } from './http/uploads';

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
  /** where files lie while they are read; a folder of its own */
  uploadFolder?: string;
  /** the door to the local network; without it only this computer is answered */
  opening?: Opening;
  /** what reads files from outside; without it each is read in a process of its own */
  intake?: Intake;
  /** what asks devices; without it each is asked in a process of its own */
  devices?: Devices;
  /** the keys of passphrases; without it they come from the environment */
  keys?: Keys;
  /** what a browser of this computer shows to be its owner's; without it every one is */
  hereToken?: string;
  /** where the commands of this computer stand; without it there are none */
  commandsFile?: string;
}

/** No request of the interface is longer, but for those that carry a file as text. */
const mostBodyBytes = 1_000_000;
const mostTextBytes = 25_000_000;

/** Puts the application together. */
export async function createApp(sequelize: Sequelize, log: Logger, options: AppOptions = {}): Promise<AppParts> {
  const { webRoot, tileUrl = null, standinSpeed = 1, uploadFolder, opening } = options;
  const { intake = new ProcessIntake(log), devices = new DeviceProcesses() } = options;
  const app = express();
  const worlds = new StandinWorlds(standinSpeed);
  const commands = new Commands(options.commandsFile ?? null);
  const sources = new LevelSources(worlds, devices, commands);
  const agents = new StandinAgents(worlds);
  const alignments = new AimSessions(sequelize, sources, log);
  const memos = new LinkMemos(sequelize, log);
  const news = new NewsDesk(sequelize, log);

  const { keys = await Keys.in(sequelize, new KeyFile(undefined)) } = options;
  const uploads = await Uploads.in(uploadFolder);
  const browserSessions = sessions(sequelize);

  app.disable('x-powered-by');
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
          'img-src': ["'self'", 'data:', 'blob:', ...(tileUrl ? [new URL(tileUrl.replace(/[{}]/g, '')).origin] : [])],
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
  app.use(onlyOwnPages(opening));
  app.use(hereDoor(options.hereToken));
  // A phone may be told to trust this computer: nothing of this is secret.
  app.get('/kivram-authority.crt', (_request, response) => {
    if (!opening) throw new ApiProblem(404, 'Not found', 'Kivram answers to this computer only.');
    response.type('application/x-x509-ca-cert').send(opening.authority);
  });
  app.use('/api', (_request, response, next) => {
    response.set('cache-control', 'no-store');
    next();
  });
  // Before anything of a request is read: whoever may not ask sends nothing.
  app.use(guard(sequelize, browserSessions));
  // A file is read as it comes by whoever takes it; a file that is sent as text within a request may be longer than other requests.
  const files = Object.values(routes).flatMap((route) => ('takes' in route ? [route.path] : []));
  const json = express.json({ limit: mostBodyBytes, verify: refuseBulky });
  app.use(
    [
      routes.importTest.path,
      routes.importPlaces.path,
      routes.importModels.path,
      routes.importLevelProfiles.path,
      routes.pasteLevels.path,
    ],
    express.json({ limit: mostTextBytes, verify: refuseBulky }),
  );
  app.use((request, response, next) => (files.includes(request.path) ? next() : json(request, response, next)));
  app.use('/api', fewAtOnce());

  app.get(routes.getSettings.path, (_request, response) => {
    response.json({ tileUrl, opening: opening?.view() ?? null } satisfies ServerSettings);
  });
  app.get(routes.health.path, async (_request, response) => {
    const health = await healthOf(sequelize, alignments, uploads.folder, keys);
    response.status(health.ready ? 200 : 503).json(health);
  });
  // Loaded and made when it is first asked for: few ask, and it takes a good part of the time of a start.
  app.get('/api/openapi.json', async (_request, response) => {
    const { openApiDocument } = await import('@kivram/contract/openapi');
    response.json((document ??= openApiDocument()));
  });
  let document: object | undefined;
  app.use(
    sessionRoutes(sequelize, browserSessions),
    keyRoutes(keys, memos),
    catalogueRoutes(sequelize),
    jobRoutes(sequelize, worlds, memos, intake, uploads),
    linkRoutes(sequelize, worlds, intake),
    visitRoutes(sequelize, intake, uploads),
    lawRoutes(sequelize),
    newsRoutes(news),
    placeRoutes(sequelize, worlds, memos, intake),
    terrainRoutes(sequelize, worlds, memos, intake, uploads),
    alignmentRoutes(alignments, new PathChecks(sequelize)),
    standinRoutes(worlds),
    levelRoutes({ sequelize, sessions: alignments, sources, worlds, agents, commands, intake }),
  );
  app.use('/api', () => {
    throw new ApiProblem(404, 'Not found', 'The API has no such address; /api/openapi.json lists them.');
  });
  if (webRoot && existsSync(webRoot)) serveInterface(app, webRoot);
  app.use(() => {
    throw new ApiProblem(404, 'Not found', 'There is nothing at this address.');
  });
  app.use(problemHandler(log));
  return {
    app,
    alignments,
    memos,
    close: async () => {
      intake.stop();
      await news.stop();
      await alignments.stop();
      devices.stop();
      await agents.close();
      await memos.stop();
      await browserSessions.close();
      await uploads.remove();
    },
  };
}

/** The built interface; every path that is no file is the single page, with the nonce for its style element. */
function serveInterface(app: Express, webRoot: string): void {
  const page = readFileSync(join(webRoot, 'index.html'), 'utf8');
  // Packed once, when the page is built. Answers are not packed: streams must not be held back, and some hold secrets.
  app.use(
    packedFiles(webRoot, { index: false, enableBrotli: true, orderPreference: ['br'], serveStatic: { maxAge: '1h' } }),
  );
  app.use('/assets', (_request, response) => void response.sendStatus(404));
  app.get('/{*path}', (_request, response) => {
    response
      .type('html')
      .set('cache-control', 'no-store')
      .send(page.replaceAll('__STYLE_NONCE__', response.locals.nonce as string));
  });
}
