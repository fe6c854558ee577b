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
  const url = new URL(address);
  const name = `kivram_${randomUUID().replaceAll('-', '').slice(0, 12)}`;
  const run = spawnSync(
    join(postgresBin() ?? '', 'psql'),
    [
      '-h',
      url.hostname,
      '-p',
      url.port,
      '-U',
      url.username,
      '-d',
      'postgres',
      '-qc',
      `CREATE DATABASE ${name} TEMPLATE ${template}`,
    ],
    { env: { ...process.env, PGPASSWORD: decodeURIComponent(url.password) }, encoding: 'utf8' },
  );
  if (run.status !== 0) throw new Error(`the database ${template} could not be copied: ${run.stderr.trim()}`);
  url.pathname = `/${name}`;
  return url.toString();
}
