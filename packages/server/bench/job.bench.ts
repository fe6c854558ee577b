import type { JobLinks } from '@kivram/contract/views/job';
import { randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout } from 'node:timers/promises';
import { pino } from 'pino';
import { QueryTypes } from 'sequelize';
import { createApp } from '../src/app';
import { connect } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { CrewMemberRow } from '../src/database/models/crewMember';
import { loadCatalogue, loadTerrain } from '../src/demo/load';
import { authorFrom } from '../src/http/author';
import { Plans } from '../src/services/plans';
import { fillJob } from './fill';

// What the first screen of a large job costs: a thousand links over the demo's terrain, with places, radios, sheets, pairings and tests.

const links = 1000;
const line = (label: string, value: string): void => console.log(`  ${label.padEnd(58)} ${value.padStart(12)}`);

async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_BENCH_DATABASE_URL ?? '';
  await migrate(databaseUrl);
  let statements = 0;
  const sequelize = connect(databaseUrl, { count: () => void statements++ });
  await loadCatalogue();
  await loadTerrain(sequelize);
  const jobId = await fillJob(sequelize, links);
  await sequelize.query('ANALYZE');
  const { app, close } = await createApp(sequelize, pino({ level: 'silent' }));
  const server = createServer(app).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/jobs/${jobId}`;

  const firstScreen = async (): Promise<{ ms: number; statements: number; bytes: number; list: JobLinks }> => {
    statements = 0;
    const start = performance.now();
    const [head, list] = await Promise.all(
      [base, `${base}/links?limit=50`].map(async (url) => (await fetch(url)).text()),
    );
    return {
      ms: performance.now() - start,
      statements,
      bytes: (head?.length ?? 0) + (list?.length ?? 0),
      list: JSON.parse(list ?? '') as JobLinks,
    };
  };
  const report = (
    label: string,
    { ms, statements: count, bytes, list }: Awaited<ReturnType<typeof firstScreen>>,
  ): void => {
    line(label, `${ms.toFixed(0)} ms`);
    line('  SQL statements', String(count));
    line(`  sent, with ${list.links.length} of ${list.total} links`, `${(bytes / 1024).toFixed(0)} KiB`);
  };

  console.log(`The first screen of a job of ${links} links`);
  // What an installer sees who aims while somebody opens this job.
  let open = false;
  const opening = firstScreen().finally(() => (open = true));
  let longestMs = 0;
  while (!open) {
    const start = performance.now();
    await (await fetch(new URL('/api/settings', base))).text();
    longestMs = Math.max(longestMs, performance.now() - start);
    await setTimeout(5);
  }
  report('nothing computed yet: after a new build', await opening);
  line('  the longest that another request waited meanwhile', `${longestMs.toFixed(0)} ms`);
  const again = [];
  for (let i = 0; i < 20; i++) again.push(await firstScreen());
  again.sort((a, b) => a.ms - b.ms);
  report('as it is opened every day, median of 20', again[10] as (typeof again)[number]);
  line('  slowest of 20', `${again.at(-1)?.ms.toFixed(0) ?? ''} ms`);
  const [radio] = await sequelize.query<{ id: string; version: number }>(
    `SELECT r.id, r.version FROM radio r JOIN link l ON l.near_radio_id = r.id WHERE l.job_id = :jobId AND l.name = 'Link 7'`,
    { type: QueryTypes.SELECT, replacements: { jobId } },
  );
  const member = await CrewMemberRow.create({ jobId, name: 'Bench', role: 'lead' });
  await new Plans(sequelize).changeRadio(
    radio?.id ?? '',
    { version: radio?.version ?? 0, conductedDbm: 8 },
    authorFrom(member, randomUUID()),
  );
  report('opened at once after one plan was changed', await firstScreen());
  await setTimeout(1000);
  report('opened a second after', await firstScreen());

  server.close();
  server.closeAllConnections();
  await close();
  await sequelize.close();
}

await main();
