import { pino } from 'pino';
import type { Sequelize } from 'sequelize';
import request from 'supertest';
import type { JobView, LinkView } from '@kivram/contract';
import { createApp, type AppParts } from '../src/app';
import { connect, migrate } from '../src/database/connection';
import { loadDemo, loadGear } from '../src/demo/load';

/** A server over the test database, its demo job loaded afresh. */
export interface TestServer extends AppParts {
  sequelize: Sequelize;
  jobId: string;
  crewMemberId: string;
  linkId(name: string): Promise<string>;
  link(name: string): Promise<LinkView>;
  get(path: string): request.Test;
  post(path: string, body?: object): request.Test;
  put(path: string, body: object): request.Test;
  patch(path: string, body: object): request.Test;
  delete(path: string): request.Test;
  close(): Promise<void>;
}

const databaseUrl = process.env.KIVRAM_TEST_DATABASE_URL;

/** Without a database these tests cannot run: `npm test unit` starts one. */
export async function startTestServer({ fresh = true } = {}): Promise<TestServer> {
  if (!databaseUrl)
    throw new Error(
      'KIVRAM_TEST_DATABASE_URL is not set: run these tests by "npm test" or "node scripts/test.mjs unit"',
    );
  const sequelize = connect(databaseUrl);
  if (fresh) await sequelize.query('DROP SCHEMA public CASCADE; CREATE SCHEMA public');
  await migrate(sequelize);
  await loadGear();
  await loadDemo(sequelize);
  const parts = createApp(sequelize, pino({ level: 'silent' }));
  const host = ['host', '127.0.0.1'] as const;
  const get = (path: string) =>
    request(parts.app)
      .get(path)
      .set(...host);
  const post = (path: string, body: object = {}) =>
    request(parts.app)
      .post(path)
      .set(...host)
      .send(body);
  const put = (path: string, body: object) =>
    request(parts.app)
      .put(path)
      .set(...host)
      .send(body);
  const patch = (path: string, body: object) =>
    request(parts.app)
      .patch(path)
      .set(...host)
      .send(body);
  const remove = (path: string) =>
    request(parts.app)
      .delete(path)
      .set(...host);
  const jobs = await get('/api/jobs');
  const jobId = jobs.body[0].id as string;
  const job = (await get(`/api/jobs/${jobId}`)).body as JobView;
  const linkId = async (name: string): Promise<string> => {
    const view = (await get(`/api/jobs/${jobId}`)).body as JobView;
    return view.links.find((l) => l.name === name)?.id ?? '';
  };
  return {
    ...parts,
    sequelize,
    jobId,
    crewMemberId: job.crew[0]?.id ?? '',
    linkId,
    link: async (name) => (await get(`/api/links/${await linkId(name)}`)).body as LinkView,
    get,
    post,
    put,
    patch,
    delete: remove,
    close: async () => {
      parts.sessions.stop();
      await sequelize.close();
    },
  };
}
