import type { NewsEvent } from '@kivram/contract/views/news';
import type { Place } from '@kivram/contract/entities/place';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createServer, get, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { QueryTypes } from 'sequelize';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { initModels } from '../src/database/models';
import { makeChange } from '../src/services/changes';
import { startTestServer, type TestServer } from './server';
import { administer } from './template';

type Told = Extract<NewsEvent, { type: 'moved' }>;

let server: TestServer;
let http: Server;
beforeAll(async () => {
  server = await startTestServer();
  http = await listening(server);
});
afterAll(async () => {
  http.closeAllConnections();
  http.close();
  await server.close();
});

async function listening({ app }: TestServer): Promise<Server> {
  const over = createServer(app).listen(0, '127.0.0.1');
  await once(over, 'listening');
  return over;
}

const lines: IncomingMessage[] = [];
afterEach(() => lines.splice(0).forEach((line) => line.destroy()));

/** Somebody who watches a job: what they were told until now. */
class Viewer {
  readonly events: NewsEvent[] = [];
  ended = false;

  get told(): Told[] {
    return this.events.filter((event): event is Told => event.type === 'moved');
  }

  /** Waits until something was told that is sought. */
  async hears(isSought: (event: Told) => boolean): Promise<Told> {
    await vi.waitFor(() => expect(this.told.some(isSought)).toBe(true), { timeout: 5000 });
    return this.told.find(isSought) as Told;
  }
}

async function watch(since = 'secondsAgo=0', over = http, jobId = server.jobId): Promise<Viewer> {
  const viewer = new Viewer();
  const { port } = over.address() as AddressInfo;
  const [line] = (await once(
    get({ port, host: '127.0.0.1', path: `/api/jobs/${jobId}/stream?${since}` }),
    'response',
  )) as [IncomingMessage];
  lines.push(line);
  line.setEncoding('utf8');
  let rest = '';
  line.on('data', (piece: string) => {
    const pieces = (rest + piece).split('\n\n');
    rest = pieces.pop() ?? '';
    for (const one of pieces) if (one.startsWith('data: ')) viewer.events.push(JSON.parse(one.slice(6)) as NewsEvent);
  });
  line.on('error', () => undefined);
  line.on('close', () => (viewer.ended = true));
  await vi.waitFor(() => expect(viewer.events.some(({ type }) => type === 'here')).toBe(true));
  return viewer;
}

const newPlace = (name: string) => ({ name, latitudeDeg: 33.4, longitudeDeg: -37.85, kind: 'site' });
const addPlace = async (name: string, by = server): Promise<Place> =>
  (await by.post(`/api/jobs/${by.jobId}/places`, newPlace(name))).body as Place;

