import { spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { createInterface } from 'node:readline';
import { gunzipSync } from 'node:zlib';
import { freePort } from '../lib/cluster.mjs';
import { copyFolder } from '../lib/databases.mjs';
import { projectRoot } from '../lib/packages.mjs';
import { startServer, stopServer } from '../lib/server.mjs';
import { psql } from './database.mjs';
import { Random } from './random.mjs';
import { Client } from './server.mjs';

/**
 * Kills server, keeper, database or the start command at random moments, while installers aim, tap, save and import. What the server acknowledged must be there
 * afterwards, and once.
 */

/** How long everything may take to work again, ms. */
const backMs = 60_000;
/** How long a first start may take, with the demo to be loaded, on a machine that is busy, ms. */
const firstStartMs = 300_000;

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** The program as its start command runs it, in a state folder of its own. */
export class Program {
  /** @type {import('node:child_process').ChildProcess | undefined} */
  #demo;
  said = '';
  /** of requests that failed as nobody has thought of: why, once each @type {Set<string>} */
  unforeseen = new Set();
  port = 0;

  /** @param {string} name of the state folder @param {string} [begun] a state folder to begin with a copy of; without one it begins from nothing */
  constructor(name, begun) {
    this.state = join(projectRoot, '.kivram', 'siege', name);
    if (!begun) return;
    mkdirSync(dirname(this.state), { recursive: true });
    copyFolder(begun, this.state);
  }

  get address() {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts it, and waits until it says where it is. @param {boolean} [wait] */
  async start(wait = true) {
    const mostMs = existsSync(join(this.state, 'demo')) ? backMs : firstStartMs;
    this.port ||= await freePort();
    this.said = '';
    const demo = spawn(process.execPath, ['scripts/start.mjs', '--demo', '--port', String(this.port)], {
      cwd: projectRoot,
      env: { ...process.env, KIVRAM_STATE: this.state },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.#demo = demo;
    for (const stream of [demo.stdout, demo.stderr]) stream.on('data', (chunk) => (this.said += chunk));
    createInterface(demo.stdout).on('line', (line) => {
      if (!line.includes('"msg":"request failed"')) return;
      const { type, message } = JSON.parse(line).err;
      this.unforeseen.add(`${type}: ${message}`);
    });
    if (!wait) return;
    const until = Date.now() + mostMs;
    while (!this.said.includes('ready at')) {
      if (demo.exitCode !== null || Date.now() > until) throw new Error(`it does not start: ${this.said.slice(-600)}`);
      await pause(50);
    }
  }

  /** Process numbers of a part of it. @param {'parent' | 'server' | 'keeper' | 'database'} part @returns {number[]} */
  pids(part) {
    if (part === 'parent') return this.#demo?.pid ? [this.#demo.pid] : [];
    if (part === 'database') {
      try {
        return [Number(readFileSync(join(this.state, 'demo/data/postmaster.pid'), 'utf8').split('\n')[0])];
      } catch {
        return [];
      }
    }
    const file = part === 'server' ? 'dist/index.js' : 'lib/keeper.mjs';
    const found = spawnSync('pgrep', ['-P', String(this.#demo?.pid), '-f', file], { encoding: 'utf8' }).stdout;
    return found.split('\n').filter(Boolean).map(Number);
  }

  /** @param {'parent' | 'server' | 'keeper' | 'database'} part */
  async kill(part) {
    const gone =
      part === 'parent' && this.#demo ? new Promise((resolve) => this.#demo?.once('exit', resolve)) : undefined;
    for (const pid of this.pids(part)) {
      try {
        process.kill(pid, 'SIGKILL');
      } catch {
        // it has just ended by itself
      }
    }
    await gone;
  }

  /** Waits until it says that it can work. */
  async healthy() {
    const until = Date.now() + backMs;
    for (;;) {
      const answer = await fetch(`${this.address}/api/health`).catch(() => null);
      if (answer?.status === 200) return;
      if (Date.now() > until) throw new Error(`it does not work again: ${this.said.slice(-600)}`);
      await pause(100);
    }
  }

  async stop() {
    const demo = this.#demo;
    if (!demo || demo.exitCode !== null || demo.signalCode !== null) return;
    const gone = new Promise((resolve) => demo.once('exit', resolve));
    demo.kill('SIGTERM');
    await gone;
  }

  async remove() {
    await this.stop();
    rmSync(this.state, { recursive: true, force: true });
  }
}

/** What users did, and what the server told them of it. */
class Work {
  /** readings that were shown, by alignment @type {Map<string, Set<number>>} */
  readings = new Map();
  /** ids of taps, names of files, notes and copies that were acknowledged */
  taps = /** @type {{ alignmentId: string, id: string }[]} */ ([]);
  tests = /** @type {{ linkId: string, fileName: string }[]} */ ([]);
  places = /** @type {string[]} */ ([]);
  copies = /** @type {string[]} */ ([]);
  #over = false;
  /** @type {Promise<unknown>[]} */
  #running = [];

  /** @param {Client} client @param {Random} random */
  constructor(client, random) {
    this.client = client;
    this.random = random;
  }

  /** @param {{ job: any, links: any[] }} there @param {string} document a job's file without readings, to import copies of */
  begin({ job, links }, document) {
    const aimed = links.filter((l) => ['Hatchery', 'Gauge hut', 'Net loft'].includes(l.name));
    for (const { id } of aimed) this.#go(() => this.#aim(id));
    for (const { id } of links.slice(0, 3)) this.#go(() => this.#importTest(id));
    this.#go(() => this.#addPlace(job.id));
    this.#go(() => this.#copy(document));
  }

  /** What was acknowledged so far, by what it is. */
  get acknowledged() {
    const readings = [...this.readings.values()].reduce((sum, seen) => sum + seen.size, 0);
    const { taps, tests, places, copies } = this;
    return { readings, taps: taps.length, tests: tests.length, places: places.length, copies: copies.length };
  }

  /** Waits until something of every kind has been acknowledged: before that a kill proves little. */
  async underWay() {
    const until = Date.now() + backMs;
    while (Object.values(this.acknowledged).includes(0) && Date.now() < until) await pause(100);
  }

  async end() {
    this.#over = true;
    await Promise.all(this.#running);
  }

  /** Again and again, whatever happens: the next try is another. @param {() => Promise<void>} work */
  #go(work) {
    this.#running.push(
      (async () => {
        while (!this.#over) {
          await work().catch(() => undefined);
          await pause(20);
        }
      })(),
    );
  }

  /** @param {string} linkId */
  async #aim(linkId) {
    const aim = { nearSource: 'phone', farSource: 'none', order: 'endByEnd' };
    const view = (await this.client.ask(`/api/links/${linkId}`)).body;
    const id = view.running?.id ?? (await this.client.ask(`/api/links/${linkId}/alignments`, aim)).body.id;
    if (!id) return;
    const gone = new AbortController();
    const stream = await fetch(`${this.client.address}/api/alignments/${id}/stream`, { signal: gone.signal });
    if (!stream.ok || !stream.body) return pause(300).then(() => undefined);
    const seen = this.readings.get(id) ?? new Set();
    this.readings.set(id, seen);
    const decoder = new TextDecoder();
    let rest = '';
    let shown = 0;
    try {
      for await (const chunk of stream.body) {
        const lines = (rest + decoder.decode(chunk, { stream: true })).split('\n\n');
        rest = lines.pop() ?? '';
        for (const line of lines) {
          if (!line.startsWith('data: ')) continue;
          const event = JSON.parse(line.slice(6));
          if (event.type !== 'reading') continue;
          for (const { tS } of event.readings) seen.add(tS);
          if (++shown % 4 === 0) void this.#tap(id);
        }
        if (this.#over) return;
      }
    } finally {
      gone.abort();
    }
  }

  /** @param {string} alignmentId */
  async #tap(alignmentId) {
    const id = randomUUID();
    const tap = { id, end: 'near', kind: 'notch', direction: 1 };
    const { status } = await this.client.ask(`/api/alignments/${alignmentId}/marks`, tap).catch(() => ({ status: 0 }));
    if (status === 200) this.taps.push({ alignmentId, id });
  }

  /** @param {string} linkId */
  async #importTest(linkId) {
    const fileName = `${randomUUID()}.json`;
    const at = 1_790_000_000 + this.random.whole(0, 5_000_000);
    const text = JSON.stringify({
      title: fileName,
      start: { timestamp: { timesecs: at }, test_start: { protocol: 'TCP', duration: 1, reverse: 0 } },
      intervals: [{ sum: { seconds: 1, bytes: 1e7, bits_per_second: 8e7 } }],
      end: { sum_sent: { retransmits: 0 }, sum_received: { bits_per_second: 8e7, seconds: 1 } },
    });
    const body = { fileName, text, clientAt: 'near' };
    const { status } = await this.client.ask(`/api/links/${linkId}/throughput-tests/iperf3`, body);
    if (status === 200) this.tests.push({ linkId, fileName });
    await pause(100);
  }

  /** @param {string} jobId */
  async #addPlace(jobId) {
    const name = randomUUID();
    const place = { name, latitudeDeg: 33.4, longitudeDeg: -37.8, groundHeightM: 3, kind: 'landmark' };
    const { status } = await this.client.ask(`/api/jobs/${jobId}/places`, place);
    if (status === 200) this.places.push(name);
    await pause(100);
  }

  /** @param {string} document */
  async #copy(document) {
    const { status, body } = await this.client.ask('/api/jobs/import?copy=yes', document);
    if (status === 200) this.copies.push(body.jobId);
    await pause(1500);
  }

  /** What is missing or there twice, in words. @returns {Promise<string[]>} */
  async faults() {
    const faults = [];
    for (const [id, seen] of this.readings) {
      const view = (await this.client.ask(`/api/alignments/${id}`)).body;
      const stored = view.samples
        .filter((/** @type {any} */ s) => s.end === 'near')
        .map((/** @type {any} */ s) => s.tS);
      const known = new Set(stored);
      if (known.size !== stored.length) faults.push(`${stored.length - known.size} readings are there twice`);
      const lost = [...seen].filter((tS) => !known.has(tS));
      if (lost.length) faults.push(`${lost.length} of ${seen.size} readings that were shown are lost`);
      const taps = view.marks.map((/** @type {any} */ m) => m.id);
      for (const tap of this.taps) {
        if (tap.alignmentId === id && taps.filter((/** @type {string} */ t) => t === tap.id).length !== 1)
          faults.push(`the tap ${tap.id} is not there once`);
      }
    }
    const { job, places } = await this.client.begin();
    const names = places.map((/** @type {any} */ p) => p.name);
    for (const name of this.places)
      if (names.filter((/** @type {string} */ n) => n === name).length !== 1)
        faults.push(`the place ${name} is not there once`);
    for (const linkId of new Set(this.tests.map((t) => t.linkId))) {
      const { tests } = (await this.client.ask(`/api/links/${linkId}`)).body;
      const files = tests.map((/** @type {any} */ t) => t.fileName);
      for (const test of this.tests) {
        if (test.linkId === linkId && files.filter((/** @type {string} */ f) => f === test.fileName).length !== 1)
          faults.push(`the test ${test.fileName} is not there once`);
      }
    }
    const jobs = (await this.client.ask('/api/jobs')).body;
    for (const copy of this.copies) {
      const one = jobs.filter((/** @type {any} */ j) => j.id === copy);
      if (one.length !== 1 || one[0].links !== jobs.find((/** @type {any} */ j) => j.id === job.id).links)
        faults.push(`the copy ${copy} is not whole`);
    }
    // What is cut off is not there now, or is tried again: never something that nobody has thought of.
    for (const what of this.client.broken) faults.push(`answered by 500: ${what}`);
    const torn = jobs.filter((/** @type {any} */ j) => j.links !== jobs[0].links);
    if (torn.length) faults.push(`${torn.length} jobs are there in half`);
    return faults;
  }
}

/**
 * @param {{ rounds: number, seed: number, parts?: ('parent' | 'server' | 'keeper' | 'database')[], onRound?: (round: number, words: string) => void, restMs?: number, begun?: string }} options
 *   restMs: how long is worked on after the last kill; begun: a state folder to begin with a copy of
 * @returns {Promise<{ kills: Record<string, number>, acknowledged: Record<string, number>, faults: string[], slowestBackMs: number }>}
 */
export async function killUnderLoad({
  rounds,
  seed,
  parts = ['server', 'parent', 'database', 'keeper'],
  onRound,
  restMs = 9000,
  begun,
}) {
  const random = new Random(seed);
  const program = new Program(`kills-${process.pid}`, begun);
  /** @type {Record<string, number>} */
  const kills = {};
  let slowestBackMs = 0;
  try {
    await program.start();
    const client = new Client(program.address);
    const there = await client.begin();
    const whole = (await client.ask(`/api/jobs/${there.job.id}/export`)).body;
    const document = JSON.stringify({
      ...whole,
      alignments: [],
      events: whole.events.map((/** @type {any} */ e) => ({ ...e, detail: {} })),
    });
    const work = new Work(client, random);
    work.begin(there, document);
    await work.underWay();
    for (let round = 0; round < rounds; round++) {
      await pause(random.between(500, 4000));
      const part = /** @type {'parent'} */ (parts[round % parts.length]);
      const began = Date.now();
      await program.kill(part);
      if (part === 'parent') await program.start();
      await program.healthy();
      slowestBackMs = Math.max(slowestBackMs, Date.now() - began);
      kills[part] = (kills[part] ?? 0) + 1;
      onRound?.(round, `${part} killed, back after ${((Date.now() - began) / 1000).toFixed(1)} s`);
    }
    // Leases of what was killed run out, and everything that runs is read again.
    await pause(restMs);
    await work.end();
    const faults = await work.faults();
    for (const words of program.unforeseen) faults.push(`a request failed of ${words}`);
    const { acknowledged } = work;
    for (const [what, count] of Object.entries(acknowledged))
      if (!count) faults.push(`nothing was acknowledged of ${what}`);
    return { kills, acknowledged, faults, slowestBackMs };
  } finally {
    await program.remove();
  }
}

/**
 * Kills a first start, tables and demo still in the making, as a whole; the next start must have the whole demo, once.
 * @param {{ rounds: number, seed: number, onRound?: (round: number, words: string) => void }} options
 */
export async function killFirstStarts({ rounds, seed, onRound }) {
  const random = new Random(seed);
  /** @type {string[]} */
  const faults = [];
  for (let round = 0; round < rounds; round++) {
    const program = new Program(`first-${process.pid}`);
    try {
      await program.remove();
      await program.start(false);
      const afterMs = random.between(200, 14_000);
      await pause(afterMs);
      const part = random.of(/** @type {const} */ (['parent', 'server', 'database']));
      await program.kill(part);
      if (part === 'parent') await program.start();
      await program.healthy();
      const client = new Client(program.address);
      const jobs = (await client.ask('/api/jobs')).body;
      if (jobs.length !== 1 || jobs[0].links !== 13)
        faults.push(`${part} killed after ${Math.round(afterMs)} ms: ${JSON.stringify(jobs)}`);
      onRound?.(round, `${part} killed ${(afterMs / 1000).toFixed(1)} s into the first start`);
    } catch (error) {
      faults.push(String(error));
    } finally {
      await program.remove();
    }
  }
  return { faults };
}

/**
 * Kills a server while it brings a database of an older version up to date; the next start must find it whole.
 * @param {{ database: (name: string) => string, rounds: number, seed: number, onRound?: (round: number, words: string) => void }} options
 */
export async function killMigrations({ database, rounds, seed, onRound }) {
  const random = new Random(seed);
  const old = gunzipSync(readFileSync(join(projectRoot, 'packages/server/test/fixtures/before-airs.sql.gz')));
  /** @type {string[]} */
  const faults = [];
  for (let round = 0; round < rounds; round++) {
    const databaseUrl = database(`old_${round}`);
    psql(databaseUrl, old);
    const [before] = psql(databaseUrl, rowsOfOld);
    const afterMs = random.between(300, 3000);
    const first = startServer({ databaseUrl }).catch(() => undefined);
    await pause(afterMs);
    spawnSync('pkill', ['-KILL', '-P', String(process.pid), '-f', 'dist/index.js']);
    await first;
    const { child, port } = await startServer({ databaseUrl });
    const [after] = psql(databaseUrl, rowsOfOld);
    const client = new Client(`http://127.0.0.1:${port}`);
    const { links } = await client.begin();
    for (const { id } of links) {
      const { status } = await client.ask(`/api/links/${id}`);
      if (status !== 200)
        faults.push(`a link answers ${status} after a start that was killed after ${Math.round(afterMs)} ms`);
    }
    if (before !== after) faults.push(`killed after ${Math.round(afterMs)} ms: ${before} became ${after}`);
    await stopServer(child);
    onRound?.(round, `killed ${(afterMs / 1000).toFixed(1)} s into bringing an old database up to date`);
  }
  return { faults };
}

const rowsOfOld = `SELECT (SELECT count(*) FROM link) || ' links, ' || (SELECT count(*) FROM radio) || ' radios, ' || (SELECT count(*) FROM sheet) || ' sheets, ' ||
  (SELECT count(*) FROM reading) || ' readings, ' || (SELECT count(*) FROM aim_mark) || ' taps, ' || (SELECT count(*) FROM throughput_test) || ' tests, ' || (SELECT count(*) FROM event) || ' events'`;
