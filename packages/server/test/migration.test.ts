import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { LinkView } from '@kivram/contract/views/link';
import type { StepState } from '@kivram/core/verdict/steps';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate } from '../src/database/migrate';
import { loadCatalogue } from '../src/demo/load';
import { sealOldPassphrases } from '../src/secrets/sealing';
import { startTestServer, type TestServer } from './server';
import { administer, databaseNamed } from './template';

const fixtures = join(import.meta.dirname, 'fixtures');

/** A database as the commit before airs made it, filled by its own demo, with a plan changed after its tests, a radio in two links and a licensed pair. */
async function databaseBefore(): Promise<string> {
  const name = `kivram_before_${process.pid}`;
  await administer(`CREATE DATABASE ${name}`);
  const url = new URL(databaseNamed(name));
  const sql = gunzipSync(readFileSync(join(fixtures, 'before-airs.sql.gz')));
  const run = spawnSync(
    'psql',
    ['-qX', '-v', 'ON_ERROR_STOP=1', '-h', url.hostname, '-p', url.port, '-U', url.username, '-d', name],
    { input: sql, env: { ...process.env, PGPASSWORD: decodeURIComponent(url.password) }, encoding: 'utf8' },
  );
  expect(run.stderr.replace(/^.*set_config.*$/gm, '').trim()).toBe('');
  return url.toString();
}

let server: TestServer;
beforeAll(async () => {
  const url = await databaseBefore();
  await migrate(url);
  await migrate(url); // once more changes nothing
  server = await startTestServer({ over: url });
  await loadCatalogue();
  // As a server does when it starts.
  await sealOldPassphrases(server.sequelize);
});
afterAll(() => server.close());

const step = (view: LinkView, name: string): StepState | undefined => view.state.steps.find((s) => s.step === name);
const rows = <Row extends object>(sql: string): Promise<Row[]> =>
  server.sequelize.query<Row>(sql, { type: QueryTypes.SELECT });

describe('a database from before airs', () => {
  it('keeps every link, with its channel on an air and its power with its radios', async () => {
    const view = await server.link('Ice works');
    expect(view.air).toMatchObject({ kind: 'pair', centreMHz: 5775, widthMHz: 80, returnMHz: null });
    expect(view.near.radio).toMatchObject({ role: 'access', conductedDbm: 11, modelRevision: 1 });
    expect(view.far.radio).toMatchObject({ role: 'station', conductedDbm: 11 });
    expect(view.near.radio.mountedAt).not.toBeNull();
    expect((await server.links()).length).toBe(9);
  });

  it('takes links that share a radio for a hub, and a full-duplex one for a licensed pair', async () => {
    const first = await server.link('Net loft');
    const second = await server.link('Net loft, second station');
    expect(second.air.id).toBe(first.air.id);
    expect(first.air.kind).toBe('hub');
    expect(second.near.radio.id).toBe(first.near.radio.id);
    expect(first.sharers.map((s) => s.name)).toEqual(['Net loft, second station']);
    expect((await server.link('Beacon shed')).air).toMatchObject({ kind: 'duplex', returnMHz: 5845 });
  });

  it('lets what was proven stand where nothing was changed after it, and says what it rests on', async () => {
    const view = await server.link('Ice works');
    for (const name of ['bench', 'mount', 'aim', 'prove']) expect(step(view, name)?.state, name).toBe('holds');
    expect(step(view, 'prove')?.evidence?.kind).toBe('standin');
    expect(view.practice).toBe(true);
  });

  it('opens again what was proven before a plan was changed, for nobody knows what it was true for', async () => {
    const view = await server.link('Slipway store');
    for (const name of ['bench', 'aim', 'prove']) {
      expect(step(view, name)?.state, name).toBe('open');
      expect(step(view, name)?.because, name).toContain('before Kivram kept what a record rests on');
    }
  });

  it('gives readings and marks to radios', async () => {
    const [count] = await rows<{ readings: number; marks: number; far: number }>(
      `SELECT (SELECT count(*)::integer FROM reading) AS readings, (SELECT count(*)::integer FROM aim_mark) AS marks,
         (SELECT count(*)::integer FROM aim_mark m JOIN alignment a ON a.id = m.alignment_id JOIN link l ON l.id = a.link_id
          WHERE m.radio_id = l.far_radio_id) AS far`,
    );
    expect(count).toMatchObject({ readings: 720, marks: 112 });
    expect(count?.far).toBeGreaterThan(20);
    const { alignment } = await server.link('Gauge hut');
    const { samples } = (await server.get(`/api/alignments/${alignment?.id}`)).body as { samples: { end: string }[] };
    expect(samples.filter((s) => s.end === 'near')).toHaveLength(360);
  });

  it('goes on working: a plan changes, sheets are proposed, a test runs', async () => {
    const view = await server.link('Hatchery');
    const changed = await server.patch(`/api/links/${view.link.id}`, {
      version: view.link.version,
      near: { version: view.near.radio.version, conductedDbm: 10 },
    });
    expect(changed.body.near.radio.conductedDbm).toBe(10);
    expect((await server.post(`/api/links/${view.link.id}/sheets/proposal`)).status).toBe(200);
    const test = await server.post(`/api/links/${await server.linkId('Ice works')}/throughput-tests/standin`, {
      direction: 'nearToFar',
    });
    expect(test.body.mbps).toBeGreaterThan(100);
  });

  it('loses no table to the old shape', async () => {
    const columns = await rows<{ name: string }>(
      `SELECT column_name AS name FROM information_schema.columns WHERE table_name = 'link' AND table_schema = 'public'`,
    );
    for (const gone of ['centre_mhz', 'near_conducted_dbm', 'near_mounted_at', 'duplex'])
      expect(columns.map((c) => c.name)).not.toContain(gone);
    expect(await rows(`SELECT 1 FROM pg_class WHERE relname LIKE 'reading_before%'`)).toEqual([]);
  });
});

