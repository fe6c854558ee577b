import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { postgresBin } from './packages.mjs';

/**
 * Makes a database as a copy of another one that nobody is connected to: a tenth of a second, whatever is in it.
 * @param {string} address of any database of the cluster @param {string} template
 * @returns {string} the address of the copy
 */
export function copyDatabase(address, template) {
  const name = `kivram_${randomUUID().replaceAll('-', '').slice(0, 12)}`;
  return makeDatabase(address, name, template);
}

/**
 * Makes a copy of the demo with few of its readings: of each alignment the last second. Most tests look at no reading, and all of them would go out and come in with every job
 * that goes into a file.
 * @param {string} address of any database of the cluster @param {string} template with the whole demo @param {string} name of the copy
 */
export function thinDatabase(address, template, name) {
  const thin = makeDatabase(address, name, template);
  runSql(
    thin,
    name,
    `DELETE FROM reading r USING alignment a WHERE r.alignment_id = a.id AND r.at < a.finished_at - interval '1 second'`,
  );
  runSql(thin, name, 'VACUUM FULL reading');
}

/** Copies a folder with who owns what in it, which a database goes by. @param {string} from @param {string} to does not exist yet */
export function copyFolder(from, to) {
  const run = spawnSync('cp', ['-a', from, to], { encoding: 'utf8' });
  if (run.status !== 0) throw new Error(`${from} could not be copied to ${to}: ${run.stderr.trim()}`);
}

/** Removes every copy that was made of a database here. @param {string} address of any database of the cluster */
export function removeCopies(address) {
  const named = `SELECT format('DROP DATABASE %I WITH (FORCE)', datname) FROM pg_database WHERE datname ~ '^kivram_[0-9a-f]{8,12}$' \\gexec`;
  runSql(address, 'postgres', named);
}

/** @param {string} address @param {string} name @param {string} template @returns {string} the address of the new database */
function makeDatabase(address, name, template) {
  // Of files on a disk that need not be safe, copied as they are: the other way writes every page into the log first.
  runSql(address, 'postgres', `CREATE DATABASE ${name} TEMPLATE ${template} STRATEGY file_copy`);
  const url = new URL(address);
  url.pathname = `/${name}`;
  return url.toString();
}

/** @param {string} address of any database of the cluster @param {string} database @param {string} sql */
function runSql(address, database, sql) {
  const { hostname, port, username, password } = new URL(address);
  const run = spawnSync(
    join(postgresBin() ?? '', 'psql'),
    ['-h', hostname, '-p', port, '-U', username, '-d', database, '-v', 'ON_ERROR_STOP=1', '-q'],
    { env: { ...process.env, PGPASSWORD: decodeURIComponent(password) }, encoding: 'utf8', input: sql },
  );
  if (run.status !== 0) throw new Error(`the database ${database} refuses "${sql}": ${run.stderr.trim()}`);
}
