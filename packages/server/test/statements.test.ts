import { Sequelize } from 'sequelize';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { startTestServer, type TestServer } from './server';

// How many statements a request sends to the database: a count that no machine changes. Who makes it less writes the new figure down; who makes it more had better know why.

let server: TestServer;
const ids: Record<string, string> = {};
beforeAll(async () => {
  server = await startTestServer();
  const { link, far, near } = await server.link('Ice works');
  Object.assign(ids, { job: server.jobId, link: link.id, radio: far.radio.id, place: near.place.id });
  // What is computed once is computed before.
  await server.get(`/api/jobs/${server.jobId}/links`);
});
afterAll(() => server.close());

const filled = (path: string): string => path.replace(/:(\w+)/g, (_, name: string) => ids[name] ?? '');

async function statementsOf(ask: () => PromiseLike<{ status: number }>): Promise<number> {
  const query = vi.spyOn(Sequelize.prototype, 'query');
  expect((await ask()).status).toBe(200);
  const sent = query.mock.calls.length;
  query.mockRestore();
  return sent;
}

it.each<[path: string, most: number]>([
  ['/api/jobs', 0],
  ['/api/jobs/:job', 0],
  ['/api/jobs/:job/links?limit=50', 0],
  ['/api/jobs/:job/map', 0],
  ['/api/jobs/:job/events', 0],
  ['/api/jobs/:job/needs', 0],
  ['/api/jobs/:job/law', 0],
  ['/api/jobs/:job/visits', 0],
  ['/api/jobs/:job/people', 0],
  ['/api/catalogue', 0],
  ['/api/find?text=ice&job=:job', 0],
  ['/api/links/:link', 0],
  ['/api/links/:link/air', 0],
  ['/api/links/:link/events', 0],
  ['/api/links/:link/alignments', 0],
  ['/api/links/:link/level-sources', 0],
])('%s asks the database %d times at most', async (path, most) => {
  expect(await statementsOf(() => server.get(filled(path)))).toBeLessThanOrEqual(most);
});
