import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { request } from 'node:https';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { newKey } from '../lib/key.mjs';
import { sharedKey, startServer, stopServer } from '../lib/server.mjs';
import { psql } from './database.mjs';
import { operationsOf } from './fuzz.mjs';
import { Phone } from './phone.mjs';
import { passphrasesOf } from './secrets.mjs';
import { Client } from './server.mjs';

/**
 * What once led in, or down, each tried again: whoever mends one must not open another.
 * @typedef {{ here: Client, lan: string, databaseUrl: string, folder: string, commands: string, job: any, crew: any[], links: any[], profileId: (way: string) => string, phone: Phone }} Scene
 *   phone: of somebody who works on the demo and leads nothing
 */

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Longer than a file may be quiet on its way in, and a machine under load takes to notice, ms. */
const stalledMs = 40_000;

/** Who signs out sees levels for five seconds more at most; a machine under load takes to notice, ms. */
const endedMs = 20_000;

/** @type {Record<string, (scene: Scene) => Promise<string[]>>} each says what does not hold */
const attacks = {
  'a sender who stops on the way': stalls,
  "a job's file that runs a program": runs,
  'a namesake of who leads': namesake,
  'viewers who read nothing and hang up': viewers,
  'a password sent where it was not typed for': elsewhere,
  'a look at passphrases that no line tells of': unseen,
  'ten jobs of one name at once': twins,
  'addresses that are none': addresses,
  'a door on every address': door,
};

/** @param {string} databaseUrl with the demo in it @returns {Promise<{ tried: number, faults: string[] }>} */
export async function known(databaseUrl) {
  const folder = mkdtempSync(join(tmpdir(), 'kivram-known-'));
  // What runs as nobody must get here, or nothing that it does would be seen.
  chmodSync(folder, 0o755);
  /** @type {string[]} */
  const faults = [];
  const commands = join(folder, 'commands.json');
  const lan = { port: 0, folder: join(folder, 'lan') };
  const { child, port, opening } = await startServer({ databaseUrl, lan, commands });
  /** @type {any} */
  let document;
  try {
    const here = new Client(`http://127.0.0.1:${port}`);
    const { job, crew, links } = await here.begin();
    const profiles = (await here.ask('/api/level-profiles')).body;
    const profileId = (/** @type {string} */ way) => profiles.find((/** @type {any} */ p) => p.way === way)?.id;
    const [door = ''] = opening?.addresses ?? [];
    const phone = await Phone.invited(here, door, job.id, 'Somebody new', 'installer');
    document = await (await fetch(`${here.address}/api/openapi.json`)).json();
    const scene = { here, lan: door, databaseUrl, folder, commands, job, crew, links, profileId, phone };
    // The one that waits goes on beside the others.
    const found = await Promise.all([
      attempt('a sender who stops on the way', scene),
      (async () => {
        const said = [];
        for (const name of Object.keys(attacks).slice(1)) said.push(...(await attempt(name, scene)));
        return said;
      })(),
    ]);
    faults.push(...found.flat(), ...here.broken.map((what) => `answered by 500: ${what}`));
    if (child.exitCode !== null || child.signalCode !== null) faults.push('the server has died');
  } finally {
    await stopServer(child);
  }
  faults.push(...(await withoutToken(databaseUrl, document)), ...(await withoutKey(databaseUrl, folder)));
  rmSync(folder, { recursive: true });
  return { tried: Object.keys(attacks).length + 2, faults };
}

/** @param {string} name @param {Scene} scene @returns {Promise<string[]>} */
async function attempt(name, scene) {
  const said = (await attacks[name]?.(scene).catch((error) => [String(error)])) ?? [];
  return said.map((words) => `${name}: ${words}`);
}

/** Six uploads of one person stop on the way: others still bring theirs in, and the six are given up. @param {Scene} scene */
async function stalls({ here, lan, job }) {
  const phone = await Phone.invited(here, lan, job.id, 'Somebody slow', 'installer');
  const stalled = Array.from({ length: 6 }, () => {
    const sending = request(`${phone.address.origin}/api/terrain/uploads?name=slow.asc&epsg=4326`, {
      method: 'POST',
      headers: {
        'content-type': 'application/octet-stream',
        'content-length': 1_000_000,
        cookie: phone.cookie,
        origin: phone.address.origin,
        'kivram-token': phone.token,
      },
      ca: phone.authority,
    });
    const over = new Promise((resolve) => {
      sending.once('response', (answer) => resolve(answer.statusCode));
      sending.once('error', () => resolve(null));
    });
    sending.write('ncols 100\n');
    return over;
  });
  await pause(500);
  const grid = 'ncols 2\nnrows 2\nxllcorner -60.5\nyllcorner 12.5\ncellsize 0.001\nNODATA_value -9999\n1 2\n3 4\n';
  const whole = await fetch(`${here.address}/api/terrain/uploads?name=small.asc&epsg=4326`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream', cookie: here.cookie },
    body: grid,
  });
  const faults = whole.status === 200 ? [] : [`another file is answered by ${whole.status}: ${await whole.text()}`];
  const ended = await Promise.race([Promise.all(stalled), pause(stalledMs)]);
  if (!ended) faults.push(`they are held for ${stalledMs / 1000} s`);
  return faults;
}

