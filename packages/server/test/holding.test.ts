import type { Place } from '@kivram/contract/entities/place';
import type { AlignmentView } from '@kivram/contract/views/alignment';
import type { TimelineView } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { randomUUID } from 'node:crypto';
import { tmpdir } from 'node:os';
import { DatabaseError, QueryTypes, Sequelize } from 'sequelize';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { connect } from '../src/database/connection';
import { initModels } from '../src/database/models';
import { migrate } from '../src/database/migrate';
import { ensureReadingPartitions } from '../src/database/readingPartition';
import { loadCatalogue, loadDemo } from '../src/demo/load';
import { problemOf } from '../src/http/problem';
import { diskState } from '../src/services/disk';
import { healthOf } from '../src/services/health';
import type { Keys } from '../src/services/keys';
import { Sheets } from '../src/services/sheets';
import { startTestServer, type TestServer } from './server';
import { administer, databaseNamed } from './template';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());
// Tables belong to the connection that was opened last: those of other servers that a test starts are given back.
afterEach(() => initModels(server.sequelize));

const aim = { nearSource: 'phone', farSource: 'phone', order: 'endByEnd' };
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const samplesOf = async (by: TestServer, id: string): Promise<AlignmentView['samples']> =>
  ((await by.get(`/api/alignments/${id}`)).body as AlignmentView).samples;
const newPlace = (name: string, i: number) => ({
  name: `${name} ${i}`,
  latitudeDeg: 33.1 + i / 1000,
  longitudeDeg: -37.9,
  kind: 'site',
});