describe('a job document from before airs', () => {
  const old = (): Record<string, unknown> =>
    JSON.parse(gunzipSync(readFileSync(join(fixtures, 'job-version-1.json.gz'))).toString()) as Record<string, unknown>;

  it('comes in as the database of that time does', async () => {
    const result = await server.post('/api/jobs/import?replace=yes', old());
    expect(result.body).toMatchObject({ links: 9, warnings: [] });
    await server.put('/api/session', { crewMemberId: server.crewMemberId });
    const view = await server.link('Ice works');
    for (const name of ['bench', 'mount', 'aim', 'prove']) expect(step(view, name)?.state, name).toBe('holds');
    expect(step(await server.link('Slipway store'), 'aim')?.state).toBe('open');
    expect((await server.link('Net loft')).air.kind).toBe('hub');
    const document = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    expect(document.formatVersion).toBe(5);
    expect(document.crew.map((member) => member.role)).toEqual(document.crew.map(() => 'lead'));
    expect(document.alignments.reduce((sum, a) => sum + a.readings.length, 0)).toBe(720);
    expect(document.alignments.reduce((sum, a) => sum + a.marks.length, 0)).toBe(112);
  });

  it.each<[string, (document: Record<string, unknown>) => unknown]>([
    ['links that are no list', (d) => ({ ...d, links: 7 })],
    ['a radio whose place is missing', (d) => ({ ...d, places: [] })],
    ['a link that is no object', (d) => ({ ...d, links: [null] })],
    ['alignments without a plan', (d) => ({ ...d, alignments: [{}] })],
    ['a test without a verdict', (d) => ({ ...d, tests: [{}] })],
  ])('is refused in words with %s, and changes nothing', async (_, spoil) => {
    const answer = await server.post('/api/jobs/import?replace=yes', spoil(old()) as object);
    expect(answer.status).toBe(422);
    expect(answer.body.detail.length).toBeGreaterThan(20);
    expect((await server.links()).length).toBe(9);
  });
});
