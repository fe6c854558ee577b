// Runs every check: types, lint, format, arrows between packages, tests without a browser, and the interface in a browser against databases of its own.
//   npm test                      all of them
//   npm test -- changed [commit]  what is touched by what is not committed, or has changed since a commit; it says what it left out
//   npm test -- unit ...          one of them: types, lint, format, arrows, unit, browser; what follows is handed on, as in `npm test -- browser allSteps`
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { startDemoDatabase } from './lib/demoDatabase.mjs';
import { ensureDebianPackages, ensureNpmPackages, projectRoot } from './lib/packages.mjs';
import { watchProcessors } from './lib/processors.mjs';
import { forgetReports, readReports, reports } from './lib/reports.mjs';
import { giveUp, say } from './lib/say.mjs';

const steps = ['types', 'lint', 'format', 'arrows', 'unit', 'browser'];
const [mode = 'all', ...more] = process.argv.slice(2);
if (!['all', 'changed', ...steps].includes(mode))
  giveUp(`"${mode}" is no check; choose one of ${steps.join(', ')}, or "changed"`);

ensureDebianPackages('postgresql', 'chromium', 'chromium-headless-shell', 'iperf3', 'gdal-bin', 'python3');
ensureNpmPackages();

const code = ['core', 'contract', 'standin', 'server', 'web'].map((name) => `packages/${name}`);
/** What each step is run on. @type {{ lint: string[], format: string[], unit: string[] | null, browser: string[] | null, env: Record<string, string> }} */
const plan = { lint: ['.'], format: ['.'], unit: more, browser: more, env: {} };
if (mode === 'changed') await planChanged(more[0]);
const wanted = (/** @type {string} */ name) => mode === 'all' || mode === 'changed' || mode === name;

/** Leaves out what the change does not touch, and says so. @param {string | undefined} since */
async function planChanged(since) {
  const { changedFiles, touchedBy } = await import('./lib/changed.mjs');
  const changed = changedFiles(since);
  plan.unit = plan.browser = [];
  if (!changed.files.length) giveUp(`nothing has changed since ${changed.since}`);
  say(
    `changed since ${changed.since}: ${changed.files.length > 8 ? `${changed.files.length} files` : changed.files.join(', ')}`,
  );
  const touched = touchedBy(changed.files);
  if (touched.everything) return say(`everything is tested, since ${touched.everything} decides on everything`);
  const here = changed.files.filter((file) => !touched.removed.includes(file));
  plan.lint = here.filter((file) => /\.(tsx?|mjs)$/.test(file));
  plan.format = here;
  plan.unit = touched.unit.length ? touched.unit : null;
  plan.browser = touched.screens.length || touched.specs.length ? [] : null;
  plan.env = { KIVRAM_TEST_SCREENS: touched.screens.join(), KIVRAM_TEST_SPECS: touched.specs.join() };
  say(
    `tested: ${touched.unit.length} files without a browser; in the browser ${[...touched.specs, ...touched.screens].join(', ') || 'nothing'}`,
  );
  for (const words of touched.leftOut) say(`left out: ${words}`);
}

/** @type {string[]} */
const failed = [];
/** @type {{ name: string, seconds: number }[]} */
const took = [];

/**
 * Runs one check. Checks that run beside each other print when they have ended, so that their lines do not mix.
 * @param {string} name @param {string} program @param {string[]} args @param {{ env?: Record<string, string>, aside?: boolean }} [options]
 * @returns {Promise<void>}
 */
function step(name, program, args, { env = {}, aside = false } = {}) {
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
    child.once('exit', (status) => {
      note(name, began);
      if (printed) process.stdout.write(printed);
      if (status !== 0) failed.push(name);
      resolve();
    });
  });
}

/** @param {string} name @param {number} began */
function note(name, began) {
  took.push({ name, seconds: (Date.now() - began) / 1000 });
  say(`${name} took ${took.at(-1)?.seconds.toFixed(0)} s`);
}

