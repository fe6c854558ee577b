import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { postgresBin } from '../lib/packages.mjs';

/**
 * Runs statements.
 * @param {string} databaseUrl @param {string | Buffer} sql
 * @returns {string[]} what they say, line by line
 */
export const psql = (databaseUrl, sql) =>
  told('psql', ['-qXtA', '-v', 'ON_ERROR_STOP=1'], databaseUrl, sql).split('\n').filter(Boolean);

/** All that stands in a database, as statements. @param {string} databaseUrl */
export const dumpOf = (databaseUrl) => told('pg_dump', ['--inserts'], databaseUrl, '');

/** The password stands on no command line. @param {string} program @param {string[]} args @param {string} databaseUrl @param {string | Buffer} input */
function told(program, args, databaseUrl, input) {
  const url = new URL(databaseUrl);
  const at = ['-h', url.hostname, '-p', url.port, '-U', url.username, '-d', url.pathname.slice(1)];
  const run = spawnSync(join(postgresBin() ?? '', program), [...args, ...at], {
    input,
    env: { ...process.env, PGPASSWORD: decodeURIComponent(url.password) },
    encoding: 'utf8',
    maxBuffer: 2 ** 30,
  });
  if (run.status !== 0) throw new Error(`${program} ended with ${run.status}: ${run.stderr.slice(0, 300)}`);
  return run.stdout;
}