/** @param {Scene} scene */
async function runs({ here, phone, folder, commands, job, links, profileId }) {
  const [allowed, evil] = ['allowed', 'evil'].map((name) => join(folder, 'marks', name));
  mkdirSync(join(folder, 'marks'));
  chmodSync(join(folder, 'marks'), 0o777);
  const named = { name: 'mark', program: '/usr/bin/touch', arguments: allowed };
  writeFileSync(commands, JSON.stringify({ commands: [named] }), { mode: 0o600 });
  const link = links.find((/** @type {any} */ l) => l.kind !== 'duplex');
  const path = `/api/links/${link.id}/level-sources`;
  const source = { way: 'command', profileId: profileId('json'), command: { name: 'mark' } };
  const { version } = (await here.ask(path)).body.near;
  const faults = [];
  if ((await here.ask(`${path}/near`, { version, ...source }, 'PUT')).status !== 200)
    faults.push('a command is not allowed at the computer either');
  // Allowed at the computer, for this end, it is run: else nothing below would mean anything.
  await here.ask(`${path}/near/ask`, { source: { version: -1, ...source } });
  if (!existsSync(allowed ?? '')) faults.push('it is not run where it was allowed, so that nothing is known');
  rmSync(allowed ?? '', { force: true });

  const whole = (await here.ask(`/api/jobs/${job.id}/export`)).body;
  // Without the thirty thousand readings of the demo, which take half a minute.
  const events = whole.events.map((/** @type {any} */ event) => ({ ...event, detail: {} }));
  const file = { ...whole, alignments: [], events };
  const older = {
    ...file,
    formatVersion: 4,
    levelSources: file.levelSources.map((/** @type {any} */ record) => ({
      ...record,
      source: { ...record.source, command: { program: '/bin/sh', arguments: `-c\ntouch ${evil}` } },
    })),
  };
  const aim = JSON.stringify({ nearSource: 'scale', farSource: 'scale', order: 'endByEnd' });
  for (const text of [JSON.stringify(file), JSON.stringify(older)]) {
    const brought = await phone.ask('POST', '/api/jobs/import?copy=yes', text);
    if (brought.status !== 200) faults.push(`the file is refused, so that nothing is known: ${brought.text}`);
    const { jobId } = JSON.parse(brought.text);
    const theirs = JSON.parse((await phone.ask('GET', `/api/jobs/${jobId}/links?limit=500`)).text).links;
    const { id } = theirs.find((/** @type {any} */ l) => l.name === link.name);
    const begun = await phone.ask('POST', `/api/links/${id}/alignments`, aim);
    if (begun.status !== 200) faults.push(`nothing is aimed, so that nothing is known: ${begun.text}`);
    await phone.ask(
      'POST',
      `/api/links/${id}/level-sources/near/ask`,
      JSON.stringify({ source: { version: -1, ...source } }),
    );
    await pause(1500);
    await phone.ask('POST', `/api/alignments/${JSON.parse(begun.text).id}/abandon`, '{}');
  }
  for (const mark of [allowed, evil]) if (existsSync(mark ?? '')) faults.push(`${mark} was made`);
  return faults;
}

/** Somebody makes a job of theirs, with a person who is called like who leads another job, and comes in as that. @param {Scene} scene */
async function namesake({ here, lan, job, crew, phone }) {
  const lead = crew.find((member) => member.role === 'lead');
  const make = { name: `Trap ${randomUUID()}`, customer: '', country: job.country, units: 'metric', workerName: 'Me' };
  const trap = JSON.parse((await phone.ask('POST', '/api/jobs', JSON.stringify(make))).text).id;
  const add = JSON.stringify({ name: lead.name, role: 'lead' });
  const { people } = JSON.parse((await phone.ask('POST', `/api/jobs/${trap}/people`, add)).text);
  const theirs = people.find((/** @type {any} */ person) => person.name === lead.name);
  const { code } = JSON.parse((await phone.ask('POST', `/api/people/${theirs.id}/invitations`, '{}')).text);
  const accepted = async (/** @type {string} */ word) => {
    const other = new Phone(lan, phone.authority);
    other.token = JSON.parse(
      (await other.ask('POST', '/api/session/invitation', JSON.stringify({ code: word }))).text,
    ).token;
    return other;
  };
  const impostor = await accepted(code);
  const real = await accepted((await here.ask(`/api/people/${lead.id}/invitations`, {})).body.code);
  const faults = [];
  if ((await real.ask('GET', `/api/jobs/${job.id}`)).status !== 200) faults.push('who leads is not let in');
  for (const path of ['', '/export?secrets=include', '/people']) {
    const { status } = await impostor.ask('GET', `/api/jobs/${job.id}${path}`);
    if (status < 400) faults.push(`they are answered by ${status} at ${path || 'the job'}`);
  }
  if ((await impostor.ask('GET', '/api/jobs')).text.includes(job.id)) faults.push('they see the job');
  return faults;
}

