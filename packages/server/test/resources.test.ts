import type { TimelineView } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from '../src/app';
import { migrate } from '../src/database/migrate';
import { ensureReadingPartitions } from '../src/database/readingPartition';
import { loadDemo } from '../src/demo/load';
import { gear } from '../src/demo/gear';
import { rateSteps } from '@kivram/core/gear/model';
import { solveGeodesic } from '@kivram/core/geodesy/geodesic';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const patch = (path: string, body: object) => server.patch(path, body);

describe('places and radios', () => {
  it('change with their version, and the links that stand on them follow', async () => {
    const before = await server.link('Quay crane');
    const { id, version } = before.far.place;
    const moved = await patch(`/api/places/${id}`, { version, latitudeDeg: 33.415 });
    expect(moved.body).toMatchObject({ latitudeDeg: 33.415, version: version + 1 });
    const distanceM = async () => (await server.links()).find((l) => l.name === 'Quay crane')?.distanceM ?? 0;
    const then = solveGeodesic(before.near.place, before.far.place).distanceM;
    expect(await distanceM()).toBeGreaterThan(then + 100);
    expect((await patch(`/api/places/${id}`, { version, latitudeDeg: 33.4 })).status).toBe(409);

    const raised = await patch(`/api/radios/${before.far.radio.id}`, {
      version: before.far.radio.version,
      mountHeightM: 30,
    });
    expect(raised.body.mountHeightM).toBe(30);
    const timeline = (await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView;
    expect(timeline.events.map((e) => e.summary).join()).toContain('mount height 22 to 30 m');
  });

  it('say when nothing changes by leaving the version as it is', async () => {
    const { near } = await server.link('Quay crane');
    const same = await patch(`/api/radios/${near.radio.id}`, {
      version: near.radio.version,
      mountHeightM: near.radio.mountHeightM,
    });
    expect(same.body.version).toBe(near.radio.version);
  });

  it('are missing where they are missing', async () => {
    const nowhere = '00000000-0000-4000-8000-000000000000';
    for (const path of [`/api/places/${nowhere}`, `/api/radios/${nowhere}`, `/api/links/${nowhere}`]) {
      expect((await patch(path, { version: 0 })).status, path).toBe(404);
    }
    for (const path of [
      `/api/jobs/${nowhere}`,
      `/api/jobs/${nowhere}/export`,
      `/api/links/${nowhere}/events`,
      `/api/alignments/${nowhere}`,
      `/api/alignments/${nowhere}/stream`,
    ]) {
      expect((await server.get(path)).status, path).toBe(404);
    }
  });
});

describe('mounting', () => {
  it('is noted with the cautions read, and undone', async () => {
    const id = await server.linkId('Quay crane');
    expect(
      (await server.post(`/api/links/${id}/mounts`, { end: 'near', mounted: true, cautionsRead: false })).status,
    ).toBe(422);
    const up = (await server.post(`/api/links/${id}/mounts`, { end: 'near', mounted: true, cautionsRead: true }))
      .body as LinkView;
    expect(up.near.radio).toMatchObject({ mountedBy: server.crewMemberId });
    expect(up.near.radio.mountedAt).toBeTruthy();
    expect(up.state.steps.find((s) => s.step === 'mount')?.because).toBe('only the near end is up');
    const down = (await server.post(`/api/links/${id}/mounts`, { end: 'near', mounted: false, cautionsRead: true }))
      .body as LinkView;
    expect(down.near.radio.mountedAt).toBeNull();
  });
});

describe('the bench', () => {
  it('has nothing to try before settings are saved', async () => {
    const id = await server.linkId('Quay crane');
    const answer = await server.post(`/api/links/${id}/bench-runs`);
    expect(answer.status).toBe(409);
    expect(answer.body.detail).toContain('Save the settings of both ends first');
  });

  it('tells why the demo pair that is wrong does not pair', async () => {
    const id = await server.linkId('Net loft');
    const run = (await server.post(`/api/links/${id}/bench-runs`)).body;
    expect(run).toMatchObject({ associated: false, linked: false });
    const view = (await server.get(`/api/links/${id}`)).body as LinkView;
    expect(view.state.steps.find((s) => s.step === 'bench')?.state).toBe('fails');
  });

  it('proposes nothing where the subnet is full, and says so', async () => {
    await server.sequelize.query(`UPDATE dhcp_range SET first = '10.61.4.2', last = '10.61.4.254'`);
    const answer = await server.post(`/api/links/${await server.linkId('Quay crane')}/sheets/proposal`);
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toMatch(/Only \d of 2 static addresses are free.*Shorten the DHCP range/);
  });
});

describe('stand-in throughput', () => {
  it('passes nothing while the radios have no settings', async () => {
    const id = await server.linkId('Quay crane');
    const answer = await server.post(`/api/links/${id}/throughput-tests/standin`, { direction: 'nearToFar' });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain('do not become a link');
  });

  it('carries nothing while the antennas look elsewhere', async () => {
    const id = await server.linkId('Ice works');
    for (let i = 0; i < 3; i++)
      await server.post(`/api/standin/links/${id}/turns`, { end: 'near', axis: 'azimuth', byDeg: 20 });
    const test = (await server.post(`/api/links/${id}/throughput-tests/standin`, { direction: 'nearToFar' })).body;
    const aimed = (await server.link('Ice works')).tests.filter((t) => t.direction === 'nearToFar').at(-1);
    expect(test.mbps).toBeLessThan((aimed?.mbps ?? 0) / 2);
    expect(test.verdict.state).not.toBe('holds');
  });

  it('leaves mounts where they were turned to, for whoever comes next', async () => {
    const id = await server.linkId('Quay crane');
    const here = (await server.get(`/api/standin/links/${id}/hands`)).body;
    const again = await createApp(server.sequelize, pino({ level: 'silent' }));
    const there = await request(again.app).get(`/api/standin/links/${id}/hands`).set('host', 'localhost');
    expect(there.body).toEqual(here);
    await again.close();
  });
});

describe('the database', () => {
  it('is migrated once, and the demo loaded once', async () => {
    await migrate(server.databaseUrl);
    expect(await loadDemo(server.sequelize)).toBe(false);
    const rows = await server.sequelize.query(`SELECT name FROM migration`, { type: QueryTypes.SELECT });
    expect(rows.at(-1)).toEqual({ name: '0021-news' });
  });

  it('has one partition of readings a month, made when needed', async () => {
    const days = ['2031-12-31T23:59:59Z', '2032-01-01T00:00:00Z', '2031-12-02T00:00:00Z'].map((d) => new Date(d));
    await ensureReadingPartitions(server.sequelize, days);
    const rows = await server.sequelize.query<{ name: string }>(
      `SELECT inhrelid::regclass::text AS name FROM pg_inherits WHERE inhparent = 'reading'::regclass ORDER BY 1`,
      { type: QueryTypes.SELECT },
    );
    expect(rows.map((r) => r.name).filter((n) => n > 'reading_of_2031')).toEqual([
      'reading_of_2031_12',
      'reading_of_2032_01',
    ]);
  });

  it('lets a job go with all that belongs to it', async () => {
    const tables = [
      'link',
      'air',
      'radio',
      'place',
      'network',
      'subnet',
      'dhcp_range',
      'known_device',
      'sheet',
      'bench_run',
      'alignment',
      'reading',
      'aim_mark',
    ].concat(['throughput_test', 'change', 'event', 'link_memo', 'standin_world']);
    const transaction = await server.sequelize.transaction();
    const counts = async (): Promise<Record<string, number>> => {
      const each = tables.map((table) => `(SELECT count(*)::integer FROM ${table}) AS ${table}`);
      const [row] = await server.sequelize.query<Record<string, number>>(`SELECT ${each.join(', ')}`, {
        type: QueryTypes.SELECT,
        transaction,
      });
      return row ?? {};
    };
    try {
      const before = await counts();
      for (const table of tables) expect(before[table], table).toBeGreaterThan(0);
      await server.sequelize.query('DELETE FROM job', { transaction });
      expect(await counts()).toEqual(Object.fromEntries(tables.map((table) => [table, 0])));
    } finally {
      await transaction.rollback();
    }
    expect((await server.get('/api/jobs')).body).toHaveLength(1);
  });
});

describe('the built interface', () => {
  const webRoot = join(tmpdir(), `kivram-web-${process.pid}`);
  afterAll(() => rmSync(webRoot, { recursive: true, force: true }));

  it('is served on every path that is no file, with a nonce of its own each time', async () => {
    mkdirSync(join(webRoot, 'assets'), { recursive: true });
    writeFileSync(join(webRoot, 'index.html'), '<meta name="style-nonce" content="__STYLE_NONCE__">');
    writeFileSync(join(webRoot, 'assets', 'a.js'), '1');
    const { app, close } = await createApp(server.sequelize, pino({ level: 'silent' }), { webRoot });
    const get = (path: string) => request(app).get(path).set('host', 'localhost');
    const [first, second] = [await get('/links/x/aim'), await get('/')];
    const nonce = /content="([^"]+)"/.exec(first.text)?.[1] ?? '';
    expect(first.headers['content-security-policy']).toContain(`'nonce-${nonce}'`);
    expect(second.text).not.toContain(nonce);
    expect((await get('/assets/a.js')).text).toBe('1');
    expect((await get('/assets/gone.js')).status).toBe(404);
    await close();
  });
});

