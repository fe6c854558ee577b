// Prints the benchmarks: what a large job costs, paths and visible areas, how well the aim guides do against simulated installers and how fast the core is.
//   npm run bench -- job       only the large job
//   npm run bench -- lists     only lists and searches over many jobs
//   npm run bench -- load      only aiming while others import and open large things
//   npm run bench -- viewers   only how long a reading takes to fifty viewers
//   npm run bench -- path      only paths
//   npm run bench -- aiming    only aiming: a quarter of an hour; `aiming short`: two minutes
//   npm run bench -- speed     only how fast the core is
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { Cluster } from './lib/cluster.mjs';
import { newKey } from './lib/key.mjs';
import { ensureDebianPackages, ensureNpmPackages, projectRoot, stateFolder } from './lib/packages.mjs';

ensureNpmPackages();
ensureDebianPackages('postgresql', 'gdal-bin', 'chromium');
ensureBuild();

const args = process.argv.slice(2);
const benches = {
  job: () => benchServer('job'),
  lists: () => benchServer('lists'),
  load: () => benchServer('load'),
  viewers: () => benchServer('viewers'),
  path: () => tsx('server', 'path'),
  speed: () => run(process.execPath, [built('standin', 'speed')]),
  aiming: () => tsx('standin', 'aiming'),
};
const only = Object.keys(benches).find((name) => args.includes(name));
const rest = args.filter((arg) => arg !== only);
for (const [name, bench] of Object.entries(benches)) if (!only || only === name) await bench();

/** @param {string} program @param {string[]} programArgs @param {{ cwd?: string, env?: Record<string, string> }} [options] */
function run(program, programArgs, { cwd = projectRoot, env = {} } = {}) {
  const { status } = spawnSync(program, programArgs, { stdio: 'inherit', cwd, env: { ...process.env, ...env } });
  if (status !== 0) process.exit(status ?? 1);
}

/** @param {string} folder @param {string} name */
function tsx(folder, name) {
  const file = `packages/${folder}/bench/${name}.bench.ts`;
  run('node_modules/.bin/tsx', ['--tsconfig', `packages/${folder}/tsconfig.json`, file, ...rest]);
}

/**
 * Builds a bench as the program itself is built; what runs TypeScript directly gives every inner function a name, which takes longer than many a formula.
 * @param {string} folder @param {string} name @returns {string} the file to run
 */
function built(folder, name) {
  const cwd = join(projectRoot, 'packages', folder);
  const outDir = join(cwd, 'dist', 'bench');
  const build = ['build', '--logLevel', 'warn', '--ssr', `bench/${name}.bench.ts`, '--outDir', outDir];
  run(join(projectRoot, 'node_modules/.bin/vite'), build, { cwd });
  return join(outDir, `${name}.bench.js`);
}

/** The server as it is built, over a database of its own on a disk that keeps what it is told. */
/** @param {string} name */
async function benchServer(name) {
  const cwd = join(projectRoot, 'packages/server');
  const bench = built('server', name);
  const cluster = new Cluster(join(stateFolder, 'bench', 'database'));
  cluster.remove();
  await cluster.start();
  try {
    run(process.execPath, [bench], {
      cwd,
      env: { KIVRAM_BENCH_DATABASE_URL: cluster.database('kivram_bench'), KIVRAM_KEY: newKey() },
    });
  } finally {
    cluster.remove();
  }
}
