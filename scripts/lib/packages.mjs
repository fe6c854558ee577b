import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { giveUp, say } from './say.mjs';

export const projectRoot = join(import.meta.dirname, '..', '..');

/** Everything the program keeps on this machine, outside git. A test starts the demo in a folder of its own. */
export const stateFolder = process.env.KIVRAM_STATE ?? join(projectRoot, '.kivram');

/** Installs the npm packages of the lock file, unless they are those already installed. */
export function ensureNpmPackages() {
  const lock = readFileSync(join(projectRoot, 'package-lock.json'), 'utf8');
  const wanted = createHash('sha256').update(lock).digest('hex');
  const mark = join(projectRoot, 'node_modules', '.kivram-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === wanted && !missingPackage(lock)) return;
  say('installing npm packages');
  const run = spawnSync('npm', ['ci', '--prefer-offline', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: projectRoot,
    stdio: 'inherit',
  });
  if (run.status !== 0) giveUp('npm packages could not be installed; the lines above say why. Then start again.');
  writeFileSync(mark, wanted);
}

/**
 * A package of the lock file that is not in its folder. The mark lies in the root only, and some packages lie in the folder of whoever needs them, which may have been removed
 * by itself. @param {string} lock
 */
export function missingPackage(lock) {
  /** @type {Record<string, { optional?: boolean, devOptional?: boolean }>} */
  const listed = JSON.parse(lock).packages;
  return Object.entries(listed).find(
    ([folder, { optional, devOptional }]) =>
      folder.includes('node_modules/') && !optional && !devOptional && !existsSync(join(projectRoot, folder)),
  )?.[0];
}

/** Where Debian puts the newest PostgreSQL it has. @returns {string | undefined} */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return undefined;
  const versions = readdirSync(base).filter((v) => existsSync(join(base, v, 'bin', 'initdb')));
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0];
  return newest && join(base, newest, 'bin');
}

/** Debian's packages that Kivram or its tests run, and how each is seen to be there. @type {Record<string, () => boolean>} */
const debianPackages = {
  postgresql: () => postgresBin() !== undefined,
  chromium: () => existsSync('/usr/bin/chromium'),
  'chromium-headless-shell': () => existsSync('/usr/bin/chromium-headless-shell'),
  iperf3: () => existsSync('/usr/bin/iperf3'),
  'gdal-bin': () => existsSync('/usr/bin/gdalinfo'),
  python3: () => existsSync('/usr/bin/python3'),
};

/**
 * Installs those of Debian's packages that are missing, all at once: as root, or through sudo where that asks nothing.
 * @param {string[]} names
 */
export function ensureDebianPackages(...names) {
  const missing = () => names.filter((name) => !debianPackages[name]?.());
  const wanted = missing();
  if (!wanted.length) return;
  const root = process.getuid?.() === 0;
  const sudo = !root && spawnSync('sudo', ['-n', 'true']).status === 0;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${wanted.join(' ')}`;
  if (!root && !sudo)
    giveUp(`Missing from Debian's packages: ${wanted.join(', ')}. Run this, then start again: sudo sh -c "${command}"`);
  say(`installing from Debian's packages: ${wanted.join(', ')}`);
  // The package would also start a cluster of the system's own; ours is elsewhere.
  if (wanted.includes('postgresql')) keepSystemClusterAway(root);
  const run = spawnSync(root ? 'sh' : 'sudo', root ? ['-c', command] : ['sh', '-c', command], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (run.status !== 0 || missing().length)
    giveUp(
      `Could not be installed from Debian's packages: ${missing().join(', ') || wanted.join(', ')}. Try by hand: ${command}`,
    );
}

/** Tells Debian's packaging not to create or start a system cluster. @param {boolean} root */
function keepSystemClusterAway(root) {
  if (!root || existsSync('/etc/postgresql-common/createcluster.conf')) return;
  mkdirSync('/etc/postgresql-common', { recursive: true });
  writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
}