describe('the catalogue', () => {
  it.each(gear.map((model) => [model.name, model] as const))('%s: a spec sheet that hangs together', (_, model) => {
    expect(model.leastConductedDbm).toBeLessThan(model.mostConductedDbm);
    expect(model.lowestMHz).toBeLessThan(model.highestMHz);
    for (const widthMHz of model.widthsMHz) {
      const steps = rateSteps(model, widthMHz);
      expect(steps.length).toBeGreaterThan(model.phy === 'NB' ? 4 : 6);
      // In narrowband a frequency-keyed step may be slower than a phase-keyed one that needs no more.
      if (model.phy !== 'NB' && model.phy !== 'DMG')
        steps
          .slice(1)
          .forEach((step, i) => expect(step.phyRateMbps).toBeGreaterThan(steps[i]?.phyRateMbps ?? Infinity));
    }
    // Gain and beam width belong together: about 41253 / (az x el) times 0.5 to 0.8 of efficiency (Balanis, chapter 2).
    const directivityDb = 10 * Math.log10(41_253 / (model.beamWidth.azimuthDeg * model.beamWidth.elevationDeg));
    expect(model.antennaGainDbi).toBeLessThan(directivityDb);
    expect(model.antennaGainDbi).toBeGreaterThan(directivityDb - 6);
  });
});
