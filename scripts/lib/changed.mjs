import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { reachedFrom, readModules } from './modules.mjs';
import { projectRoot } from './packages.mjs';
import { giveUp } from './say.mjs';
import { modulesOf, screensOf } from './screens.mjs';

/**
 * @typedef {object} Touched What a change touches.
 * @property {string | null} everything why everything must be tested; else null
 * @property {string[]} unit files of tests that run without a browser
 * @property {string[]} screens tags of the screens whose browser tests are run
 * @property {string[]} specs files of browser tests that are run whole
 * @property {string[]} removed files that are gone
 * @property {string[]} leftOut what is not tested, in words
 */

/** Modules that other programs are started from; nothing imports them. */
const started = {
  server: [
    'packages/server/src/index.ts',
    'packages/server/src/intake/process.ts',
    'packages/server/src/radio/devices/process.ts',
  ],
  page: 'packages/web/src/main.tsx',
};
/** Browser tests that start something by its command. @type {Record<string, string[]>} */
const commands = { 'e2e/command.spec.ts': ['scripts/start.mjs', 'scripts/lib/keeper.mjs'] };
/** The main job through all layers: it is run whenever the server is touched, and has no tags, since it opens most screens and takes longer than all tests of one. */
const mainJob = 'e2e/allSteps.spec.ts';

const isText = (/** @type {string} */ file) => /\.(md|txt)$|^docs\/|^LICENSE$|^\.ci\//.test(file);
/** What the server reads while it runs, and its tests. */
const isServerData = (/** @type {string} */ file) => /^packages\/server\/(data|test\/fixtures)\//.test(file);
const isModule = (/** @type {string} */ file) => /^(packages|e2e|scripts)\/.*\.(tsx?|mjs|css)$/.test(file);

/** @param {string[]} args */
function git(...args) {
  const run = spawnSync('git', args, { cwd: projectRoot, encoding: 'utf8' });
  if (run.status !== 0) giveUp(`git ${args.join(' ')}: ${run.stderr.trim()}`);
  return run.stdout.split('\n').filter(Boolean);
}

/**
 * What differs from a commit. Without one: what is not committed, or where all is, the last commit.
 * @param {string | undefined} since @returns {{ files: string[], since: string }}
 */
export function changedFiles(since) {
  const from = (/** @type {string} */ commit) => [
    ...new Set([...git('diff', '--name-only', commit), ...git('ls-files', '--others', '--exclude-standard')]),
  ];
  if (since) return { files: from(since), since };
  const open = from('HEAD');
  return open.length
    ? { files: open, since: 'the last commit' }
    : { files: from('HEAD~1'), since: 'the commit before the last' };
}

/** @typedef {{ known: string[], modules: import('./modules.mjs').Modules, screens: import('./screens.mjs').Screen[] }} Project Its files, which module runs which, and its screens. */

/** @returns {Project} */
export function readProject() {
  const listed = git('ls-files', '--cached', '--others', '--exclude-standard');
  const known = listed.filter((file) => existsSync(join(projectRoot, file)));
  return { known, modules: readModules(known), screens: screensOf() };
}

/** @param {string[]} changed files from the root of the project @param {Project} project @returns {Touched} */
export function touchedBy(changed, { known, modules, screens } = readProject()) {
  const removed = changed.filter((file) => !known.includes(file));
  const code = changed.filter((file) => !isText(file));
  const reached = (/** @type {string} */ start) => {
    const all = reachedFrom(modules, start);
    return code.some((file) => all.has(file));
  };
  // What decides how everything is built, typed or tested.
  const odd = code.find(
    (file) =>
      !isServerData(file) &&
      (!isModule(file) || /\.config\.|\/lib\/packages\.mjs$/.test(file) || removed.includes(file)),
  );
  if (odd) return { everything: odd, unit: [], screens: [], specs: [], removed, leftOut: [] };

  const server = code.some(isServerData) || started.server.some(reached);
  const tests = known.filter((file) => /\.test\.(m?ts|mjs)$/.test(file));
  const unit = tests.filter(
    (file) => reached(file) || (server && code.some(isServerData) && file.startsWith('packages/server/')),
  );
  const around = shellOf(modules, screens);
  const shell = code.some((file) => around.has(file));
  const touchedScreens = screens.filter(
    (screen) => shell || modulesOf(screen).some((module) => reachedFromScreen(modules, module, code)),
  );
  const allSpecs = known.filter((file) => /^e2e\/.*\.spec\.ts$/.test(file));
  const specs = allSpecs.filter(
    (file) => reached(file) || commands[file]?.some(reached) || (server && file === mainJob),
  );
  const leftOut = [
    `${tests.length - unit.length} of ${tests.length} files of tests without a browser, which run nothing of it`,
    ...(touchedScreens.length < screens.length
      ? [`browser tests of ${screens.length - touchedScreens.length} of ${screens.length} screens`]
      : []),
    ...(server && touchedScreens.length < screens.length
      ? ['what those screens ask of the server, which is touched: the main job stands for it']
      : []),
    ...(touchedScreens.length && !server ? ['the main job from end to end'] : []),
    ...(allSpecs.length && !specs.includes('e2e/command.spec.ts')
      ? ['start and end of the program, and short attacks']
      : []),
  ];
  return {
    everything: null,
    unit,
    screens: [...new Set(touchedScreens.map(({ tag }) => tag))],
    specs,
    removed,
    leftOut,
  };
}

/** What is loaded with every screen. @param {import('./modules.mjs').Modules} modules @param {import('./screens.mjs').Screen[]} screens */
function shellOf(modules, screens) {
  const own = new Set(screens.flatMap(modulesOf));
  const all = reachedFrom(modules, started.page, (file) => own.has(file));
  for (const module of own) all.delete(module);
  return all;
}

/** @param {import('./modules.mjs').Modules} modules @param {string} module @param {string[]} code */
function reachedFromScreen(modules, module, code) {
  const all = reachedFrom(modules, module);
  return code.some((file) => all.has(file));
}
