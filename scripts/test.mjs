// Runs every check: types, lint, format, arrows between packages, unit tests, and the interface in a browser against databases of its own.
//   npm test              all of them
//   npm test -- unit      one of them: types, lint, format, arrows, unit, browser
import { spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { Cluster } from './lib/cluster.mjs';
import { newKey } from './lib/key.mjs';
import { ensureDebianPackages, ensureNpmPackages, projectRoot, stateFolder } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';
import { startServer, stopServer } from './lib/server.mjs';

// Every server of this run, and every test that reads its database, has the same key.
process.env.KIVRAM_KEY = newKey();

const only = process.argv[2];
/** What follows is handed on to the test runner, as in `npm test -- browser walk`. */
const more = process.argv.slice(3);
const steps = ['types', 'lint', 'format', 'arrows', 'unit', 'browser'];
if (only && !steps.includes(only)) giveUp(`"${only}" is no check; choose one of ${steps.join(', ')}`);
const wanted = (/** @type {string} */ name) => !only || only === name;

ensureNpmPackages();
ensureDebianPackages('postgresql', 'chromium', 'iperf3', 'gdal-bin', 'python3');

const reports = { vitest: join(stateFolder, 'vitest.json'), playwright: join(stateFolder, 'playwright.json') };
const template = 'kivram_loaded';
const cluster = new Cluster(join(stateFolder, 'test'), { durable: false });
/** @type {string[]} */
const failed = [];

/**
 * Runs one check. What it prints comes out whole when it has ended, so that checks which run beside each other do not mix.
 * @param {string} name @param {string} program @param {string[]} args @param {{ env?: Record<string, string>, aside?: boolean }} [options]
 * @returns {Promise<void>}
 */
function step(name, program, args, { env = {}, aside = false } = {}) {
  if (!wanted(name)) return Promise.resolve();
  if (!aside) say(name);
  const began = Date.now();
  return new Promise((resolve) => {
    const child = spawn(program, args, {
      cwd: projectRoot,
      stdio: ['ignore', aside ? 'pipe' : 'inherit', aside ? 'pipe' : 'inherit'],
      env: { ...process.env, ...env },
    });
    let printed = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => (printed += chunk));
    child.once('exit', (code) => {
      say(`${name} took ${((Date.now() - began) / 1000).toFixed(0)} s`);
      if (printed) process.stdout.write(printed);
      if (code !== 0) failed.push(name);
      resolve();
    });
  });
}

const bin = (/** @type {string} */ program) => join(projectRoot, 'node_modules/.bin', program);
const packages = ['core', 'contract', 'standin', 'server', 'web'].map((name) => `packages/${name}`);

/** What one core does while the other lints. @type {[string, string, string[]][]} */
const besideLint = [
  ['types', join(projectRoot, 'node_modules/typescript-native/bin/tsc'), ['-b', ...packages, 'e2e', '.']],
  ['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']],
  ['arrows', bin('depcruise'), ['--config', '.dependency-cruiser.mjs', ...packages.map((name) => `${name}/src`)]],
];
const linting = step('lint', bin('eslint'), ['.', '--cache', '--cache-location', join(stateFolder, 'eslint')], {
  aside: true,
});
for (const [name, program, args] of besideLint) await step(name, program, args, { aside: true });
await linting;

if (wanted('unit') || wanted('browser')) {
  ensureBuild();
  cluster.remove();
  await cluster.start();
  try {
    // The demo job is loaded once; every test file and every browser worker gets a copy.
    say('loading the demo job once');
    const address = cluster.database(template);
    await stopServer((await startServer({ databaseUrl: address })).child);
    const env = { KIVRAM_TEST_DATABASE_URL: address, KIVRAM_TEST_TEMPLATE: template };
    await step(
      'unit',
      bin('vitest'),
      ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${reports.vitest}`, ...more],
      { env },
    );
    await step(
      'browser',
      bin('playwright'),
      [
        'test',
        '--config',
        'e2e/playwright.config.ts',
        '--project=walk',
        '--project=desktop',
        '--project=phone',
        ...more,
      ],
      { env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: reports.playwright } },
    );
  } finally {
    cluster.remove();
  }
}

let passed = 0;
let broken = 0;
if (wanted('unit') && existsSync(reports.vitest)) {
  const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(reports.vitest, 'utf8'));
  passed += numPassedTests;
  broken += numFailedTests;
}
if (wanted('browser') && existsSync(reports.playwright)) {
  const { stats } = JSON.parse(readFileSync(reports.playwright, 'utf8'));
  passed += stats.expected + stats.flaky;
  broken += stats.unexpected;
}
if (wanted('unit') || wanted('browser')) console.log(`${passed} passed, ${broken} failed`);
if (failed.length) giveUp(`failed: ${failed.join(', ')}`);
