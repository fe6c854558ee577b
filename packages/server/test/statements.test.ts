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
  const query = vi.spyOn(server.sequelize, 'query');
  expect((await ask()).status).toBe(200);
  const sent = query.mock.calls.length;
  query.mockRestore();
  return sent;
}

/** The least of some counts, until one is small enough: what is computed beside the requests, or was left by the change before, may fall into one of them, on a slow machine into several. */
async function leastOf(most: number, count: (turn: number) => Promise<number>): Promise<number> {
  let least = Infinity;
  for (let turn = 0; turn < 8 && least > most; turn++) least = Math.min(least, await count(turn));
  return least;
}

it.each<[path: string, most: number]>([
  ['/api/jobs', 2],
  ['/api/jobs/:job', 6],
  ['/api/jobs/:job/links?limit=50', 3],
  ['/api/jobs/:job/map', 5],
  ['/api/jobs/:job/events', 2],
  ['/api/jobs/:job/needs', 7],
  ['/api/jobs/:job/law', 4],
  ['/api/jobs/:job/visits', 4],
  ['/api/jobs/:job/people', 5],
  ['/api/catalogue', 1],
  ['/api/find?text=ice&job=:job', 1],
  ['/api/links/:link', 30],
  ['/api/links/:link/air', 18],
  ['/api/links/:link/events', 3],
  ['/api/links/:link/alignments', 1],
  ['/api/links/:link/level-sources', 5],
])('%s asks the database %d times at most', async (path, most) => {
  expect(await leastOf(most, () => statementsOf(() => server.get(filled(path))))).toBeLessThanOrEqual(most);
});

it.each<[what: string, path: string, body: (turn: number) => Promise<object>, most: number]>([
  [
    'a plan that is changed',
    '/api/links/:link',
    async (turn) => ({ version: (await server.link('Ice works')).link.version, needNearToFarMbps: 21 + turn }),
    45,
  ],
  [
    'a place that is renamed',
    '/api/places/:place',
    async (turn) => ({
      version: (await server.link('Ice works')).near.place.version,
      name: `Ferry office, west ${turn}`,
    }),
    11,
  ],
])('%s asks the database so often at most', async (_what, path, body, most) => {
  const asked = async (turn: number): Promise<number> => {
    const change = await body(turn);
    return statementsOf(() => server.patch(filled(path), change));
  };
  expect(await leastOf(most, asked)).toBeLessThanOrEqual(most);
});