/** @param {Scene} scene */
async function viewers({ here, lan, job, links }) {
  const link = links.filter((/** @type {any} */ l) => l.kind !== 'duplex')[1];
  const aim = { nearSource: 'scale', farSource: 'scale', order: 'endByEnd' };
  const { id } = (await here.ask(`/api/links/${link.id}/alignments`, aim)).body;
  const path = `/api/alignments/${id}/stream`;
  const { hostname, port } = new URL(here.address);
  const lines = Array.from({ length: 60 }, () => {
    const line = connect(Number(port), hostname, () =>
      line.write(`GET ${path} HTTP/1.1\r\nHost: ${hostname}:${port}\r\n\r\n`),
    );
    line.on('error', () => undefined).pause();
    return line;
  });
  // One whose session is ended while they watch.
  const gone = await Phone.invited(here, lan, job.id, 'Soon gone', 'reader');
  const watching = gone.watch(path);
  await pause(1500);
  for (const line of lines) line.resetAndDestroy();
  await gone.ask('DELETE', '/api/session');
  const pieces = await Promise.race([watching, pause(endedMs)]);
  const faults = pieces ? [] : [pieces === 0 ? 'nothing came' : 'whose session has ended goes on watching'];
  const stream = (await fetch(here.address + path)).body?.getReader();
  const { done = true } = (await stream?.read()) ?? {};
  await stream?.cancel();
  await here.ask(`/api/alignments/${id}/abandon`, {});
  return done ? [...faults, 'who watches afterwards gets nothing'] : faults;
}

/** @param {Scene} scene */
async function elsewhere({ here, links, profileId }) {
  /** @type {string[]} */
  const heard = [];
  const page = createServer((asked, answer) => {
    if (asked.headers.authorization) heard.push(asked.headers.authorization);
    answer.end('{}');
  });
  page.listen(0, '127.0.0.1');
  await once(page, 'listening');
  const { port } = /** @type {import('node:net').AddressInfo} */ (page.address());
  const path = `/api/links/${links[0].id}/level-sources`;
  const choose = async (/** @type {string} */ url, /** @type {object} */ more) => {
    const { version } = (await here.ask(path)).body.near;
    const http = { url, userName: 'keeper', ownCertificate: false, ...more };
    const body = { version, way: 'http', profileId: profileId('json'), http };
    return [await here.ask(`${path}/near`, body, 'PUT'), await here.ask(`${path}/near/ask`, { source: body })];
  };
  const [kept] = await choose(`https://127.0.0.1:${port}/`, { password: 'for this one only' });
  await choose(`http://127.0.0.1:${port}/`, {});
  await pause(200);
  page.closeAllConnections();
  page.close();
  if (kept?.status !== 200) return [`it cannot be kept: ${kept?.body.detail}`];
  return heard.filter((word) => word.includes(Buffer.from('keeper:for this').toString('base64').slice(0, 16)));
}

/** Passphrases are asked for under the identifier of a change that was made before, and in a file. @param {Scene} scene */
async function unseen({ here, databaseUrl, job, links }) {
  const key = randomUUID();
  const lines = () => Number(psql(databaseUrl, `SELECT count(*) FROM event WHERE job_id = '${job.id}'`)[0]);
  const ask = (/** @type {string} */ method, /** @type {string} */ path) =>
    fetch(here.address + path, {
      method,
      headers: { cookie: here.cookie, 'idempotency-key': key, 'content-type': 'application/json' },
    });
  const faults = [];
  for (const [method, path] of [
    ['POST', `/api/links/${links[0].id}/passphrases`],
    ['POST', `/api/links/${links[0].id}/passphrases`],
    ['GET', `/api/jobs/${job.id}/export?secrets=include`],
    ['GET', `/api/jobs/${job.id}/export?secrets=include`],
  ]) {
    const before = lines();
    const answer = await ask(method ?? '', path ?? '');
    await answer.text();
    if (answer.ok && lines() === before) faults.push(`${method} ${path} is answered, and no line says so`);
  }
  return faults;
}

