import type { JobLinks } from '@kivram/contract/views/job';
import { execFileSync, fork } from 'node:child_process';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { QueryTypes, type Sequelize } from 'sequelize';
import { connect } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { CrewMemberRow } from '../src/database/models/crewMember';
import { ensureReadingPartitions } from '../src/database/readingPartition';
import { loadCatalogue } from '../src/demo/load';
import { fillJob } from './fill';

// Twenty alignments at one time, first by themselves, then while somebody imports a terrain of a hundred million cells and a job of thirty megabytes, and opens a job of five
// hundred links that was never computed. Each alignment must keep nine of its ten readings a second.

const links = 500;
const aligned = 20;
const line = (label: string, value: string): void => console.log(`  ${label.padEnd(66)} ${value.padStart(14)}`);
const folder = tmpdir();

/** A terrain of 10,000 by 10,000 whole metres, about as hard to pack as real ground. */
async function makeTerrain(): Promise<string> {
  const [raw, path] = [join(folder, `kivram-load-${process.pid}.asc`), join(folder, `kivram-load-${process.pid}.tif`)];
  const side = 500;
  const rows = Array.from({ length: side }, (_, r) =>
    Array.from({ length: side }, (_, c) =>
      Math.round(300 + 200 * Math.sin(c / 17) * Math.cos(r / 23) + ((c * 7919 + r * 104729) % 9)),
    ).join(' '),
  );
  await writeFile(
    raw,
    `ncols ${side}\nnrows ${side}\nxllcorner 300000\nyllcorner 4000000\ncellsize 200\n${rows.join('\n')}\n`,
  );
  execFileSync('gdal_translate', [
    ...['-q', '-a_srs', 'EPSG:32625', '-ot', 'Int16', '-outsize', '10000', '10000', '-r', 'bilinear'],
    ...['-co', 'TILED=YES', '-co', 'COMPRESS=DEFLATE', raw, path],
  ]);
  await rm(raw);
  return path;
}

/** An alignment of long ago with so many readings that the job's file has thirty megabytes. */
async function addReadings(sequelize: Sequelize, jobId: string): Promise<void> {
  await ensureReadingPartitions(sequelize, [new Date('2026-03-10')]);
  await sequelize.query(
    `WITH made AS (
       INSERT INTO alignment (link_id, state, started_at, finished_at, plan, evidence_kind)
       SELECT id, 'abandoned', '2026-03-10T08:00:00Z', '2026-03-10T10:00:00Z',
         '{"nearSource": "phone", "farSource": "phone", "order": "endByEnd", "ends": ["near", "far"], "expectedDbm": {"near": -50, "far": -50}}', 'standin'
       FROM link WHERE job_id = :jobId AND name = 'Link 400' RETURNING id, link_id)
     INSERT INTO reading (radio_id, peer_id, at, alignment_id, t_s, rsl_dbm, chains_dbm, phone_azimuth_deg, phone_tilt_deg)
     SELECT CASE side WHEN 0 THEN near_radio_id ELSE far_radio_id END, CASE side WHEN 0 THEN far_radio_id ELSE near_radio_id END,
       '2026-03-10T08:00:00Z'::timestamptz + interval '100 ms' * n, made.id, n / 10.0, -50 - 20 * random(), ARRAY[-53, -53.5], 30 * random(), 3 * random()
     FROM made JOIN link ON link.id = made.link_id, generate_series(0, 59999) n, generate_series(0, 1) side`,
    { replacements: { jobId } },
  );
}