describe('aiming', () => {
  it('goes on for all others when the ends of one link come to lie on each other, and says why that one does not', async () => {
    const first = await startTestServer();
    const [bad, good] = [await first.link('Hatchery'), await first.link('Gauge hut')];
    const ids: string[] = [];
    for (const { link } of [bad, good])
      ids.push((await first.post(`/api/links/${link.id}/alignments`, aim)).body.id as string);
    await first.alignments.stop();
    const { far, near } = bad;
    const there = { latitudeDeg: near.place.latitudeDeg, longitudeDeg: near.place.longitudeDeg };
    const moved = await first.patch(`/api/places/${far.place.id}`, { version: far.place.version, ...there });
    expect(moved.status).toBe(200);

    const next = await startTestServer({ over: first.databaseUrl });
    const before = (await samplesOf(next, ids[1] ?? '')).length;
    await vi.waitFor(async () => expect((await samplesOf(next, ids[1] ?? '')).length).toBeGreaterThan(before + 6));
    const stream = await next.get(`/api/alignments/${ids[0]}/stream`);
    expect(stream.status).toBe(409);
    expect(stream.body.detail).toMatch(/^This alignment cannot be read: /);
    for (const one of [first, next]) await one.close();
  });

  it('stays with its mount when anything else in the job is changed', async () => {
    const link = await server.link('Hatchery');
    const id = (await server.post(`/api/links/${link.link.id}/alignments`, aim)).body.id as string;
    const turn = () =>
      server.post(`/api/standin/links/${link.link.id}/turns`, { end: 'near', axis: 'azimuth', byDeg: 15 });
    const azimuth = async (): Promise<number> => {
      const near = (await samplesOf(server, id)).filter((s) => s.end === 'near').slice(-5);
      return near.reduce((sum, s) => sum + (s.phoneAzimuthDeg ?? NaN), 0) / near.length;
    };
    await turn();
    await pause(800);
    const before = await azimuth();
    const { places } = (await server.get(`/api/jobs/${server.jobId}/map`)).body as { places: Place[] };
    const landmark = places.find((p) => p.kind === 'landmark');
    await server.patch(`/api/places/${landmark?.id}`, { version: landmark?.version, name: 'Renamed meanwhile' });
    await turn();
    await pause(800);
    expect((await azimuth()) - before).toBeGreaterThan(10);
    await server.post(`/api/alignments/${id}/abandon`);
  });

  it('goes by a clock that nobody sets', async () => {
    const id = (await server.post(`/api/links/${await server.linkId('Hatchery')}/alignments`, aim)).body.id as string;
    await pause(400);
    const now = Date.now;
    vi.spyOn(Date, 'now').mockImplementation(() => now() - 3_600_000);
    await pause(600);
    vi.mocked(Date.now).mockRestore();
    await server.post(`/api/alignments/${id}/abandon`);
    const times = (await samplesOf(server, id)).filter((s) => s.end === 'near').map((s) => s.tS);
    expect(times.length).toBeGreaterThan(6);
    times.slice(1).forEach((tS, i) => {
      expect(tS - (times[i] ?? 0)).toBeGreaterThan(0.05);
      expect(tS - (times[i] ?? 0)).toBeLessThan(0.6);
    });
  });

  it('ends when nobody watches and nobody taps for a quarter of an hour, keeps what it has, and says so', async () => {
    const link = await server.linkId('Gauge hut');
    const watched = (await server.post(`/api/links/${await server.linkId('Hatchery')}/alignments`, aim)).body
      .id as string;
    const stop = await server.alignments.watch(watched, { show: () => undefined, leave: () => undefined });
    const id = (await server.post(`/api/links/${link}/alignments`, aim)).body.id as string;
    await pause(400);
    const now = performance.now.bind(performance);
    vi.spyOn(performance, 'now').mockImplementation(() => now() + 16 * 60_000);
    await vi.waitFor(async () => expect((await server.get(`/api/alignments/${id}`)).body.state).toBe('abandoned'), {
      interval: 100,
    });
    vi.mocked(performance.now).mockRestore();
    expect((await samplesOf(server, id)).length).toBeGreaterThan(4);
    const { events } = (await server.get(`/api/links/${link}/events`)).body as TimelineView;
    expect(events[0]?.summary).toBe('Nobody used the alignment for 15 minutes, so it was ended; the readings are kept');
    expect((await server.get(`/api/alignments/${watched}`)).body.state).toBe('running');
    stop();
    await server.post(`/api/alignments/${watched}/abandon`);
  });

  it('of hours goes out whole, in order, and each moment once', async () => {
    const link = await server.link('Hatchery');
    const id = (await server.post(`/api/links/${link.link.id}/alignments`, aim)).body.id as string;
    await pause(300);
    await server.sequelize.query(
      `INSERT INTO reading (radio_id, peer_id, at, alignment_id, t_s, rsl_dbm, chains_dbm)
       SELECT CASE side WHEN 0 THEN :near ELSE :far END::uuid, CASE side WHEN 0 THEN :far ELSE :near END::uuid,
         date_trunc('second', now()) + interval '1 minute' + interval '100 ms' * n, :id, 60 + n / 10.0, -60, '{}'
       FROM generate_series(1, 6200) n, generate_series(0, 1) side`,
      { replacements: { id, near: link.near.radio.id, far: link.far.radio.id } },
    );
    const samples = await samplesOf(server, id);
    expect(samples.length).toBeGreaterThan(12_400);
    for (const end of ['near', 'far']) {
      const times = samples.filter((s) => s.end === end).map((s) => s.tS);
      expect(times).toEqual([...new Set(times)].sort((a, b) => a - b));
    }
    const finished = await server.post(`/api/alignments/${id}/finish`);
    expect(finished.body.result.near.rslDbm).toBeCloseTo(-60, 6);
  });

  it('writes nothing any more once another server has the lease', async () => {
    const id = (await server.post(`/api/links/${await server.linkId('Gauge hut')}/alignments`, aim)).body.id as string;
    const heard: string[] = [];
    await server.alignments.watch(id, { show: () => undefined, leave: () => void heard.push('left') });
    await pause(300);
    await server.sequelize.query(
      `UPDATE lease SET holder = gen_random_uuid(), until = now() + interval '1 minute' WHERE name = 'alignment ${id}'`,
    );
    await pause(200);
    const there = (await samplesOf(server, id)).length;
    await pause(500);
    expect((await samplesOf(server, id)).length).toBe(there);
    expect((await server.get(`/api/alignments/${id}/stream`)).status).toBe(409);
    expect(heard).toContain('left'); // whoever watched asks again, here or elsewhere
    await server.post(`/api/alignments/${id}/abandon`);
  });

  it('goes on where it was when its lease ran out while the database did not answer', async () => {
    const id = (await server.post(`/api/links/${await server.linkId('Gauge hut')}/alignments`, aim)).body.id as string;
    const heard: string[] = [];
    const stop = await server.alignments.watch(id, {
      show: (event) => void heard.push(event.type),
      leave: () => void heard.push('left'),
    });
    await pause(300);
    await server.sequelize.query(`UPDATE lease SET until = now() - interval '1 minute'`);
    await pause(300);
    heard.length = 0;
    await vi.waitFor(() => expect(heard.length).toBeGreaterThan(5));
    expect(new Set(heard)).toEqual(new Set(['reading']));
    stop();
    await server.post(`/api/alignments/${id}/abandon`);
  });
});

