import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { createApp } from '../src/app';
import { connect } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { loadCatalogue } from '../src/demo/load';
import { JobRow } from '../src/database/models/job';
import { find } from '../src/services/find';
import { fillJob } from './fill';

// What lists and searches cost where there are many jobs: 300 of them with 20,000 links, 20,300 places, 40,000 radios and twice as many sheets.

const jobs = 300;
const links = 20_000;
const tries = 15;
const line = (label: string, value: string): void => console.log(`  ${label.padEnd(58)} ${value.padStart(12)}`);

async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_BENCH_DATABASE_URL ?? '';
  await migrate(databaseUrl);
  const sequelize = connect(databaseUrl);
  await loadCatalogue();
  let jobId = '';
  for (let i = 0; i < jobs; i++) jobId = await fillJob(sequelize, Math.ceil(links / jobs), `Job ${i}`);
  // As a database is that has stood for a minute.
  await sequelize.query('VACUUM ANALYZE');
  const { app, close } = await createApp(sequelize, pino({ level: 'silent' }));
  const server = createServer(app).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;

  const report = (label: string, path: string): Promise<void> =>
    measure(label, async () => (await fetch(base + path)).text());
  const measure = async (label: string, ask: () => Promise<string>): Promise<void> => {
    const ms: number[] = [];
    let bytes = 0;
    for (let i = 0; i < tries; i++) {
      const start = performance.now();
      bytes = (await ask()).length;
      ms.push(performance.now() - start);
    }
    ms.sort((a, b) => a - b);
    line(label, `${ms[Math.floor(tries / 2)]?.toFixed(0) ?? ''} ms`);
    line('  slowest, sent', `${ms.at(-1)?.toFixed(0) ?? ''} ms, ${(bytes / 1024).toFixed(0)} KiB`);
  };

  console.log(`Lists and searches over ${jobs} jobs and ${links} links, median of ${tries}`);
  // Computed once for each job, when it is first opened after a new build.
  await (await fetch(`${base}/api/jobs/${jobId}/links`)).text();
  await report('all jobs', '/api/jobs');
  await report("a job's links", `/api/jobs/${jobId}/links?limit=50`);
  await report("a job's links by a part of a name", `/api/jobs/${jobId}/links?find=place%207`);
  await report('the catalogue', '/api/catalogue');
  await report('the timeline', `/api/jobs/${jobId}/events`);
  for (const text of ['Link 7', 'place', '10.0.0.6', 'radio', '02:4b', 'nothing is called so'])
    await report(`find "${text}"`, `/api/find?text=${encodeURIComponent(text)}&job=${jobId}`);

  // Over the network only those of one's own jobs are looked through.
  const all = await JobRow.findAll({ attributes: ['id'] });
  const half = all.filter((_, i) => i % 2 === 0).map(({ id }) => id);
  for (const text of ['Link 7', 'place', '10.0.0.6', '02:4b'])
    await measure(`find "${text}", by one who works on half of the jobs`, async () =>
      JSON.stringify(await find(sequelize, text, jobId, half)),
    );

  server.close();
  server.closeAllConnections();
  await close();
  await sequelize.close();
}

await main();
