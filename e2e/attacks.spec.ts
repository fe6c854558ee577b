import { expect, test } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { copyDatabase } from '../scripts/lib/databases.mjs';
import { startServer, stopServer } from '../scripts/lib/server.mjs';
import { craftedFiles, mostMegabytes, mostStallMs, send } from '../scripts/siege/crafted.mjs';
import { fuzz } from '../scripts/siege/fuzz.mjs';
import { killUnderLoad } from '../scripts/siege/kills.mjs';
import { Client, idsOf } from '../scripts/siege/server.mjs';
import { strangers } from '../scripts/siege/strangers.mjs';
import { takeOverMs, twoServers } from '../scripts/siege/twoServers.mjs';
import { databaseUrl, templateName } from './server';

// The attacks of "npm run siege", each for some seconds, from another seed each time.
const seed = Date.now() % 1000;
// oxlint-disable-next-line no-console -- a run that fails is repeated from it
console.log(`seed of the attacks: ${seed}`);

async function withServer(work: (client: Client, pid: number) => Promise<void>): Promise<void> {
  const { child, port } = await startServer({ databaseUrl: copyDatabase(databaseUrl, templateName) });
  try {
    await work(new Client(`http://127.0.0.1:${port}`), child.pid ?? 0);
  } finally {
    await stopServer(child);
  }
}

test('killed under load, server and database, it loses nothing that it acknowledged and works again by itself', async () => {
  const { faults, acknowledged } = await killUnderLoad({
    rounds: 2,
    restMs: 0,
    seed,
    parts: ['server', 'database'],
    begun: process.env.KIVRAM_TEST_STATE,
  });
  expect(faults).toEqual([]);
  expect(acknowledged.readings).toBeGreaterThan(20);
});

test('requests of every kind, sound and spoilt, are answered, and never by 500', async () => {
  await withServer(async (client) => {
    const ids = await idsOf(client);
    const { faults, answers } = await fuzz({
      address: client.address,
      cookie: client.cookie,
      requests: 160,
      seed,
      ids,
      without: ['removeJob', 'removeTerrain'],
    });
    expect(faults).toEqual([]);
    expect(answers[200]).toBeGreaterThan(25);
    expect((await client.ask('/api/health')).body).toMatchObject({ ready: true, trouble: null });
  });
});

test('somebody who leads another job learns nothing of this one and changes nothing in it, whatever identifiers they send', async () => {
  const own = copyDatabase(databaseUrl, templateName);
  const folder = mkdtempSync(join(tmpdir(), 'kivram-strangers-'));
  const { child, port, opening } = await startServer({ databaseUrl: own, lan: { port: 0, folder } });
  const [lan = ''] = opening?.addresses ?? [];
  const here = new Client(`http://127.0.0.1:${port}`);
  const { routes, sent, faults } = await strangers({ here, lan, databaseUrl: own, rounds: 1, seed });
  await stopServer(child);
  rmSync(folder, { recursive: true });
  expect(faults).toEqual([]);
  expect([routes > 100, sent > 300]).toEqual([true, true]);
});

test('files that are small and unfold to much are refused in words, and nobody waits for them', async () => {
  await withServer(async (client, pid) => {
    const { job, links } = await client.begin();
    const names = [
      'the links of a job',
      'as KML',
      'unfold to 4 GB',
      '5,000,000 by 2',
      '800,000 rows',
      'in a footprint',
      '[ as iperf3',
    ];
    const files = craftedFiles({ jobId: job.id, linkId: links[0].id }).filter((f) =>
      names.some((n) => f.name.includes(n)),
    );
    expect(files.length).toBeGreaterThanOrEqual(names.length);
    for (const file of files) {
      const { status, detail, stallMs, megabytes } = await send(client, pid, file);
      expect(status, file.name).toBeGreaterThanOrEqual(400);
      expect(status, file.name).toBeLessThan(500);
      expect(detail.length, file.name).toBeGreaterThan(20);
      expect(stallMs, file.name).toBeLessThan(mostStallMs);
      expect(megabytes, file.name).toBeLessThan(mostMegabytes);
    }
  });
});

test('of two servers over one database that start at once, one reads an alignment, and the other when that one is killed', async () => {
  const { faults, backMs } = await twoServers(copyDatabase(databaseUrl, templateName));
  expect(faults).toEqual([]);
  expect(backMs).toBeLessThan(takeOverMs);
});

test('the other attacks can be made, each for a moment, and hold', () => {
  const attacks = ['migrations', 'flood', 'lines', 'secrets', 'known', 'devices', 'damage', 'pairs', 'backup'];
  const run = spawnSync(
    process.execPath,
    ['scripts/siege.mjs', ...attacks, '--minutes', '0.01', '--seed', String(seed)],
    {
      encoding: 'utf8',
      cwd: join(import.meta.dirname, '..'),
    },
  );
  expect(run.status, run.stdout + run.stderr).toBe(0);
  for (const attack of attacks) expect(run.stdout).toContain(`holds  ${attack}`);
});