/** @param {Scene} scene */
async function twins({ here, job }) {
  const name = `Twin ${randomUUID()}`;
  const fields = { name, customer: '', country: job.country, units: 'metric', workerName: 'Me' };
  const made = await Promise.all(Array.from({ length: 10 }, () => here.ask('/api/jobs', fields)));
  const count = made.filter(({ status }) => status === 200).length;
  return count === 1 ? [] : [`${count} were made`];
}

/** @param {Scene} scene */
async function addresses({ here, links, profileId }) {
  const path = `/api/links/${links[0].id}/level-sources/near/ask`;
  const faults = [];
  for (const url of [
    'http://[fe80::1%25lo]/',
    'http://169.254.169.254/latest',
    'http://0.0.0.0/',
    'http://[::]/',
    'http://%',
  ]) {
    const source = { version: -1, way: 'http', profileId: profileId('json'), http: { url, ownCertificate: false } };
    const { status, body } = await here.ask(path, { source });
    if (status < 400 || status >= 500 || !body.detail) faults.push(`${url} is answered by ${status}`);
  }
  return faults;
}

/** @param {Scene} scene */
async function door({ lan }) {
  const port = Number(new URL(lan).port).toString(16).toUpperCase().padStart(4, '0');
  const listening = ['/proc/net/tcp', '/proc/net/tcp6']
    .filter(existsSync)
    .flatMap((file) => [...readFileSync(file, 'utf8').matchAll(/^\s*\d+: ([0-9A-F]+):([0-9A-F]{4}) \S+ 0A/gm)])
    .filter(([, , at]) => at === port);
  if (!listening.length) return ['nothing listens, so that nothing is known'];
  return listening.some(([, address = '']) => /^0+$/.test(address)) ? ['it is open on all of them'] : [];
}

/** Another account of this computer asks for everything, in all the ways in which a path can be written. @param {string} databaseUrl @param {any} document of the OpenAPI */
async function withoutToken(databaseUrl, document) {
  const { child, port } = await startServer({ databaseUrl, here: randomUUID() });
  /** @type {string[]} */
  const faults = [];
  try {
    for (const { name, method, path } of operationsOf(document)) {
      if (['health', 'standinPage'].includes(name)) continue;
      const plain = path.replaceAll(/\{.*?\}/g, randomUUID());
      for (const written of [plain, plain.replace('/api', '/API'), plain.replace('/api', '/%61pi'), `${plain}/`]) {
        const headers = { 'content-type': 'application/json' };
        const answer = await fetch(`http://127.0.0.1:${port}${written}`, { method, headers });
        await answer.arrayBuffer();
        // What is no path of the API is the page, which is everybody's, or nothing.
        const isPage = answer.ok ? answer.headers.get('content-type')?.startsWith('text/html') : answer.status === 404;
        if (answer.status !== 401 && !(isPage && written.includes('%')))
          faults.push(`without the token: ${method} ${written} is answered by ${answer.status}`);
      }
    }
  } finally {
    await stopServer(child);
  }
  return faults;
}

/** The key is lost, and comes back. @param {string} databaseUrl @param {string} folder */
async function withoutKey(databaseUrl, folder) {
  const keyFile = join(folder, 'lost.key');
  const { child, port } = await startServer({ databaseUrl, keyFile });
  const here = new Client(`http://127.0.0.1:${port}`);
  const faults = [];
  try {
    const { links } = await here.begin();
    const lost = (await here.ask('/api/key')).body;
    if (!lost.isMissing || !lost.unreadable) faults.push('it is not told of');
    if (existsSync(keyFile)) faults.push('another was made in its place');
    for (const { id } of links) {
      const { status } = await here.ask(`/api/links/${id}`);
      if (status !== 200) faults.push(`a link is answered by ${status}`);
      await here.ask(`/api/links/${id}/passphrases`, {});
    }
    const other = await here.ask('/api/key', { text: newKey() });
    if (other.status !== 422) faults.push(`a key that opens nothing is answered by ${other.status}`);
    const back = (await here.ask('/api/key', { text: sharedKey() })).body;
    if (back.unreadable !== 0) faults.push('it does not come back');
    const ids = links.map((/** @type {any} */ link) => link.id);
    if (!(await passphrasesOf(here, ids)).length) faults.push('the passphrases do not come back');
  } finally {
    await stopServer(child);
  }
  return [...faults, ...here.broken.map((what) => `answered by 500: ${what}`)].map((words) => `a lost key: ${words}`);
}
