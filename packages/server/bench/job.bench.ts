import type { JobLinks } from '@kivram/contract';
import { randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout } from 'node:timers/promises';
import { pino } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { createApp } from '../src/app';
import { connect } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { CrewMemberRow } from '../src/database/models';
import { loadCatalogue, loadTerrain } from '../src/demo/load';
import { authorFrom } from '../src/http/author';
import { Plans } from '../src/services/plans';

// What the first screen of a large job costs: a thousand links over the demo's terrain, with places, radios, sheets, pairings and tests.

const links = 1000;
const line = (label: string, value: string): void => console.log(`  ${label.padEnd(58)} ${value.padStart(12)}`);

/** Fills a job by set statements: links from one mast to a thousand places around it. */
async function fill(sequelize: Sequelize): Promise<string> {
  const [job] = await sequelize.query<{ id: string }>(
    `INSERT INTO job (name, country, practice) VALUES ('A thousand links', 'XT', true) RETURNING id`,
    { type: QueryTypes.SELECT },
  );
  const jobId = job?.id ?? '';
  await sequelize.query(
    `
    INSERT INTO place (job_id, name, latitude_deg, longitude_deg, ground_height_m)
      SELECT :jobId, 'Place ' || n, 33.412 + 0.022 * sin(n) * sqrt(n / 1000.0), -37.8406 + 0.024 * cos(n) * sqrt(n / 1000.0), 5
      FROM generate_series(0, :links) n;
    CREATE TEMP TABLE plan AS SELECT n, gen_random_uuid() AS air, gen_random_uuid() AS near, gen_random_uuid() AS far, gen_random_uuid() AS link
      FROM generate_series(1, :links) n;
    INSERT INTO air (id, job_id, kind, centre_mhz, width_mhz, protocol) SELECT air, :jobId, 'pair', 5775, 80, '802.11' FROM plan;
    INSERT INTO radio (id, job_id, place_id, model_id, model_revision, air_id, role, mount_height_m, conducted_dbm, mounted_at)
      SELECT near, :jobId::uuid, p.id, 'brinmoor-span-25', 1, air, 'access', 14, 11, now() FROM plan JOIN place p ON p.job_id = :jobId AND p.name = 'Place 0'
      UNION ALL
      SELECT far, :jobId::uuid, p.id, 'brinmoor-span-25', 1, air, 'station', 9, 11, now() FROM plan JOIN place p ON p.job_id = :jobId AND p.name = 'Place ' || n;
    INSERT INTO link (id, job_id, air_id, name, near_radio_id, far_radio_id, need_near_to_far_mbps, need_far_to_near_mbps)
      SELECT link, :jobId, air, concat('Link ', n), near, far, 50, 20 FROM plan;
    INSERT INTO sheet (radio_id, revision, role, network_name, security, passphrase, band, centre_mhz, scan_mhz, width_mhz, follows_width, protocol,
        ptp_only, bridge, conducted_dbm, country, address, prefix, device_name, firmware)
      SELECT r.id, revision, CASE r.role WHEN 'access' THEN 'ap' ELSE 'station' END, 'bench-' || p.n, 'wpa2-psk', 'abcd-efgh-jkmn-pqrs', '5GHz', 5775, '{}', 80, false,
        '802.11', true, true, 11, 'XT', inet '10.0.0.1' + 2 * p.n + (r.role = 'access')::integer, 16, 'radio ' || r.id, '1.0'
      FROM plan p JOIN radio r ON r.id IN (p.near, p.far) CROSS JOIN generate_series(1, 2) revision;
    INSERT INTO bench_run (link_id, linked, evidence_kind) SELECT link, true, 'standin' FROM plan;
    INSERT INTO throughput_test (link_id, at, direction, source, protocol, mbps, aborted, both_loaded, evidence_kind, verdict, expected_mbps)
      SELECT link, now() - interval '1 hour' * k, d, 'standin', 'TCP', 500, false, false, 'standin', '{"state": "holds", "terms": []}', 600
      FROM plan CROSS JOIN unnest(ARRAY['nearToFar', 'farToNear']) d CROSS JOIN generate_series(1, 3) k;
    ANALYZE;`,
    { replacements: { jobId, links } },
  );
  return jobId;
}

async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_BENCH_DATABASE_URL ?? '';
  await migrate(databaseUrl);
  let statements = 0;
  const sequelize = connect(databaseUrl, { count: () => void statements++ });
  await loadCatalogue();
  await loadTerrain(sequelize);
  const jobId = await fill(sequelize);
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
    await (await fetch(new URL('/api/health', base))).text();
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
  const member = await CrewMemberRow.create({ jobId, name: 'Bench' });
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
