import { expect, test } from '@playwright/test';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { freePort } from '../scripts/lib/cluster.mjs';
import { copyFolder } from '../scripts/lib/databases.mjs';

const root = join(import.meta.dirname, '..');
const state = join(root, '.kivram', 'start-test');
let port = 0;

/** Starts the demo as its command does, in a state folder of its own, until it says where it is or that it gives up. */
const start = (...args: string[]) => startAny('--demo', ...args);

async function startAny(...args: string[]): Promise<{ demo: ChildProcess; said: string; address: string }> {
  const demo = spawn(process.execPath, ['scripts/start.mjs', '--port', String(port), ...args], {
    cwd: root,
    env: { ...process.env, KIVRAM_STATE: state },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  await new Promise<void>((resolve) => {
    const hear = (chunk: Buffer): void => {
      said += chunk.toString();
      if (said.includes(args.includes('--lan') ? 'come in by an invitation' : 'ready at')) resolve();
    };
    demo.stdout?.on('data', hear);
    demo.stderr?.on('data', hear);
    demo.once('exit', () => resolve());
  });
  return { demo, said, address: /ready at (\S+)/.exec(said)?.[1] ?? '' };
}

const ended = (demo: ChildProcess): Promise<unknown> =>
  demo.exitCode !== null || demo.signalCode !== null
    ? Promise.resolve()
    : new Promise((resolve) => demo.once('exit', resolve));

/** Processes whose command line names our state folder. */
const left = (): string[] =>
  spawnSync('pgrep', ['-fa', state], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter((l) => l.includes('postgres'));

async function links(address: string): Promise<number> {
  const jobs = (await (await fetch(`${address}api/jobs`)).json()) as { links: number }[];
  return jobs[0]?.links ?? 0;
}

test.beforeAll(async () => {
  port = await freePort();
});

test("a first start from nothing has no jobs, and no option takes one's own away", async () => {
  rmSync(state, { recursive: true, force: true });
  const first = await startAny();
  const { demo, address } = first;
  expect(first.said).toContain(`http://127.0.0.1:${port}/`);
  // Another account of this computer has the address, and not the word at its end.
  const { origin } = new URL(address);
  expect((await fetch(`${origin}/api/jobs`)).status).toBe(401);
  const entered = await fetch(address, { redirect: 'manual' });
  const cookie = entered.headers.get('set-cookie')?.split(';')[0] ?? '';
  const jobs = await fetch(`${origin}/api/jobs`, { headers: { cookie } });
  expect(await jobs.json()).toEqual([]);
  // What leads a browser in is for this user only.
  expect(statSync(join(state, 'own-door.html')).mode & 0o077).toBe(0);
  const page = await fetch(origin);
  expect(await page.text()).toContain('<div id="root">');
  // Longer than a page is quiet: what is asked on a connection that is just being closed gets no answer.
  expect(page.headers.get('keep-alive')).toBe('timeout=75');
  demo.kill('SIGINT');
  await ended(demo);
  const second = await startAny('--reset');
  await ended(second.demo);
  expect(second.said).toContain('"--reset" is not known here');
  expect(existsSync(join(state, 'own', 'data'))).toBe(true);
  rmSync(state, { recursive: true, force: true });
});

test('the demo starts again with its data, survives a kill, starts over, and leaves nothing behind', async () => {
  rmSync(state, { recursive: true, force: true });
  // Loading it takes most of the time, and starting over does that below.
  copyFolder(process.env.KIVRAM_TEST_STATE ?? '', state);
  let { demo, said, address } = await start();
  expect(said).toContain(`http://127.0.0.1:${port}/`);
  expect(await links(address)).toBe(13);
  expect(await (await fetch(address)).text()).toContain('<div id="root">');

  await test.step('a second start from the same folder says that one is running', async () => {
    const second = await start();
    await ended(second.demo);
    expect(second.said).toContain(`running from this folder already: ${address}`);
    expect(second.demo.exitCode).toBe(1);
  });

  await test.step('data survive, and Ctrl-C stops what was started', async () => {
    const [job] = (await (await fetch(`${address}api/jobs`)).json()) as { id: string }[];
    const read = async (path: string): Promise<unknown> => (await fetch(`${address}api/jobs/${job?.id}${path}`)).json();
    const { crew } = (await read('')) as { crew: { id: string }[] };
    const { places } = (await read('/map')) as { places: { id: string; version: number; name: string }[] };
    const send = (method: string, path: string, body: object, cookie = '') =>
      fetch(`${address}api/${path}`, {
        method,
        headers: { 'content-type': 'application/json', cookie },
        body: JSON.stringify(body),
      });
    const session = await send('PUT', 'session', { crewMemberId: crew[0]?.id });
    // The session is kept once the whole answer is here.
    await session.json();
    const cookie = session.headers.get('set-cookie')?.split(';')[0];
    const place = places[0];
    const renamed = await send('PATCH', `places/${place?.id}`, { version: place?.version, name: 'Renamed' }, cookie);
    expect(renamed.status).toBe(200);
    demo.kill('SIGINT');
    await ended(demo);
    expect(left()).toEqual([]);
    await expect(fetch(address)).rejects.toThrow();
  });

  await test.step('a stale pid file of another live process and a taken port do not block', async () => {
    writeFileSync(join(state, 'demo', 'data', 'postmaster.pid'), `${process.pid}\n/nowhere\n`);
    writeFileSync(join(state, 'demo.lock'), `${process.pid}\nhttp://127.0.0.1:1/`);
    const squatter = createServer().listen(port, '127.0.0.1');
    await new Promise((resolve) => squatter.once('listening', resolve));
    ({ demo, said, address } = await start());
    squatter.close();
    expect(address).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/$/);
    expect(address).not.toContain(`:${port}/`);
    const [job] = (await (await fetch(`${address}api/jobs`)).json()) as { id: string }[];
    const view = (await (await fetch(`${address}api/jobs/${job?.id}/map`)).json()) as { places: { name: string }[] };
    expect(view.places.map((p) => p.name)).toContain('Renamed');
  });

  await test.step('a database that dies is started again, and the health of the server says so meanwhile', async () => {
    const health = async (): Promise<number> =>
      (await fetch(`${address}api/health`).catch(() => ({ status: 0 }))).status;
    const pid = Number(readFileSync(join(state, 'demo', 'data', 'postmaster.pid'), 'utf8').split('\n')[0]);
    // The keeper sleeps meanwhile, or it may be quicker than the looking.
    const keeper = Number(
      spawnSync('pgrep', ['-f', `keeper.mjs ${join(state, 'demo')} `], { encoding: 'utf8' }).stdout,
    );
    process.kill(keeper, 'SIGSTOP');
    // A part of the database that does not end at once holds its memory, without which no other starts.
    const part = Number(spawnSync('pgrep', ['-P', String(pid), '-f', 'checkpointer'], { encoding: 'utf8' }).stdout);
    process.kill(part, 'SIGSTOP');
    let waiting = '';
    demo.stdout?.on('data', (chunk: Buffer) => (waiting += chunk.toString()));
    try {
      process.kill(pid, 'SIGKILL');
      await expect.poll(health).toBe(503);
    } finally {
      // One that sleeps for ever would be taken for that of the next run.
      process.kill(keeper, 'SIGCONT');
    }
    await expect.poll(() => waiting).toContain('waiting for what is left of it to end');
    expect(await health()).toBe(503);
    process.kill(part, 'SIGCONT');
    await expect.poll(health).toBe(200);
    expect(await links(address)).toBe(13);
  });

  await test.step('killed without a word, it leaves nothing running, and starts again', async () => {
    demo.kill('SIGKILL');
    await ended(demo);
    await expect.poll(left).toEqual([]);
    ({ demo, said, address } = await start());
    expect(await links(address)).toBe(13);
  });

  await test.step('--reset starts over', async () => {
    demo.kill('SIGTERM');
    await ended(demo);
    ({ demo, said, address } = await start('--reset'));
    expect(await links(address)).toBe(13);
    const [job] = (await (await fetch(`${address}api/jobs`)).json()) as { id: string }[];
    const view = (await (await fetch(`${address}api/jobs/${job?.id}/map`)).json()) as { places: { name: string }[] };
    expect(view.places.map((p) => p.name)).not.toContain('Renamed');
  });

  await test.step('it answers to this computer only, unless it is opened to the local network', async () => {
    expect(said).not.toContain('local network');
    const settings = async (): Promise<unknown> => (await fetch(`${address}api/settings`)).json();
    expect(await settings()).toMatchObject({ opening: null });
    expect(existsSync(join(state, 'demo-lan'))).toBe(false);
    demo.kill('SIGTERM');
    await ended(demo);
    ({ demo, said, address } = await start('--lan', '--lan-port', String(await freePort())));
    await expect.poll(() => said).toContain('open to the local network at https://');
    expect(said).toMatch(/fingerprint ([0-9A-F]{2}:){31}[0-9A-F]{2}/);
    const { opening } = (await settings()) as { opening: { addresses: string[] } };
    // Nobody vouches for it but this computer itself.
    await expect(fetch(`${opening.addresses[0]}/api/settings`)).rejects.toThrow();
    const mode = (file: string): string =>
      spawnSync('stat', ['-c', '%a', join(state, file)], { encoding: 'utf8' }).stdout.trim();
    expect([mode('demo-lan'), mode('demo-lan/authority.key'), mode('demo.key')]).toEqual(['700', '600', '600']);
  });

  await test.step('the password is in no readable place', async () => {
    const secret = readFileSync(join(state, 'demo', 'password'), 'utf8');
    expect(spawnSync('stat', ['-c', '%a', join(state, 'demo', 'password')], { encoding: 'utf8' }).stdout.trim()).toBe(
      '600',
    );
    expect(said).not.toContain(secret);
    expect(existsSync(join(state, 'demo', 'initial-password'))).toBe(false);
    expect(readFileSync(join(state, 'demo', 'data', 'server.log'), 'utf8')).not.toContain(secret);
  });

  demo.kill('SIGINT');
  await ended(demo);
  expect(left()).toEqual([]);

  await test.step('ended while it loads, it leaves nothing running', async () => {
    const old = join(state, 'demo', 'data', 'old');
    writeFileSync(old, '');
    const again = spawn(process.execPath, ['scripts/start.mjs', '--port', String(port), '--demo', '--reset'], {
      cwd: root,
      env: { ...process.env, KIVRAM_STATE: state },
      stdio: 'ignore',
    });
    await expect.poll(() => existsSync(join(state, 'demo', 'data', 'postmaster.pid'))).toBe(true);
    await expect.poll(left).not.toEqual([]);
    expect(existsSync(old)).toBe(false);
    again.kill('SIGINT');
    await ended(again);
    await expect.poll(left).toEqual([]);
  });
  rmSync(state, { recursive: true, force: true });
});

test('a wrong option is named', async () => {
  mkdirSync(state, { recursive: true });
  const { demo, said } = await start('--colour');
  await ended(demo);
  expect(said).toContain('"--colour" is not known here');
  rmSync(state, { recursive: true, force: true });
});

test('a folder that cannot be written to is named, in one line', async () => {
  const demo = spawn(process.execPath, ['scripts/start.mjs', '--demo'], {
    cwd: root,
    env: { ...process.env, KIVRAM_STATE: '/dev/null/state' },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let said = '';
  demo.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  await ended(demo);
  expect(said).toBe(
    'kivram: cannot use /dev/null/state: it is no folder. Remove the file of that name. Then start again.\n',
  );
  expect(demo.exitCode).toBe(1);
});