describe('a viewer of a job', () => {
  it('is told what was changed, to which version, by whom and under which id', async () => {
    const viewer = await watch();
    const place = await addPlace('Told shed');
    const added = await viewer.hears(({ moved }) => moved.place?.[place.id] === 0);
    expect(added.crewMemberId).toBe(server.crewMemberId);
    const id = randomUUID();
    await server.patch(`/api/places/${place.id}`, { version: 0, note: 'by the slip' }).set('idempotency-key', id);
    expect((await viewer.hears(({ changeId }) => changeId === id)).moved).toEqual({ place: { [place.id]: 1 } });
    await server.delete(`/api/places/${place.id}?version=1`);
    await viewer.hears(({ moved }) => moved.place?.[place.id] === null);
  });

  it('is told of a link whose radio, sheets or tests moved, and whose states moved for it', async () => {
    const viewer = await watch();
    const { link, near } = await server.link('Ice works');
    await server.patch(`/api/links/${link.id}`, { version: link.version, needNearToFarMbps: 2000 });
    await viewer.hears(({ moved }) => moved.link?.[link.id] === link.version + 1);
    await viewer.hears(({ moved, changeId }) => changeId === null && link.id in (moved.state ?? {}));
    await server.sequelize.query('UPDATE radio SET mounted_at = NULL, version = version + 1 WHERE id = :id', {
      replacements: { id: near.radio.id },
    });
    const unseen = await viewer.hears(({ moved }) => !!moved.radio);
    expect(unseen).toMatchObject({ changeId: null, crewMemberId: null });
    expect(Object.keys(unseen.moved.link ?? {})).toContain(link.id);
    const test = { direction: 'nearToFar', value: 9, unit: 'Mbit/s', note: '' };
    expect((await server.post(`/api/links/${link.id}/throughput-tests/hand`, test)).status).toBe(200);
    await viewer.hears(({ moved }) => link.id in (moved.test ?? {}));
  });

  it('hears of a change that was given up nothing at all', async () => {
    const viewer = await watch();
    const failing = makeChange(server.sequelize, server.jobId, server.author(), async ({ transaction }) => {
      await server.sequelize.query('UPDATE place SET version = version + 1', { transaction });
      throw new Error('given up');
    });
    await expect(failing).rejects.toThrow('given up');
    const place = await addPlace('After it');
    await viewer.hears(({ moved }) => !!moved.place && place.id in moved.place);
    expect(viewer.told.filter(({ moved }) => moved.place)).toHaveLength(1);
  });

  it('hears of many changes at once each once, and in the order in which those who come later hear of them', async () => {
    const viewer = await watch();
    const here = viewer.events.find((event) => event.type === 'here') as { number: number };
    const names = Array.from({ length: 30 }, (_, i) => `At once ${i}`);
    const places = await Promise.all(names.map((name) => addPlace(name)));
    const later = await vi.waitFor(async () => {
      const other = await watch(`after=${here.number}`);
      await vi.waitFor(() => expect(other.told.filter(({ moved }) => moved.place)).toHaveLength(30));
      return other;
    });
    await vi.waitFor(() => expect(viewer.told.filter(({ moved }) => moved.place)).toHaveLength(30));
    const numbers = viewer.told.map(({ number }) => number);
    expect(numbers).toEqual([...new Set(numbers)].sort((a, b) => a - b));
    expect(later.told).toEqual(viewer.told);
    expect(new Set(viewer.told.flatMap(({ moved }) => Object.keys(moved.place ?? {})))).toEqual(
      new Set(places.map(({ id }) => id)),
    );
  });

  it('is told by the server that it asked of what another has changed, and of what came while the database did not speak', async () => {
    const other = await startTestServer({ over: server.databaseUrl });
    const viewer = await watch();
    const place = await addPlace('By another', other);
    await viewer.hears(({ moved }) => !!moved.place && place.id in moved.place);
    await administer(
      "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query = 'LISTEN kivram_news' AND datname = '" +
        `${new URL(server.databaseUrl).pathname.slice(1)}'`,
    );
    const missed = await addPlace('While it was deaf', other);
    await viewer.hears(({ moved }) => !!moved.place && missed.id in moved.place);
    await other.close();
    // Tables belong to the connection that was opened last.
    initModels(server.sequelize);
  });

  it('costs the database one look for a change, with all others who watch', async () => {
    const viewers = await Promise.all(Array.from({ length: 50 }, () => watch()));
    const query = vi.spyOn(server.sequelize, 'query');
    const place = await addPlace('Seen by fifty');
    await Promise.all(viewers.map((viewer) => viewer.hears(({ moved }) => !!moved.place && place.id in moved.place)));
    const looks = query.mock.calls.filter(([sql]) => typeof sql === 'string' && sql.includes('FROM news WHERE job_id'));
    query.mockRestore();
    // The states that moved for it may be told meanwhile.
    expect(looks.length).toBeLessThanOrEqual(3);
  });

  it('is told all the same where the database failed while it was asked', async () => {
    const viewer = await watch();
    const { sequelize } = server;
    const ask = sequelize.query.bind(sequelize);
    let failures = 0;
    const query = vi.spyOn(sequelize, 'query').mockImplementation(((sql: string, options: object) => {
      if (typeof sql !== 'string' || !sql.includes('FROM news WHERE job_id') || failures++) return ask(sql, options);
      return Promise.reject(new Error('no connection'));
    }) as never);
    const place = await addPlace('In a bad moment');
    await viewer.hears(({ moved }) => !!moved.place && place.id in moved.place);
    query.mockRestore();
    expect(failures).toBeGreaterThan(1);
  });

  it('is told to ask for everything where more was missed than is kept, and where the job is another now', async () => {
    await addPlace('Long ago');
    const place = await addPlace('Lately');
    const [kept] = await server.sequelize.query<{ least: number; last: number }>(
      'SELECT min(number)::float8 AS least, max(number)::float8 AS last FROM news WHERE job_id = :jobId',
      { type: QueryTypes.SELECT, replacements: { jobId: server.jobId } },
    );
    const { least, last } = kept as { least: number; last: number };
    expect((await watch(`after=${last}`)).events.map(({ type }) => type)).not.toContain('all');
    expect((await watch(`after=${least - 1}`)).events.map(({ type }) => type)).toContain('all');
    // Whoever has been away for longer than a moment, by the clock.
    const away = await watch('secondsAgo=600');
    await away.hears(({ moved }) => !!moved.place && place.id in moved.place);
  });

  it('is told of the ground under its job, and of the end of it', async () => {
    const made = await server.post('/api/jobs', {
      name: 'Short-lived',
      customer: 'Nobody',
      country: 'XT',
      units: 'metric',
      workerName: 'Ona Brisk',
    });
    expect(made.body.detail ?? made.status).toBe(200);
    const jobId = made.body.id as string;
    const viewer = await watch('secondsAgo=0', http, jobId);
    await server.sequelize.query("DELETE FROM terrain_file WHERE name = 'none such'");
    await vi.waitFor(() => expect(viewer.events.some(({ type }) => type === 'all')).toBe(true));
    const removed = await server.delete(`/api/jobs/${jobId}?name=Short-lived`);
    expect(removed.status).toBe(200);
    await vi.waitFor(() => expect(viewer.ended).toBe(true));
  });

  it('says from where on it wants to be told in numbers', async () => {
    for (const since of ['after=-1', 'after=x', 'secondsAgo=soon', 'after=1e9'])
      expect((await server.get(`/api/jobs/${server.jobId}/stream?${since}`)).status).toBe(400);
  });
});
