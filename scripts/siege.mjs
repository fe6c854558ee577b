// Attacks the program in every way that once stopped it, and says in a table what held. Ends with 1 when something did not.
//   npm run siege                      all attacks, about an hour and a half
//   npm run siege -- --minutes 10      all of them, shortened to about so many minutes
//   npm run siege -- kills --seed 7    one of them: kills, starts, migrations, servers, news, flood, lines, fuzz, strangers, secrets, known, disk, devices, crafted, damage, pairs, backup, packages
import { spawn, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { ensureBuild } from './lib/build.mjs';
import { Cluster } from './lib/cluster.mjs';
import { copyDatabase } from './lib/databases.mjs';
import { newKey } from './lib/key.mjs';
import './lib/plainErrors.mjs';
import { ensureDebianPackages, ensureNpmPackages, projectRoot, stateFolder } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';
import { sharedKey, startServer, stopServer } from './lib/server.mjs';
import { backup } from './siege/backup.mjs';
import { craftedFiles, megabytesOf, mostMegabytes, mostStallMs, send } from './siege/crafted.mjs';
import { dependencies } from './siege/dependencies.mjs';
import { devices } from './siege/devices.mjs';
import { flood } from './siege/flood.mjs';
import { fullDisk } from './siege/disk.mjs';
import { fuzz } from './siege/fuzz.mjs';
import { known } from './siege/known.mjs';
import { holdLines } from './siege/lines.mjs';
import { killFirstStarts, killMigrations, killUnderLoad } from './siege/kills.mjs';
import { Client, idsOf } from './siege/server.mjs';
import { news, toldMs } from './siege/news.mjs';
import { secrets } from './siege/secrets.mjs';
import { strangers } from './siege/strangers.mjs';
import { takeOverMs, twoServers } from './siege/twoServers.mjs';

const args = process.argv.slice(2);
/** @param {string} name @param {number} usual */
const number = (name, usual) => (args.includes(name) ? Number(args[args.indexOf(name) + 1]) : usual);
const wholeMinutes = 90;
const [minutes, seed] = [number('--minutes', wholeMinutes), number('--seed', 1)];
if (!(minutes > 0) || !Number.isInteger(seed)) giveUp('--minutes needs a number above 0, --seed a whole number');
const share = Math.min(1, minutes / wholeMinutes);
/** So many of what a whole siege has. @param {number} count */
const part = (count) => Math.max(1, Math.round(count * share));

const attacks = {
  kills,
  starts,
  migrations,
  servers,
  news: newsAll,
  flood: floodAll,
  lines,
  fuzz: fuzzAll,
  strangers: strangersAll,
  secrets: secretsAll,
  known: knownAll,
  disk,
  devices: devicesAll,
  crafted,
  damage,
  pairs,
  backup: backUp,
  packages: packagesAll,
};
const names = Object.keys(attacks);
const chosen = args.filter((arg, i) => !arg.startsWith('--') && !args[i - 1]?.startsWith('--'));
const unknown = chosen.find((name) => !names.includes(name));
if (unknown) giveUp(`"${unknown}" is no attack; choose among ${names.join(', ')}`);

/** @type {{ attack: string, what: string, held: boolean }[]} */
const table = [];
/** @param {string} attack @param {string} what @param {string[]} faults */
function note(attack, what, faults) {
  table.push({ attack, what, held: !faults.length });
  for (const fault of faults.slice(0, 20)) console.log(`  does not hold: ${fault}`);
}

ensureNpmPackages();
ensureDebianPackages('postgresql');
ensureBuild();
/** Among the tests the attacks go over databases of theirs, with the demo in them; else over a cluster of their own. */
const { KIVRAM_TEST_DATABASE_URL: testUrl, KIVRAM_TEST_TEMPLATE: testTemplate } = process.env;
const cluster = testUrl ? undefined : new Cluster(join(stateFolder, 'siege', 'database'));
cluster?.remove();
await cluster?.start();
/** @type {string | undefined} */
let demoUrl;
try {
  for (const [name, attack] of Object.entries(attacks)) {
    if (chosen.length && !chosen.includes(name)) continue;
    say(name);
    const began = Date.now();
    // One that cannot be made is no reason to leave the others out.
    await attack().catch((/** @type {Error} */ error) => {
      console.error(error);
      note(name, 'the attack itself', [`it ended before it was through: ${error.message}`]);
    });
    say(`${name} took ${Math.round((Date.now() - began) / 1000)} s`);
  }
} finally {
  cluster?.remove();
}
console.log();
for (const { attack, what, held } of table) console.log(`${held ? 'holds ' : 'FAILS '} ${attack.padEnd(10)} ${what}`);
process.exit(table.every((row) => row.held) ? 0 : 1);

async function kills() {
  const onRound = (/** @type {number} */ round, /** @type {string} */ words) => console.log(`  ${round + 1}: ${words}`);
  const {
    kills: done,
    acknowledged,
    faults,
    slowestBackMs,
  } = await killUnderLoad({ rounds: part(100), seed, onRound });
  const told = Object.entries(acknowledged).map(([what, count]) => `${count} ${what}`);
  const killed = Object.entries(done).map(([what, count]) => `${what} ${count}`);
  note(
    'kills',
    `${killed.join(', ')}; ${told.join(', ')} once each; back within ${(slowestBackMs / 1000).toFixed(1)} s`,
    faults,
  );
}

async function starts() {
  const onRound = (/** @type {number} */ round, /** @type {string} */ words) => console.log(`  ${round + 1}: ${words}`);
  const rounds = part(24);
  const { faults } = await killFirstStarts({ rounds, seed, onRound });
  note('starts', `${rounds} first starts killed; the next one has the whole demo`, faults);
}

async function migrations() {
  const onRound = (/** @type {number} */ round, /** @type {string} */ words) => console.log(`  ${round + 1}: ${words}`);
  const rounds = part(12);
  const { faults } = await killMigrations({ database: emptyDatabase, rounds, seed, onRound });
  note(
    'migrations',
    `${rounds} times killed while an old database was brought up to date; the next start has all of it`,
    faults,
  );
}

async function servers() {
  const rounds = part(6);
  let slowestMs = 0;
  /** @type {string[]} */
  const faults = [];
  for (let round = 0; round < rounds; round++) {
    // An empty one: that both begin to fill it is part of it.
    const result = await twoServers(emptyDatabase(`two_${round}`));
    faults.push(...result.faults);
    slowestMs = Math.max(slowestMs, result.backMs);
  }
  const told = `${rounds} times two servers over one database; the other reads on after ${(slowestMs / 1000).toFixed(1)} s at most (${takeOverMs / 1000} allowed)`;
  note('servers', told, faults);
}

/** A database with the demo, which is loaded once. @returns {Promise<string>} its address */
async function demoDatabase() {
  if (testUrl && testTemplate) return copyDatabase(testUrl, testTemplate);
  if (!demoUrl) {
    demoUrl = emptyDatabase('demo');
    await stopServer((await startServer({ databaseUrl: demoUrl })).child);
  }
  return copyDatabase(demoUrl, 'demo');
}

/** @param {string} name @returns {string} the address of a database with nothing in it */
function emptyDatabase(name) {
  if (!testUrl) return /** @type {Cluster} */ (cluster).database(name);
  return copyDatabase(testUrl, 'template0');
}

/** @param {(client: Client, pid: number, databaseUrl: string) => Promise<void>} work */
async function withServer(work) {
  const databaseUrl = await demoDatabase();
  const { child, port } = await startServer({ databaseUrl });
  try {
    await work(new Client(`http://127.0.0.1:${port}`), child.pid ?? 0, databaseUrl);
  } finally {
    await stopServer(child);
  }
}

async function newsAll() {
  const size = { viewers: share > 0.05 ? 50 : 6, changes: part(200) };
  const { faults, told, caughtUp, made, grownMegabytes } = await news(await demoDatabase(), size);
  const words = `${made} changes by two servers, one killed among them, to ${size.viewers} viewers, and to as many who take nothing: 95 of 100 told within ${told} ms (${toldMs} allowed), all within ${(caughtUp / 1000).toFixed(1)} s of the death, each once; memory +${grownMegabytes.toFixed(0)} MB`;
  note('news', words, faults);
}

async function floodAll() {
  await withServer(async (client) => {
    const [clients, seconds] = [share > 0.05 ? 100 : 8, part(60)];
    const { faults, answered, refused, rate, slowestS } = await flood(client, { clients, seconds });
    const told = `${clients} clients without a pause, 50 viewers, 50 taps at once: ${answered} answers, ${refused} told to wait, the slowest after ${slowestS.toFixed(1)} s; ${rate.toFixed(1)} readings a second`;
    note('flood', told, faults);
  });
}

async function lines() {
  const folder = join(stateFolder, 'siege', 'lan');
  const databaseUrl = emptyDatabase('lines');
  const { child, port, opening } = await startServer({ databaseUrl, demo: false, lan: { port: 0, folder } });
  try {
    const count = part(5000);
    const [door = ''] = opening?.addresses ?? [];
    const { faults, most, answerMs } = await holdLines({ door, here: `http://127.0.0.1:${port}`, lines: count });
    const told = `${count} lines opened by one device on the network: ${most} held; at the computer an answer took ${answerMs.toFixed(0)} ms`;
    note('lines', told, faults);
  } finally {
    await stopServer(child);
  }
}

async function fuzzAll() {
  await withServer(async (client, pid) => {
    const ids = await idsOf(client);
    const before = megabytesOf(pid);
    // What takes everything away is left to the end of its own attack.
    const without = ['removeJob', 'removeTerrain'];
    const { sent, answers, faults, slowest } = await fuzz({
      address: client.address,
      cookie: client.cookie,
      requests: part(20_000),
      seed,
      ids,
      without,
    });
    const grown = megabytesOf(pid) - before;
    if (grown > mostMegabytes) faults.push(`memory grew by ${grown.toFixed(0)} MB`);
    if ((await client.ask('/api/health')).status !== 200) faults.push('the server does not work afterwards');
    const told = Object.entries(answers).map(([status, count]) => `${count} of ${status}`);
    const [slow = ['', 0]] = Object.entries(slowest).sort((a, b) => b[1] - a[1]);
    note(
      'fuzz',
      `${sent} requests: ${told.join(', ')}; slowest ${slow[0]} ${(slow[1] / 1000).toFixed(1)} s; memory +${grown.toFixed(0)} MB`,
      faults,
    );
  });
}

async function strangersAll() {
  const databaseUrl = await demoDatabase();
  const lan = { port: 0, folder: join(stateFolder, 'siege', 'lan') };
  const { child, port, opening } = await startServer({ databaseUrl, lan });
  try {
    const here = new Client(`http://127.0.0.1:${port}`);
    const [door = ''] = opening?.addresses ?? [];
    const { routes, sent, faults } = await strangers({ here, lan: door, databaseUrl, rounds: part(40), seed });
    const told = `${sent} requests to ${routes} routes with the identifiers of a job that is not theirs: nothing told, nothing changed`;
    note('strangers', told, faults);
  } finally {
    await stopServer(child);
  }
}

async function secretsAll() {
  const databaseUrl = await demoDatabase();
  const folder = join(stateFolder, 'siege', 'lan');
  const uploads = join('siege', 'uploads');
  const key = newKey();
  let written = '';
  const hear = (/** @type {string} */ words) => void (written += words);
  const { child, port, opening } = await startServer({ databaseUrl, lan: { port: 0, folder }, uploads, key, hear });
  try {
    const here = new Client(`http://127.0.0.1:${port}`);
    const places = [folder, join(stateFolder, uploads), ...(cluster ? [join(cluster.data, 'server.log')] : [])];
    const [lan = ''] = opening?.addresses ?? [];
    const options = { here, lan, databaseUrl, pid: child.pid ?? 0, key, written: () => written, places };
    const { planted, asked, faults } = await secrets({ ...options, rounds: part(10), seed });
    note('secrets', `${planted} secrets planted, looked for in ${asked} answers and all that is written`, faults);
  } finally {
    await stopServer(child);
  }
}

async function knownAll() {
  const { tried, faults } = await known(await demoDatabase());
  note('known', `${tried} ways that once led in, or down, lead nowhere`, faults);
}

async function disk() {
  const result = await fullDisk();
  if (!result) return note('disk', 'NOT TRIED: a small disk can be made by root only', []);
  const { made, refused, faults } = result;
  note(
    'disk',
    `a full disk: ${made} changes acknowledged and there, ${refused} refused for it; it goes on by itself`,
    faults,
  );
}

async function devicesAll() {
  await withServer(async (client, pid) => {
    const { changed, pages, rate, faults } = await devices(client, pid, { answers: part(1500), seed });
    const told = `${changed} mutated answers of SNMP and ${pages} crafted pages: the server lives; ${rate.toFixed(1)} readings a second of another link`;
    note('devices', told, faults);
  });
}

async function crafted() {
  await withServer(async (client, pid) => {
    const { job, links } = await client.begin();
    for (const file of craftedFiles({ jobId: job.id, linkId: links[0].id })) {
      const { status, seconds, stallMs, megabytes } = await send(client, pid, file);
      const faults = [];
      if (!(status >= 400 && status < 500)) faults.push(`answered ${status}`);
      if (stallMs > mostStallMs) faults.push(`the server stood still for ${(stallMs / 1000).toFixed(1)} s`);
      if (megabytes > mostMegabytes) faults.push(`it took ${megabytes.toFixed(0)} MB`);
      note(
        'crafted',
        `${file.name}: refused after ${seconds.toFixed(1)} s, others waited ${stallMs.toFixed(0)} ms, ${megabytes.toFixed(0)} MB`,
        faults,
      );
    }
  });
}

async function backUp() {
  await withServer(async (client, pid, databaseUrl) => {
    const { faults, megabytes, size, readings, hours } = await backup(client, pid, databaseUrl, share);
    const told = `a job with ${readings} readings and ${hours} hours of iperf3, ${(size / 1e6).toFixed(0)} MB, goes out and comes back equal; memory +${megabytes.toFixed(0)} MB`;
    note('backup', told, faults);
  });
}

async function packagesAll() {
  const { words, faults } = await dependencies();
  note('packages', words, faults);
}

async function pairs() {
  const run = spawnSync(process.execPath, [builtSiege('standin', 'pairs'), String(part(100_000)), String(seed)], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  if (run.status !== 0) return note('pairs', 'random pairs of radios', ['it ended before it was through']);
  const { pairs: linked, fails, causes, faults } = JSON.parse(run.stdout);
  note(
    'pairs',
    `of ${linked + fails} random pairs of radios ${linked} paired, as the check says of each; ${causes} causes`,
    faults,
  );
}

/** Builds a part of the siege that is written in TypeScript. @param {string} room @param {string} name @returns {string} the file to run */
function builtSiege(room, name) {
  const cwd = join(projectRoot, 'packages', room);
  const outDir = join(cwd, 'dist', 'siege');
  const build = ['build', '--logLevel', 'warn', '--ssr', `siege/${name}.ts`, '--outDir', outDir];
  if (spawnSync(join(projectRoot, 'node_modules/.bin/vite'), build, { cwd, stdio: 'inherit' }).status !== 0)
    giveUp(`the attack ${name} could not be built; the lines above say why`);
  return join(outDir, `${name}.js`);
}

async function damage() {
  const program = builtSiege('server', 'damage');
  const databaseUrl = await demoDatabase();
  const child = spawn(process.execPath, [program, String(part(10_000)), String(seed)], {
    env: { ...process.env, KIVRAM_SIEGE_DATABASE_URL: databaseUrl, KIVRAM_KEY: sharedKey() },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const over = new Promise((resolve) => child.once('exit', resolve));
  for await (const line of createInterface(child.stdout)) {
    const { name, accepted, refused, slowestMs, megabytes, faults } = JSON.parse(line);
    if (slowestMs > mostStallMs) faults.push(`one took ${slowestMs} ms`);
    note(
      'damage',
      `${name}: ${accepted} read, ${refused} refused, slowest ${slowestMs} ms, ${megabytes} MB in all`,
      faults,
    );
  }
  if ((await over) !== 0) note('damage', 'all importers', ['it ended before it was through']);
}
