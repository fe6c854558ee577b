import { chromium } from '@playwright/test';
import type { AimEvent } from '@kivram/contract/views/alignment';
import { fork } from 'node:child_process';
import { get } from 'node:http';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { QueryTypes } from 'sequelize';
import { connect } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { CrewMemberRow } from '../src/database/models/crewMember';
import { loadCatalogue } from '../src/demo/load';
import { fillJob } from './fill';

// One alignment with few viewers and then with many, in one run on one machine: how long a reading takes from where it was taken to each viewer, and in a real browser to
// the frame after it was drawn. Asked for: 150 ms at the 95th percentile with 50 viewers.

const few = 2;
const many = 50;
const seconds = 20;
const line = (label: string, sorted: number[]): void => {
  const at = (share: number): string =>
    `${(sorted[Math.floor(share * sorted.length)] ?? NaN).toFixed(0)} ms`.padStart(8);
  console.log(`  ${label.padEnd(58)} ${String(sorted.length).padStart(7)} ${at(0.5)} ${at(0.95)} ${at(0.99)}`);
};

/** Whoever reads the stream, as another device does: it notes how old each reading is when it arrives. */
function view(address: string, into: number[]): () => void {
  const request = get(address, (response) => {
    let rest = '';
    response.setEncoding('utf8').on('data', (piece: string) => {
      const parts = (rest + piece).split('\n\n');
      rest = parts.pop() ?? '';
      const now = Date.now();
      for (const part of parts) {
        if (!part.startsWith('data: ')) continue;
        const event = JSON.parse(part.slice(6)) as AimEvent;
        if (event.type === 'reading') into.push(now - event.atMs);
      }
    });
    response.on('error', () => undefined);
  });
  request.on('error', () => undefined);
  return () => void request.destroy();
}

async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_BENCH_DATABASE_URL ?? '';
  await migrate(databaseUrl);
  const sequelize = connect(databaseUrl);
  await loadCatalogue();
  const jobId = await fillJob(sequelize, 3);
  const member = await CrewMemberRow.create({ jobId, name: 'Bench', role: 'lead' });
  const server = fork(join(process.cwd(), 'dist/index.js'), [], {
    env: { ...process.env, KIVRAM_DATABASE_URL: databaseUrl, KIVRAM_WEB: join(process.cwd(), '../web/dist') },
  });
  const port = await new Promise<number>((resolve) =>
    server.once('message', (message) => resolve((message as { port: number }).port)),
  );
  const address = `http://127.0.0.1:${port}`;
  const session = await fetch(`${address}/api/session`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ crewMemberId: member.id }),
  });
  const cookie = session.headers.get('set-cookie')?.split(';')[0] ?? '';
  await session.text();
  const [link] = await sequelize.query<{ id: string }>('SELECT id FROM link ORDER BY name LIMIT 1', {
    type: QueryTypes.SELECT,
  });
  const begun = await fetch(`${address}/api/links/${link?.id}/alignments`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie },
    body: JSON.stringify({ nearSource: 'phone', farSource: 'phone', order: 'endByEnd' }),
  });
  const { id } = (await begun.json()) as { id: string };

  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${address}/links/${link?.id}/aim`);
  await page.getByTestId('aim-level').waitFor();

  console.log('From sample to viewer                                          samples   median     95th     99th');
  for (const viewers of [few, many]) {
    const ages: number[] = [];
    // The page is one of them.
    const stops = Array.from({ length: viewers - 1 }, () => view(`${address}/api/alignments/${id}/stream`, ages));
    await setTimeout(3000);
    ages.length = 0;
    await page.evaluate(() => performance.clearMeasures('kivram-sample-to-screen'));
    await setTimeout(1000 * seconds);
    const drawn = await page.evaluate(() =>
      performance.getEntriesByName('kivram-sample-to-screen').map(({ duration }) => duration),
    );
    line(
      `${viewers} viewers: until it arrives`,
      ages.sort((a, b) => a - b),
    );
    line(
      `${viewers} viewers: until it is drawn in a browser`,
      drawn.sort((a, b) => a - b),
    );
    for (const stop of stops) stop();
  }
  await browser.close();
  server.kill();
  await new Promise((resolve) => server.once('exit', resolve));
  await sequelize.close();
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
