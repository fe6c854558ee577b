// Runs every check: types, lint, format, arrows between packages, unit tests, and the interface in a browser against a database of its own.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { Cluster } from './lib/cluster.mjs';
import { ensureDebianPackage, ensureNpmPackages, postgresBin, projectRoot, stateFolder } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';
import { startServer, stopServer } from './lib/server.mjs';

ensureNpmPackages();
ensureDebianPackage('postgresql', () => postgresBin() !== undefined);
ensureDebianPackage('chromium', () => existsSync('/usr/bin/chromium'));
ensureDebianPackage('iperf3', () => existsSync('/usr/bin/iperf3'));
ensureDebianPackage('gdal-bin', () => existsSync('/usr/bin/gdalinfo'));

const only = process.argv[2];
const reports = { vitest: join(stateFolder, 'vitest.json'), playwright: join(stateFolder, 'playwright.json') };
const cluster = new Cluster(join(stateFolder, 'test'), { durable: false });
/** @type {string[]} */
const failed = [];

/** @param {string} name @param {string} program @param {string[]} args @param {Record<string, string>} [env] */
function step(name, program, args, env = {}) {
  if (only && only !== name) return;
  say(name);
  const run = spawnSync(join(projectRoot, 'node_modules/.bin', program), args, {
    cwd: projectRoot,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  if (run.status !== 0) failed.push(name);
}

if (!only || only === 'types') {
  say('types');
  if (spawnSync(process.execPath, ['scripts/types.mjs'], { cwd: projectRoot, stdio: 'inherit' }).status !== 0)
    failed.push('types');
}
step('lint', 'eslint', ['.']);
step('format', 'prettier', ['--check', '--log-level', 'warn', '.']);
step('arrows', 'depcruise', [
  '--config',
  '.dependency-cruiser.mjs',
  ...['core', 'contract', 'standin', 'server', 'web'].map((p) => `packages/${p}/src`),
]);

cluster.remove();
await cluster.start();
try {
  step('unit', 'vitest', ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${reports.vitest}`], {
    KIVRAM_TEST_DATABASE_URL: cluster.database('kivram_unit'),
  });
  if (!only || only === 'browser') {
    ensureBuild();
    const server = await startServer({ databaseUrl: cluster.database('kivram_browser') });
    step(
      'browser',
      'playwright',
      ['test', '--config', 'e2e/playwright.config.ts', '--project', 'walk', '--project', 'phone'],
      {
        KIVRAM_URL: `http://127.0.0.1:${server.port}`,
        KIVRAM_CRASH_DATABASE_URL: cluster.database('kivram_crash'),
        PLAYWRIGHT_JSON_OUTPUT_NAME: reports.playwright,
      },
    );
    await stopServer(server.child);
  }
} finally {
  cluster.remove();
}

let passed = 0;
let broken = 0;
if (!only || only === 'unit') {
  const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(reports.vitest, 'utf8'));
  passed += numPassedTests;
  broken += numFailedTests;
}
if ((!only || only === 'browser') && existsSync(reports.playwright)) {
  const { stats } = JSON.parse(readFileSync(reports.playwright, 'utf8'));
  passed += stats.expected + stats.flaky;
  broken += stats.unexpected;
}
console.log(`${passed} passed, ${broken} failed`);
if (failed.length) giveUp(`failed: ${failed.join(', ')}`);