async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_BENCH_DATABASE_URL ?? '';
  await migrate(databaseUrl);
  const sequelize = connect(databaseUrl);
  await loadCatalogue();
  const jobId = await fillJob(sequelize, links);
  await sequelize.query('ANALYZE');
  const member = await CrewMemberRow.create({ jobId, name: 'Bench', role: 'lead' });
  await addReadings(sequelize, jobId);
  const terrain = await makeTerrain();

  const server = fork(join(process.cwd(), 'dist/index.js'), [], {
    env: { ...process.env, KIVRAM_DATABASE_URL: databaseUrl },
  });
  const port = await new Promise<number>((resolve) =>
    server.once('message', (message) => resolve((message as { port: number }).port)),
  );
  const address = `http://127.0.0.1:${port}`;
  const headers: Record<string, string> = { 'content-type': 'application/json' };
  const send = (path: string, body: string | Uint8Array<ArrayBuffer>, method = 'POST', type = 'application/json') =>
    fetch(address + path, { method, headers: { ...headers, 'content-type': type }, body });
  const session = await send('/api/session', JSON.stringify({ crewMemberId: member.id }), 'PUT');
  headers.cookie = session.headers.get('set-cookie')?.split(';')[0] ?? '';
  await session.text();

  const rows = await sequelize.query<{ id: string }>(
    `SELECT id FROM link WHERE job_id = :jobId ORDER BY name LIMIT ${aligned}`,
    { type: QueryTypes.SELECT, replacements: { jobId } },
  );
  const aim = JSON.stringify({ nearSource: 'phone', farSource: 'phone', order: 'endByEnd' });
  for (const { id } of rows) await (await send(`/api/links/${id}/alignments`, aim)).text();

  /** Readings a second of the alignment that has the fewest, and of all, between two moments. */
  const rates = async (from: Date, to: Date): Promise<{ least: number; mean: number }> => {
    const counts = await sequelize.query<{ n: number }>(
      `SELECT count(r.at)::integer / 2.0 AS n FROM alignment a LEFT JOIN reading r ON r.alignment_id = a.id AND r.at BETWEEN :from AND :to
       WHERE a.state = 'running' GROUP BY a.id`,
      { type: QueryTypes.SELECT, replacements: { from, to } },
    );
    const perSecond = counts.map(({ n }) => Number(n) / ((to.getTime() - from.getTime()) / 1000));
    return { least: Math.min(...perSecond), mean: perSecond.reduce((a, b) => a + b, 0) / perSecond.length };
  };
  const report = async (label: string, from: Date, to: Date): Promise<void> => {
    const { least, mean } = await rates(from, to);
    line(label, `${((to.getTime() - from.getTime()) / 1000).toFixed(0)} s`);
    line('  readings, of the alignment with the fewest', `${least.toFixed(2)} per second`);
    line('  readings, on average', `${mean.toFixed(2)} per second`);
  };

  console.log(`${aligned} alignments beside other work`);
  await setTimeout(3000);
  const aloneFrom = new Date();
  await setTimeout(20_000);
  await report('by themselves', aloneFrom, new Date());

  const document = Buffer.from(await (await fetch(`${address}/api/jobs/${jobId}/export`)).arrayBuffer());
  const bytes = await readFile(terrain);
  await sequelize.query('DELETE FROM link_memo');
  const from = new Date();
  const timed = async (label: string, work: () => Promise<Response>): Promise<string> => {
    const began = performance.now();
    const answer = await work();
    await answer.text();
    return `${label}: ${answer.status} after ${((performance.now() - began) / 1000).toFixed(1)} s`;
  };
  const works = await Promise.all([
    timed(`terrain of 100 million cells, ${(bytes.length / 1e6).toFixed(0)} MB`, () =>
      send('/api/terrain/uploads?name=load.tif', bytes, 'POST', 'application/octet-stream'),
    ),
    timed(`job of ${(document.length / 1e6).toFixed(0)} MB`, () => send('/api/jobs/import?copy=yes', document)),
    timed(`list of a job of ${links} links`, () => fetch(`${address}/api/jobs/${jobId}/links?limit=500`)),
  ]);
  const to = new Date();
  await report('meanwhile', from, to);
  for (const words of works) console.log(`    ${words}`);
  const list = (await (await fetch(`${address}/api/jobs/${jobId}/links?limit=1`)).json()) as JobLinks;
  line('links of the job', String(list.total));

  server.kill();
  await new Promise((resolve) => server.once('exit', resolve));
  await rm(terrain);
  await sequelize.close();
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
