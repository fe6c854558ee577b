// Fetches the wireless regulatory database from Debian's package wireless-regdb: npm run law. What changed is to be looked at and committed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { projectRoot } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';

const law = join(projectRoot, 'packages/server/data/law');
const folder = mkdtempSync(join(tmpdir(), 'kivram-law-'));

/** @param {string} command @param {string[]} args */
function run(command, args) {
  const { status, stderr } = spawnSync(command, args, { cwd: folder, encoding: 'utf8' });
  if (status !== 0)
    giveUp(`${command} ${args.join(' ')} failed: ${stderr.trim().split('\n').at(-1) ?? 'no reason given'}`);
}

try {
  run('apt-get', ['download', 'wireless-regdb']);
  const packed = readdirSync(folder).find((name) => name.endsWith('.deb')) ?? giveUp('apt-get gave no package');
  run('dpkg-deb', ['-x', packed, 'unpacked']);
  const firmware = join(folder, 'unpacked/lib/firmware');
  const path = ['regulatory.db-upstream', 'regulatory.db'].map((name) => join(firmware, name)).find(existsSync);
  if (!path) giveUp('the package holds no regulatory.db');
  const bytes = readFileSync(path);
  if (bytes.toString('latin1', 0, 4) !== 'RGDB' || bytes.readUInt32BE(4) !== 20)
    giveUp('its regulatory.db is not of the version that Kivram reads (RGDB, 20)');
  // wireless-regdb_2026.05.30-1~deb12u1_all.deb
  const version = /_(\d{4}\.\d\d\.\d\d)/.exec(packed)?.[1] ?? giveUp(`"${packed}" tells no version`);
  const edition = JSON.parse(readFileSync(join(law, 'edition.json'), 'utf8'));
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  writeFileSync(join(law, 'regulatory.db'), bytes);
  writeFileSync(
    join(law, 'edition.json'),
    `${JSON.stringify({ ...edition, version, date: version.replaceAll('.', '-'), sha256 }, null, 2)}\n`,
  );
  say(
    sha256 === edition.sha256
      ? `the law is that of ${edition.version}, as before`
      : `the law is now that of ${version}, before it was ${edition.version}: run the tests, then commit it`,
  );
} finally {
  rmSync(folder, { recursive: true });
}
