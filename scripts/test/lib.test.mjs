// @ts-check
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { answersFile, schemasOfAnswers } from '../lib/answers.mjs';
import { freePort } from '../lib/cluster.mjs';
import { keyIn } from '../lib/key.mjs';
import { releaseLock, takeLock, writeLock } from '../lib/lock.mjs';
import { ensureDebianPackages, missingPackage, postgresBin } from '../lib/packages.mjs';
import { watchProcessors } from '../lib/processors.mjs';

/** @type {string} */
let folder;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'kivram-scripts-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe('the key of the passphrases', () => {
  it('is made once, for nobody else to read, and is the same ever after', () => {
    const file = join(folder, 'deep', 'own.key');
    const key = keyIn(file);
    expect(Buffer.from(key, 'base64')).toHaveLength(32);
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect(keyIn(file)).toBe(key);
    expect(keyIn(join(folder, 'demo.key'))).not.toBe(key);
  });
});

describe('the lock of a running demo', () => {
  it('is taken when there is none, and gone when released', () => {
    const file = join(folder, 'deep', 'demo.lock');
    expect(takeLock(file)).toBeUndefined();
    expect(readFileSync(file, 'utf8')).toBe(`${process.pid}\n`);
    releaseLock(file);
    expect(existsSync(file)).toBe(false);
    releaseLock(file);
  });

  it('of a dead process is no lock', () => {
    const file = join(folder, 'demo.lock');
    writeFileSync(file, '4194304\nhttp://127.0.0.1:1/');
    expect(takeLock(file)).toBeUndefined();
  });

  it('of a process number that now belongs to something else is no lock', async () => {
    const other = spawn('sleep', ['30']);
    const file = join(folder, 'demo.lock');
    writeFileSync(file, `${other.pid}\nhttp://127.0.0.1:1/`);
    expect(takeLock(file)).toBeUndefined();
    other.kill();
  });

  it('of a demo that runs is held, and says where it is', async () => {
    const script = join(folder, 'start.mjs');
    writeFileSync(script, 'setTimeout(() => {}, 30000)');
    const demo = spawn(process.execPath, [script]);
    await new Promise((resolve) => setTimeout(resolve, 300));
    const file = join(folder, 'demo.lock');
    writeFileSync(file, `${demo.pid}\nhttp://127.0.0.1:4180/`);
    expect(takeLock(file)).toBe('http://127.0.0.1:4180/');
    writeFileSync(file, `${demo.pid}\n`);
    expect(takeLock(file)).toBe('starting');
    demo.kill();
  });

  it('tells its address once it is known', () => {
    const file = join(folder, 'demo.lock');
    takeLock(file);
    writeLock(file, 'http://127.0.0.1:4180/');
    expect(readFileSync(file, 'utf8')).toBe(`${process.pid}\nhttp://127.0.0.1:4180/`);
  });
});

describe('ports and programs', () => {
  it('a free port can be listened on', async () => {
    const port = await freePort();
    const server = createServer();
    await new Promise((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, '127.0.0.1', () => resolve(undefined));
    });
    expect(await freePort()).not.toBe(port);
    server.close();
  });

  it('finds the database programs, and leaves what is present alone', () => {
    expect(existsSync(join(postgresBin() ?? '', 'initdb'))).toBe(true);
    // Without a path there is no apt-get: whoever calls it gives up.
    vi.stubEnv('PATH', '');
    ensureDebianPackages('postgresql', 'chromium', 'chromium-headless-shell', 'iperf3', 'gdal-bin', 'python3');
    vi.unstubAllEnvs();
  });
});

describe('what the processors have done', () => {
  it('is work, idleness, and what others have taken of it', () => {
    const looks = [
      { count: 2, atS: 100, workS: 50, idleS: 10 },
      { count: 2, atS: 110, workS: 62, idleS: 15 },
    ];
    const told = watchProcessors(() => looks.shift() ?? { count: 0, atS: 0, workS: 0, idleS: 0 })();
    expect(told).toMatch(/^2 processors: 12 s of work, 5 s idle, 3 s lost/);
    expect(watchProcessors()()).toMatch(/^\d+ processors: \d+ s of work/);
  });
});

describe('packages of the lock file', () => {
  it('are missed where they lie in the folder of whoever needs them, too', () => {
    const lock = (/** @type {string} */ folder) =>
      JSON.stringify({ packages: { '': {}, 'packages/web': {}, [folder]: {} } });
    expect(missingPackage(lock('node_modules/vitest'))).toBeUndefined();
    expect(missingPackage(lock('packages/web/node_modules/gone'))).toBe('packages/web/node_modules/gone');
  });
});

describe('the schemas of answers', () => {
  it('are those of the types; if not, run "npm run answers"', () => {
    expect(readFileSync(answersFile, 'utf8')).toBe(schemasOfAnswers());
  });
});