const began = Date.now();
const processors = watchProcessors();
const bin = (/** @type {string} */ program) => join(projectRoot, 'node_modules/.bin', program);
const runs = { unit: wanted('unit') && plan.unit !== null, browser: wanted('browser') && plan.browser !== null };
/** Beside the browser, what needs no database begins while the demo is loaded, and the server's tests after it: all in one would end last, on one of two processors. */
const isSplit = runs.unit && runs.browser;

/** What one core does while the other lints. */
async function besideLint() {
  const types = join(projectRoot, 'node_modules/typescript-native/bin/tsc');
  if (wanted('types')) await step('types', types, ['-b', ...code, 'e2e', '.'], { aside: true });
  const arrows = ['--config', '.dependency-cruiser.mjs', ...code.map((name) => `${name}/src`)];
  if (wanted('arrows')) await step('arrows', bin('depcruise'), arrows, { aside: true });
  if (wanted('format') && plan.format.length)
    await step('format', bin('oxfmt'), ['--check', '--no-error-on-unmatched-pattern', ...plan.format], { aside: true });
}

/**
 * Tests without a browser: all, or, where they run beside it, the server's and the others apart, one file at a time.
 * @param {'unit' | 'server'} part @param {Record<string, string>} [env]
 * @returns {Promise<void>}
 */
async function vitestStep(part, env) {
  let chosen = plan.unit ?? [];
  if (isSplit) {
    const all = part === 'server' ? ['packages/server'] : ['--exclude', 'packages/server/**'];
    chosen = chosen.length ? chosen.filter((file) => file.startsWith('packages/server/') === (part === 'server')) : all;
    if (!chosen.length) return;
    chosen.push('--maxWorkers=1');
  }
  const outputs = ['--reporter=default', '--reporter=json', `--outputFile.json=${reports[part]}`];
  await step(part, bin('vitest'), ['run', ...outputs, ...chosen], { env, aside: isSplit });
}

/** @param {Record<string, string>} env */
async function browserStep(env) {
  const projects = ['programs', 'sensors', 'desktop'].map((name) => `--project=${name}`);
  const args = ['test', '--config', 'e2e/playwright.config.ts', ...projects, ...(plan.browser ?? [])];
  if (runs.browser)
    await step('browser', bin('playwright'), args, { env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: reports.browser } });
}

forgetReports();
const linting =
  wanted('lint') && plan.lint.length
    ? step('lint', bin('oxlint'), ['--no-error-on-unmatched-pattern', ...plan.lint], { aside: true })
    : undefined;
const beside = besideLint();
if (runs.unit || runs.browser) {
  const start = Date.now();
  ensureBuild();
  const early = isSplit ? vitestStep('unit') : undefined;
  const database = await startDemoDatabase();
  note('building and loading', start);
  try {
    await Promise.all([linting, beside]);
    const env = { ...database.env, ...plan.env };
    const later = runs.unit ? vitestStep(isSplit ? 'server' : 'unit', env) : undefined;
    // Beside each other: where the one waits, for a server that was killed or for a drive to end, the other has something to do.
    await Promise.all([browserStep(env), later, early]);
  } finally {
    database.end();
  }
}
await Promise.all([linting, beside]);

const { passed, failed: broken, files } = readReports();
if (files.length) {
  say(
    `the slowest files: ${files
      .slice(0, 10)
      .map(({ file, seconds }) => `${file} ${seconds.toFixed(1)} s`)
      .join(', ')}`,
  );
}
say(
  `in all ${((Date.now() - began) / 1000).toFixed(0)} s: ${took.map(({ name, seconds }) => `${name} ${seconds.toFixed(0)}`).join(', ')}`,
);
say(processors());
if (runs.unit || runs.browser) console.log(`${passed} passed, ${broken} failed`);
if (failed.length) giveUp(`failed: ${failed.join(', ')}`);
