// Prints the benchmarks: what a large job costs, paths and visible areas, how well the aim guides do against simulated installers and how fast the core is.
//   npm run bench -- all       every one once, aiming in short, in about ten minutes; names what became worse than it was accepted
//   npm run bench -- all --accept   the same, and accepts what it measured: scripts/bench/accepted.json
//   npm run bench -- job       only the large job
//   npm run bench -- lists     only lists and searches over many jobs
//   npm run bench -- load      only aiming while others import and open large things
//   npm run bench -- viewers   only how long a reading takes to fifty viewers
//   npm run bench -- path      only paths
//   npm run bench -- aiming    only aiming: a quarter of an hour; `aiming short`: two minutes
//   npm run bench -- speed     only how fast the core is
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { accept, accepted, figuresOf, loopMs, worseThan } from './bench/figures.mjs';
import { ensureBuild } from './lib/build.mjs';
import { Cluster } from './lib/cluster.mjs';
import { newKey } from './lib/key.mjs';
import { ensureDebianPackages, ensureNpmPackages, projectRoot, stateFolder } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';

/** A bench, and what it needs: a database, the program as it is built, a browser, a library to compare with. */
const benches = {
  job: { needs: ['database'], run: () => benchServer('job') },
  lists: { needs: ['database'], run: () => benchServer('lists') },
  load: { needs: ['database', 'program', 'gdal'], run: () => benchServer('load') },
  viewers: { needs: ['database', 'program', 'browser'], run: () => benchServer('viewers') },
  path: { needs: ['gdal'], run: () => tsx('server', 'path') },
  speed: { needs: [], run: async () => run(process.execPath, [await built('standin', 'speed')]) },
  aiming: { needs: [], run: () => tsx('standin', 'aiming') },
};
/** @type {Record<string, string>} */
const debian = { database: 'postgresql', browser: 'chromium-headless-shell', gdal: 'gdal-bin' };

/** Statements that take longer are told, ms. */
const slowMs = 50;

const args = process.argv.slice(2);
const isAll = args.includes('all');
const only = Object.keys(benches).find((name) => args.includes(name));
if (args.length && !isAll && !only)
  giveUp(`"${args.join(' ')}" is no bench; choose one of ${Object.keys(benches).join(', ')}, or "all"`);
const rest = isAll ? ['short'] : args.filter((arg) => arg !== only);
const chosen = Object.entries(benches).filter(([name]) => isAll || !only || only === name);
const needs = new Set(chosen.flatMap(([, bench]) => bench.needs));
ensureDebianPackages(...Object.keys(debian).flatMap((need) => (needs.has(need) ? (debian[need] ?? []) : [])));
ensureNpmPackages();
if (needs.has('program')) ensureBuild();

/** What the bench that runs now has printed. */
let printed = '';
/** @type {import('./bench/figures.mjs').Figure[]} */
const figures = [];
const loops = [loopMs()];
/** @type {string[]} */
const failed = [];
for (const [name, bench] of chosen) {
  printed = '';
  try {
    await bench.run();
  } catch (error) {
    say(`${name}: ${error instanceof Error ? error.message : String(error)}`);
    failed.push(name);
  }
  loops.push(loopMs());
  // The slower of both: a machine that changes its speed meanwhile makes nothing worse.
  figures.push(...figuresOf(name, printed, Math.max(...loops.slice(-2))));
}
if (failed.length) giveUp(`failed: ${failed.join(', ')}`);
if (isAll) {
  say(`the fixed loop took ${loops.map((ms) => ms.toFixed(0)).join(', ')} ms: times are compared as multiples of it`);
  const worse = worseThan(accepted(), figures);
  for (const words of worse) say(`worse: ${words}`);
  if (args.includes('--accept')) accept(figures);
  else if (!worse.length)
    say(`nothing of ${figures.length} figures is worse by more than a quarter than it was accepted`);
}

/**
 * Runs a program to its end, and notes what it prints. It throws where that fails, in words.
 * @param {string} program @param {string[]} programArgs @param {{ cwd?: string, env?: Record<string, string> }} [options]
 * @returns {Promise<void>}
 */
function run(program, programArgs, { cwd = projectRoot, env = {} } = {}) {
  const child = spawn(program, programArgs, {
    stdio: ['ignore', 'pipe', 'inherit'],
    cwd,
    env: { ...process.env, ...env },
  });
  child.stdout.on('data', (chunk) => {
    printed += chunk;
    process.stdout.write(chunk);
  });
  return new Promise((resolve, reject) =>
    child.once('close', (code) => (code === 0 ? resolve() : reject(new Error(`the bench ended with code ${code}`)))),
  );
}

/** @param {string} folder @param {string} name */
function tsx(folder, name) {
  const file = `packages/${folder}/bench/${name}.bench.ts`;
  return run('node_modules/.bin/tsx', ['--tsconfig', `packages/${folder}/tsconfig.json`, file, ...rest]);
}

/**
 * Builds a bench as the program itself is built; what runs TypeScript directly gives every inner function a name, which takes longer than many a formula.
 * @param {string} folder @param {string} name @returns {string} the file to run
 */
function built(folder, name) {
  const cwd = join(projectRoot, 'packages', folder);
  const outDir = join(cwd, 'dist', 'bench');
  const build = ['build', '--logLevel', 'warn', '--ssr', `bench/${name}.bench.ts`, '--outDir', outDir];
  const { status } = spawnSync(join(projectRoot, 'node_modules/.bin/vite'), build, { cwd, stdio: 'inherit' });
  if (status !== 0) throw new Error(`the bench ${name} could not be built; the lines above say why`);
  return join(outDir, `${name}.bench.js`);
}

/** The server as it is built, over a database of its own on a disk that keeps what it is told. @param {string} name */
async function benchServer(name) {
  const cwd = join(projectRoot, 'packages/server');
  const bench = built('server', name);
  const cluster = new Cluster(join(stateFolder, 'bench', 'database'), { explainMs: slowMs });
  cluster.remove();
  await cluster.start();
  try {
    await run(process.execPath, [bench], {
      cwd,
      env: { KIVRAM_BENCH_DATABASE_URL: cluster.database('kivram_bench'), KIVRAM_KEY: newKey() },
    });
    tellSlow(join(cluster.data, 'server.log'));
  } finally {
    cluster.remove();
  }
}

/** Says which statements took long, the slowest of each kind, with the first line of their plan. @param {string} log of the database */
function tellSlow(log) {
  if (!existsSync(log)) return;
  /** @type {Map<string, { ms: number, count: number }>} */
  const slow = new Map();
  const entries = readFileSync(log, 'utf8').matchAll(
    /duration: ([\d.]+) ms {2}plan:\s+Query Text: ([\s\S]*?)\n\t(?=\S)/g,
  );
  for (const [, ms = '', text = ''] of entries) {
    const kind = text
      .replace(/\s+/g, ' ')
      .replace(/'[^']*'/g, "'…'")
      .slice(0, 100);
    const { ms: most = 0, count = 0 } = slow.get(kind) ?? {};
    slow.set(kind, { ms: Math.max(most, Number(ms)), count: count + 1 });
  }
  const told = [...slow].sort(([, a], [, b]) => b.ms - a.ms).slice(0, 8);
  for (const [kind, { ms, count }] of told)
    console.log(`    ${count} x over ${slowMs} ms, at most ${ms.toFixed(0)} ms: ${kind}`);
}
