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
  const lock = readFileSync(join(projectRoot, 'package-lock.json'));
  const wanted = createHash('sha256').update(lock).digest('hex');
  const mark = join(projectRoot, 'node_modules', '.kivram-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  say('installing npm packages');
  const run = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: projectRoot,
    stdio: 'inherit',
  });
  if (run.status !== 0) giveUp('npm packages could not be installed; the lines above say why. Then start again.');
  writeFileSync(mark, wanted);
}

/** Where Debian puts the newest PostgreSQL it has. @returns {string | undefined} */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return undefined;
  const versions = readdirSync(base).filter((v) => existsSync(join(base, v, 'bin', 'initdb')));
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0];
  return newest && join(base, newest, 'bin');
}

/**
 * Installs a Debian package when its program is missing: as root, or through sudo where that asks nothing.
 * @param {string} name
 * @param {() => boolean} present
 */
export function ensureDebianPackage(name, present) {
  if (present()) return;
  const root = process.getuid?.() === 0;
  const sudo = !root && spawnSync('sudo', ['-n', 'true']).status === 0;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${name}`;
  if (!root && !sudo)
    giveUp(`Debian's package ${name} is missing. Run this, then start again: sudo sh -c "${command}"`);
  say(`installing Debian's package ${name}`);
  // The package would also start a cluster of the system's own; ours is elsewhere.
  if (name === 'postgresql') keepSystemClusterAway(root);
  const run = spawnSync(root ? 'sh' : 'sudo', root ? ['-c', command] : ['sh', '-c', command], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (run.status !== 0 || !present())
    giveUp(`Debian's package ${name} could not be installed. Try by hand: ${command}`);
}

/** Tells Debian's packaging not to create or start a system cluster. @param {boolean} root */
function keepSystemClusterAway(root) {
  if (!root || existsSync('/etc/postgresql-common/createcluster.conf')) return;
  mkdirSync('/etc/postgresql-common', { recursive: true });
  writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
}