describe('an alignment that the server died of, as it seems', () => {
  it('is read on only where somebody asks for it; one of stand-ins goes on by itself', async () => {
    const begin = async (name: string): Promise<string> =>
      (await server.post(`/api/links/${await server.linkId(name)}/alignments`, aim)).body.id as string;
    const profileId = ((await server.get('/api/level-profiles')).body as { id: string; way: string }[]).find(
      ({ way }) => way === 'snmp',
    )?.id;
    await server.put(`/api/links/${await server.linkId('Gauge hut')}/level-sources/near`, {
      version: -1,
      way: 'snmp',
      profileId,
      snmp: { host: '127.0.0.1', port: 9, version: '2c', community: 'x' },
    });
    const [asking, standin] = [await begin('Gauge hut'), await begin('Net loft')];
    // Two servers have died of each already; a third one took them up, lived for a second, and is gone.
    const gone = (): Promise<unknown> =>
      server.sequelize.query(
        `UPDATE lease SET holder = gen_random_uuid(), short_lives = 2, since = now() - interval '8 seconds', until = now() - interval '1 second'`,
      );
    const stream = (id: string) => {
      const heard: string[] = [];
      return server.alignments
        .watch(id, { show: ({ type }) => void heard.push(type), leave: () => void heard.push('left') })
        .then((stop) => ({ heard, stop }));
    };
    await server.sequelize.query(`UPDATE lease SET holder = gen_random_uuid(), until = now() + interval '1 minute'`);
    for (const id of [asking, standin])
      await vi.waitFor(() => expect(stream(id)).rejects.toMatchObject({ title: 'Not read' }));
    await gone();
    await vi.waitFor(() => expect(stream(asking)).rejects.toMatchObject({ title: 'Not read on' }));
    const going = await vi.waitFor(() => stream(standin));
    await vi.waitFor(() => expect(going.heard).toContain('reading'));
    going.stop();
    expect((await server.post(`/api/alignments/${asking}/read-on`)).status).toBe(200);
    (await stream(asking)).stop();
    for (const id of [asking, standin]) await server.post(`/api/alignments/${id}/abandon`);
    await server.put(`/api/links/${await server.linkId('Gauge hut')}/level-sources/near`, {
      version: 0,
      way: 'standin',
    });
  });
});

describe('a disk that is full', () => {
  it('is told to whoever aims, and by the health of the server, until there is room again', async () => {
    const id = (await server.post(`/api/links/${await server.linkId('Gauge hut')}/alignments`, aim)).body.id as string;
    const answering = { query: () => Promise.resolve([]) } as unknown as Sequelize;
    const heard: string[] = [];
    const stop = await server.alignments.watch(id, {
      show: (event) => void heard.push(event.type === 'trouble' ? event.words : event.type),
      leave: () => void heard.push('left'),
    });
    const query = vi
      .spyOn(Sequelize.prototype, 'query')
      .mockRejectedValue(Object.assign(new Error('could not extend file'), { parent: { code: '53100' } }));
    await vi.waitFor(() => expect(heard.join()).toContain('The disk of this computer is full'));
    expect((await healthOf(answering, server.alignments, tmpdir(), { warning: null } as Keys)).trouble).toContain(
      'is full',
    );
    query.mockRestore();
    heard.length = 0;
    await vi.waitFor(() => expect(heard).toContain('reading'));
    expect((await server.get('/api/health')).body).toEqual({ ready: true, trouble: null, warning: null });
    stop();
    await server.post(`/api/alignments/${id}/abandon`);
  });
});

