import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream, mkdtempSync, openAsBlob, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { postgresBin } from '../lib/packages.mjs';
import { megabytesOf, mostMegabytes } from './crafted.mjs';

/** Readings of one alignment that are added to the demo. */
const mostReadings = 200_000;

/**
 * The demo with so many readings more goes out as a file, comes back as a copy, and goes out again: both files must say the same, but for the identifiers.
 * @param {import('./server.mjs').Client} client @param {number} pid of the server @param {string} databaseUrl @param {number} share of a whole siege
 */
export async function backup(client, pid, databaseUrl, share) {
  // It takes two minutes whole, and is shortened only where all takes a minute.
  const [readings, hours] = share > 0.05 ? [mostReadings, mostHours] : [2000, 1];
  const { job } = await client.begin();
  await addReadings(databaseUrl, readings);
  await addHours(client, hours);
  const before = megabytesOf(pid);
  let most = 0;
  const looking = setInterval(() => (most = Math.max(most, megabytesOf(pid) - before)), 50);
  const folder = mkdtempSync(join(tmpdir(), 'kivram-backup-'));
  /** @type {string[]} */
  const faults = [];
  try {
    const out = join(folder, 'out.json');
    await save(client, job.id, out);
    const answer = await fetch(`${client.address}/api/jobs/import?copy=yes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie: client.cookie },
      body: await openAsBlob(out),
    });
    const result = /** @type {any} */ (await answer.json());
    if (answer.status !== 200)
      return { faults: [`it does not come back: ${result.detail}`], megabytes: most, size: 0, readings, hours };
    const again = join(folder, 'again.json');
    await save(client, result.jobId, again);
    const [first, second] = [await contentOf(out), await contentOf(again)];
    if (first.readings < readings) faults.push(`only ${first.readings} readings went out`);
    if (first.readings !== second.readings)
      faults.push(`${first.readings} readings went out, ${second.readings} came back`);
    if (first.hash !== second.hash) faults.push('what came back is not what went out');
    if (most > mostMegabytes) faults.push(`it took ${most.toFixed(0)} MB`);
    return { faults, megabytes: most, size: first.bytes, readings, hours };
  } finally {
    clearInterval(looking);
    rmSync(folder, { recursive: true });
  }
}

/** Hours of iperf3 that a link has: together they hold more values than all else in a job may. */
const mostHours = 16;

/** @param {import('./server.mjs').Client} client @param {number} hours */
async function addHours(client, hours) {
  const { links } = await client.begin();
  const sum = { seconds: 1, bytes: 1e7, bits_per_second: 8e7, retransmits: 0, omitted: false };
  const interval = { streams: [{ socket: 5, snd_cwnd: 1, rtt: 1, rttvar: 1, pmtu: 1500, ...sum, sender: true }], sum };
  for (let hour = 0; hour < hours; hour++) {
    const text = JSON.stringify({
      title: `hour ${hour}`,
      start: { timestamp: { timesecs: 1_790_000_000 }, test_start: { protocol: 'TCP', duration: 3600, reverse: 0 } },
      intervals: Array(3600).fill(interval),
      end: { sum_sent: { retransmits: 0 }, sum_received: { bits_per_second: 8e7, seconds: 3600 } },
    });
    const body = { fileName: `hour ${hour}.json`, clientAt: 'near', text };
    const answer = await client.ask(`/api/links/${links[0].id}/throughput-tests/iperf3`, body, 'POST');
    if (answer.status !== 200)
      throw new Error(`an hour of iperf3 is answered by ${answer.status}: ${answer.body.detail}`);
  }
}

/** @param {import('./server.mjs').Client} client @param {string} jobId @param {string} path */
async function save(client, jobId, path) {
  // Passphrases go out for a lead of this job only, and a copy has people of its own.
  const { crew } = (await client.ask(`/api/jobs/${jobId}`)).body;
  const lead = crew.find((/** @type {any} */ member) => member.role === 'lead');
  await client.ask('/api/session', { crewMemberId: lead.id }, 'PUT');
  const answer = await fetch(`${client.address}/api/jobs/${jobId}/export?secrets=include`, {
    headers: { cookie: client.cookie },
  });
  if (!answer.ok || !answer.body) throw new Error(`the export answers ${answer.status}`);
  await pipeline(Readable.fromWeb(/** @type {any} */ (answer.body)), createWriteStream(path));
}

/**
 * What a job's file says, whatever its identifiers are: every piece between two braces with the identifiers taken out, the pieces in any order, for rows that have no
 * order but that of their identifiers come in another one.
 * @param {string} path
 */
async function contentOf(path) {
  let bytes = 0;
  let count = 0;
  const sum = new BigUint64Array(1);
  const lines = createInterface({
    input: createReadStream(path).on('data', (chunk) => (bytes += chunk.length)),
    crlfDelay: Infinity,
  });
  for await (const line of lines) {
    // Of two readings of one moment either may come first, so that what stands before the first one is a piece by itself.
    for (const piece of line.replaceAll('"readings":[', '"readings":}').split('}')) {
      if (piece.includes('"job":{')) continue; // a copy has a name of its own
      if (piece.includes('Took the job along')) continue; // written down each time
      if (piece.includes('"rslDbm":') && piece.includes('"tS":')) count++;
      const plain = piece
        .replace(/[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}/g, '#')
        .replace(/"(exportedAt|id)":[^,]*/g, '')
        .replace(/^[,\]]*("\w+":\[[,\]]*)*/, '');
      if (plain) sum[0] = (sum[0] ?? 0n) + createHash('sha256').update(plain).digest().readBigUInt64LE(0);
    }
  }
  return { bytes, readings: count, hash: String(sum[0]) };
}

/** Gives the first link an alignment of long ago. @param {string} databaseUrl @param {number} readings */
async function addReadings(databaseUrl, readings) {
  const url = new URL(databaseUrl);
  const sql = `
    CREATE TABLE IF NOT EXISTS reading_of_2026_03 PARTITION OF reading FOR VALUES FROM ('2026-03-01T00:00:00Z') TO ('2026-04-01T00:00:00Z');
    WITH made AS (
      INSERT INTO alignment (link_id, state, started_at, finished_at, plan, evidence_kind)
      SELECT id, 'abandoned', '2026-03-10T08:00:00Z', '2026-03-10T12:00:00Z',
        '{"nearSource": "phone", "farSource": "phone", "order": "endByEnd", "ends": ["near", "far"], "expectedDbm": {"near": -50, "far": -50}}', 'standin'
      FROM link ORDER BY name LIMIT 1 RETURNING id, link_id)
    INSERT INTO reading (radio_id, peer_id, at, alignment_id, t_s, rsl_dbm, chains_dbm, phone_azimuth_deg, phone_tilt_deg)
    SELECT CASE side WHEN 0 THEN near_radio_id ELSE far_radio_id END, CASE side WHEN 0 THEN far_radio_id ELSE near_radio_id END,
      '2026-03-10T08:00:00Z'::timestamptz + interval '100 ms' * n, made.id, n / 10.0, -50 - 20 * random(), ARRAY[-53, -53.5], 30 * random(), 3 * random()
    FROM made JOIN link ON link.id = made.link_id, generate_series(1, ${readings / 2}) n, generate_series(0, 1) side`;
  await promisify(execFile)(
    join(postgresBin() ?? '', 'psql'),
    [
      '-qX',
      '-v',
      'ON_ERROR_STOP=1',
      '-h',
      url.hostname,
      '-p',
      url.port,
      '-U',
      url.username,
      '-d',
      url.pathname.slice(1),
      '-c',
      sql,
    ],
    { env: { ...process.env, PGPASSWORD: decodeURIComponent(url.password) } },
  );
}