describe('the room on the disk', () => {
  it('is told of when it is short, and is trouble when it is gone', () => {
    expect(diskState(600e6)).toEqual({ trouble: null, warning: null });
    expect(diskState(499e6)).toMatchObject({
      trouble: null,
      warning: expect.stringContaining('nearly full: 499 MB left'),
    });
    expect(diskState(29e6)).toMatchObject({ trouble: expect.stringContaining('is full (29 MB left)'), warning: null });
  });

  it.each([
    ['the database', Object.assign(new DatabaseError(Object.assign(new Error('x'), { sql: '', code: '53100' })), {})],
    ['a file', Object.assign(new Error('no space'), { code: 'ENOSPC' })],
  ])('that is gone is said of a change that could not be made, as %s tells it', (_, error) => {
    expect(problemOf(error)).toMatchObject({ status: 507, title: 'The disk is full' });
  });
});

describe('many at once', () => {
  it('ten new links and twelve new places that ask the terrain are all made', async () => {
    const { near } = await server.link('Ice works');
    const link = (i: number) => ({
      name: `Burst ${i}`,
      near: { placeId: near.place.id, modelId: near.model.id, mountHeightM: 6, conductedDbm: 8 },
      far: {
        place: { ...newPlace('Burst', i), kind: undefined },
        modelId: near.model.id,
        mountHeightM: 6,
        conductedDbm: 8,
      },
      centreMHz: 5500,
      widthMHz: 20,
      protocol: '802.11',
      needNearToFarMbps: 1,
      needFarToNearMbps: 1,
    });
    const at = { latitudeDeg: near.place.latitudeDeg, longitudeDeg: near.place.longitudeDeg };
    const answers = await Promise.all([
      ...Array.from({ length: 10 }, (_, i) =>
        server.post(`/api/jobs/${server.jobId}/links`, {
          ...link(i),
          far: { ...link(i).far, place: { name: `Burst ${i}`, ...at, latitudeDeg: at.latitudeDeg + 0.001 * (i + 1) } },
        }),
      ),
      ...Array.from({ length: 12 }, (_, i) =>
        server.post(`/api/jobs/${server.jobId}/places`, { ...newPlace('Drag', i), ...at }),
      ),
    ]);
    expect(answers.map((a) => a.status)).toEqual(answers.map(() => 200));
  });

  it('a place is made a landmark or carries a link, never both', async () => {
    const { near } = await server.link('Ice works');
    for (let i = 0; i < 5; i++) {
      const made = (
        await server.post(`/api/jobs/${server.jobId}/places`, { ...newPlace('Corner', i), groundHeightM: 3 })
      ).body as Place;
      const [turned, linked] = await Promise.all([
        server.patch(`/api/places/${made.id}`, { version: made.version, kind: 'landmark' }),
        server.post(`/api/jobs/${server.jobId}/links`, {
          name: `Corner ${i}`,
          near: { placeId: near.place.id, modelId: near.model.id, mountHeightM: 6, conductedDbm: 8 },
          far: { placeId: made.id, modelId: near.model.id, mountHeightM: 6, conductedDbm: 8 },
          centreMHz: 5500,
          widthMHz: 20,
          protocol: '802.11',
          needNearToFarMbps: 1,
          needFarToNearMbps: 1,
        }),
      ]);
      expect([turned.status, linked.status].filter((status) => status === 200)).toHaveLength(1);
    }
  });

  it('an end that is marked as up twice is up once, and whoever is changing the plan is told of no clash', async () => {
    const { link, near } = await server.link('Boat yard');
    const mount = (mounted: boolean) =>
      server.post(`/api/links/${link.id}/mounts`, { end: 'near', mounted, cautionsRead: true });
    await mount(false);
    const clicks = await Promise.all([mount(true), mount(true), mount(true)]);
    expect(clicks.map((c) => c.status)).toEqual([200, 200, 200]);
    const { events } = (await server.get(`/api/links/${link.id}/events`)).body as TimelineView;
    const told = events.filter((e) => e.kind === 'mount').map((e) => e.detail.mounted);
    expect(told.slice(0, 2)).toEqual([true, false]);
    const changed = await server.patch(`/api/radios/${near.radio.id}`, {
      version: near.radio.version,
      cableLossDb: 0.7,
    });
    expect(changed.status).toBe(200);
    expect(((await server.get(`/api/links/${link.id}`)).body as LinkView).near.radio.mountedAt).not.toBeNull();
  });
});

describe('the database', () => {
  it('has an index behind every reference, so that what is referred to can go quickly', async () => {
    const bare = await server.sequelize.query<{ name: string }>(
      `SELECT c.conrelid::regclass || ' ' || c.conname AS name FROM pg_constraint c
       WHERE c.contype = 'f' AND c.conparentid = 0 AND NOT EXISTS (
         SELECT 1 FROM pg_index i WHERE i.indrelid = c.conrelid
           AND (i.indkey::smallint[])[0:cardinality(c.conkey) - 1] @> c.conkey)`,
      { type: QueryTypes.SELECT },
    );
    expect(bare.map((b) => b.name)).toEqual([]);
  });

  it('is brought up to date, and gets its partitions, by several servers at once', async () => {
    const name = `kivram_${randomUUID().slice(0, 8)}`;
    await administer(`CREATE DATABASE ${name}`);
    const url = databaseNamed(name);
    await Promise.all([migrate(url), migrate(url), migrate(url)]);
    const servers = [connect(url), connect(url), connect(url)] as const;
    const days = ['2026-01-05', '2026-02-05', '2026-03-05'].map((day) => new Date(day));
    await Promise.all(servers.map((one) => ensureReadingPartitions(one, days)));
    const [tables] = await servers[0].query(
      `SELECT count(*)::integer AS n FROM pg_inherits WHERE inhparent = 'reading'::regclass`,
    );
    expect(tables).toEqual([{ n: 3 }]);
    for (const one of servers) await one.close();
  });

  it('gets a partition while others write, without anybody waiting long', async () => {
    const writing = await server.sequelize.transaction();
    await server.sequelize.query('LOCK TABLE radio IN ROW EXCLUSIVE MODE', { transaction: writing });
    const made = ensureReadingPartitions(server.sequelize, [new Date('2031-07-01')]);
    await pause(100);
    const began = performance.now();
    expect((await server.get(`/api/jobs/${server.jobId}/map`)).status).toBe(200);
    expect(performance.now() - began).toBeLessThan(5000);
    await writing.commit();
    await made;
  });

  it('holds no half demo after its loading was cut off, and the demo once', async () => {
    const name = `kivram_${randomUUID().slice(0, 8)}`;
    await administer(`CREATE DATABASE ${name}`);
    await migrate(databaseNamed(name));
    const fresh = await startTestServer({ over: databaseNamed(name) }).catch(() => null);
    expect(fresh).toBeNull(); // there is no job yet
    const sequelize = connect(databaseNamed(name));
    await loadCatalogue();
    const jobs = () =>
      sequelize.query<{ id: string; links: number }>(
        'SELECT id, (SELECT count(*)::integer FROM link WHERE job_id = job.id) AS links FROM job',
        { type: QueryTypes.SELECT },
      );
    const save = vi.spyOn(Sheets.prototype, 'save').mockRejectedValue(new Error('cut off'));
    await expect(loadDemo(sequelize)).rejects.toThrow('cut off');
    const [half] = await jobs();
    expect(half?.links).toBe(13);
    // It begins again from the beginning; what is half is gone before. To the end it is loaded for all tests, and by the siege.
    await expect(loadDemo(sequelize)).rejects.toThrow('cut off');
    save.mockRestore();
    const again = await jobs();
    expect(again).toEqual([{ id: expect.not.stringMatching(half?.id ?? ''), links: 13 }]);
    await sequelize.close();

    initModels(server.sequelize);
    expect(await loadDemo(server.sequelize)).toBe(false);
  });
});
