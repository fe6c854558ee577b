import { randomBytes } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { once } from 'node:events';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { dumpOf } from './database.mjs';
import { operationsOf, requestFor, spoil } from './fuzz.mjs';
import { invitation, Phone } from './phone.mjs';
import { Random } from './random.mjs';
import { idsOf } from './server.mjs';

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** What ends who asks, takes the job away, or tells secrets to whoever may hear them: the key, at the computer. */
const leftOut = [
  'signOut',
  'endSession',
  'changePerson',
  'chooseMember',
  'setPassword',
  'removeJob',
  'removeLink',
  'writeKeyDown',
  'beginKey',
];

/**
 * Secrets of every kind are planted. Then everybody asks everything, rightly and wrongly, and all that leaves the program is looked through: answers, what it writes, its database, its files, and what
 * it tells the programs that it starts.
 * @param {{ here: import('./server.mjs').Client, lan: string, databaseUrl: string, pid: number, key: string, written: () => string, places: string[], rounds: number, seed: number }} options
 *   written: all that the server has written on its console; places: files and folders that it, or its database, writes into; rounds: how often each asks each route
 */
export async function secrets({ here, lan, databaseUrl, pid, key, written, places, rounds, seed }) {
  const random = new Random(seed);
  /** @type {Set<string>} */
  const faults = new Set();
  const { job, links } = await here.begin();
  const planted = [
    key,
    ...(await passphrasesOf(
      here,
      links.map((/** @type {any} */ link) => link.id),
    )),
  ];
  const plant = () => {
    const word = `Plant-${randomBytes(9).toString('hex')}`;
    planted.push(word);
    return word;
  };
  /** The first of them in a text, as it is or as HTTP carries it (RFC 7617). @param {string} text @param {string} [own] what whoever reads it knows */
  const toldIn = (text, own) =>
    planted.find(
      (word) =>
        word !== own && (text.includes(word) || text.includes(Buffer.from(`keeper:${word}`).toString('base64'))),
    );

  const phones = {
    reader: await Phone.invited(here, lan, job.id, 'A reader', 'reader'),
    installer: await Phone.invited(here, lan, job.id, 'An installer', 'installer'),
    lead: await Phone.invited(here, lan, job.id, 'A lead', 'lead'),
  };
  planted.push((await invitation(here, job.id, 'Nobody yet', 'reader')).code);
  for (const phone of Object.values(phones)) {
    planted.push(phone.token, phone.cookie.split('=')[1] ?? '');
    await phone.ask('PUT', '/api/session/password', JSON.stringify({ password: plant() }));
  }

  // A page that repeats what it is sent, once as a level and once as no JSON at all.
  const page = createServer((request, response) => {
    const sent = request.headers.authorization ?? '';
    const open = Buffer.from(sent.replace('Basic ', ''), 'base64').toString();
    response.end(request.url === '/words' ? `${sent} ${open}` : JSON.stringify({ [open]: sent, level: open }));
  });
  page.listen(0, '127.0.0.1');
  await once(page, 'listening');
  const { port } = /** @type {import('node:net').AddressInfo} */ (page.address());
  const profiles = (await here.ask('/api/level-profiles')).body;
  const profileId = (/** @type {string} */ way) => profiles.find((/** @type {any} */ p) => p.way === way)?.id;
  const byPage = (/** @type {string} */ path) => ({
    way: 'http',
    profileId: profileId('json'),
    http: { url: `http://127.0.0.1:${port}${path}`, userName: 'keeper', password: plant(), ownCertificate: false },
  });
  const bySnmp = (/** @type {object} */ access) => ({
    way: 'snmp',
    profileId: profileId('snmp'),
    snmp: { host: '127.0.0.1', port: 9, ...access },
  });
  const v3 = { version: '3', userName: 'keeper', authProtocol: 'sha', privProtocol: 'aes' };
  const [first, second] = links.filter((/** @type {any} */ link) => link.kind !== 'duplex');
  /** Every request with a secret in it, as it should be. @type {[path: string, body: object][]} */
  const plants = [
    [`/api/links/${first.id}/level-sources/near`, byPage('/words')],
    [`/api/links/${first.id}/level-sources/far`, byPage('/level')],
    [`/api/links/${second.id}/level-sources/near`, bySnmp({ version: '2c', community: plant() })],
    [`/api/links/${second.id}/level-sources/far`, bySnmp({ ...v3, authPassword: plant(), privPassword: plant() })],
  ];
  for (const [path, body] of plants) {
    const [, linkId = '', end = ''] = /links\/(.*)\/level-sources\/(.*)/.exec(path) ?? [];
    const { version } = (await here.ask(`/api/links/${linkId}/level-sources`)).body[end];
    const { status, body: said } = await here.ask(path, { version, ...body }, 'PUT');
    if (status !== 200) faults.add(`the plant ${path} is refused: ${said.detail}`);
  }
  for (const link of [first, second]) {
    const { near, logins } = (await here.ask(`/api/links/${link.id}`)).body;
    const body = { version: logins.near?.version ?? -1, userName: 'keeper', password: plant() };
    plants.push([`/api/radios/${near.radio.id}/login`, body]);
    const { status, body: said } = await here.ask(`/api/radios/${near.radio.id}/login`, body, 'PUT');
    if (status !== 200) faults.add(`the login of a radio is refused: ${said.detail}`);
  }

  // Its devices are asked, and everybody sees how that goes.
  const aim = { nearSource: 'scale', farSource: 'scale', order: 'endByEnd' };
  const alignments = [];
  for (const link of [first, second])
    alignments.push((await here.ask(`/api/links/${link.id}/alignments`, aim)).body.id);
  await pause(2500);
  // Later on somebody will have ended these alignments, and with them what asks the devices.
  const started = descendantsOf(pid).flatMap(surroundings);
  if (!started.some(([what]) => what.includes('device'))) faults.add('no device is asked, so that little is known');
  const ids = { ...(await idsOf(here)), alignmentId: alignments };
  let asked = 0;
  /** @param {string} who @param {string} name @param {string} path @param {string} text */
  const look = (who, name, path, text) => {
    asked++;
    // The page of a session asks for its token, when it is loaded anew.
    const own = name === 'getSession' ? tokens[who] : undefined;
    const told = mayTell(who, name, path) ? undefined : toldIn(text, own);
    if (told) faults.add(`${name} tells "${told}" to ${who}: ${text.slice(0, 300)}`);
  };
  /** @param {string} method @param {string} path @param {string} [text] @param {Record<string, string>} [headers] */
  const atComputer = async (method, path, text, headers) => {
    const answer = await fetch(here.address + path, {
      method,
      body: text,
      headers: { ...headers, cookie: here.cookie },
    });
    if (answer.headers.get('content-type') !== 'text/event-stream')
      return { status: answer.status, text: await answer.text() };
    const { value } = (await answer.body?.getReader().read()) ?? {};
    return { status: answer.status, text: Buffer.from(value ?? []).toString() };
  };
  /** @type {Record<string, string>} */
  const tokens = {
    'a lead': phones.lead.token,
    'an installer': phones.installer.token,
    'a reader': phones.reader.token,
  };
  const everybody = {
    'the lead at the computer': atComputer,
    'a lead': phones.lead.ask.bind(phones.lead),
    'an installer': phones.installer.ask.bind(phones.installer),
    'a reader': phones.reader.ask.bind(phones.reader),
  };
  const document = /** @type {any} */ (await (await fetch(`${here.address}/api/openapi.json`)).json());
  // What only reads comes first: what changes may take a plant away.
  const operations = operationsOf(document)
    .filter(({ name }) => !leftOut.includes(name))
    .sort((a, b) => Number(a.method !== 'GET') - Number(b.method !== 'GET'));
  for (const operation of operations) {
    const all = Object.entries(everybody);
    // The shortest form lets one of them ask for what changes, another the next time.
    for (const [who, ask] of rounds > 1 || operation.method === 'GET' ? all : [random.of(all)]) {
      for (let round = 0; round < rounds; round++) {
        // As it should be first; then spoilt as often as not.
        const made = requestFor(operation, document.components.schemas, random, ids, round ? undefined : ids);
        const headers = { 'content-type': made.media, ...made.headers };
        look(who, operation.name, made.path, (await ask(made.method, made.path, made.text, headers)).text);
      }
    }
  }
  // What is wrong in a request is named, but no secret that stands in it.
  for (let round = 0; round < rounds; round++) {
    for (const [path, body] of plants) {
      for (const [who, ask] of Object.entries(everybody)) {
        const text = JSON.stringify(spoil({ version: 0, ...body }, random));
        look(who, 'a spoilt plant', path, (await ask('PUT', path, text, { 'content-type': 'application/json' })).text);
      }
    }
  }

  /** @type {[what: string, text: string][]} */
  const left = [
    ['the console', written()],
    ['the database', dumpOf(databaseUrl)],
    ...started,
    ...descendantsOf(pid).flatMap(surroundings),
    ...places.flatMap(filesIn),
  ];
  for (const [what, text] of left) {
    const told = toldIn(text);
    if (told) faults.add(`"${told}" stands in ${what}`);
  }
  page.closeAllConnections();
  page.close();
  return { planted: planted.length, asked, faults: [...faults] };
}

/** Who may be told secrets: passphrases whoever works with them, all of a job in a file whoever leads it. @param {string} who @param {string} name of the operation @param {string} path */
const mayTell = (who, name, path) =>
  (name === 'revealPassphrases' && who !== 'a reader') ||
  (name === 'exportJob' && path.includes('secrets=include') && who.includes('lead'));

/** What is kept secret of the radios of links, as whoever may know it sees it. @param {import('./server.mjs').Client} here @param {string[]} linkIds @returns {Promise<string[]>} */
export async function passphrasesOf(here, linkIds) {
  const found = [];
  for (const id of linkIds) {
    const { near, far } = (await here.ask(`/api/links/${id}/passphrases`, {})).body;
    found.push(near.passphrase, far.passphrase, near.password, far.password);
  }
  return [...new Set(found.filter(Boolean))];
}

/** Processes that a process has started, and those that these have. @param {number} pid @returns {number[]} */
function descendantsOf(pid) {
  const children = readdirSync('/proc').filter((name) => {
    const parent = /^\d+$/.test(name) && /^PPid:\s*(\d+)/m.exec(readIf(`/proc/${name}/status`))?.[1];
    return parent && Number(parent) === pid;
  });
  return children.flatMap((child) => [Number(child), ...descendantsOf(Number(child))]);
}

/** How a process was started, as other programs may read it. What reads files has the key, to seal what it writes. @param {number} pid @returns {[what: string, text: string][]} */
function surroundings(pid) {
  const line = readIf(`/proc/${pid}/cmdline`).replaceAll('\0', ' ');
  const isReader = line.includes('intake');
  return [
    [`the command line of ${line}`, line],
    [`the environment of ${line}`, isReader ? '' : readIf(`/proc/${pid}/environ`)],
  ];
}

/** @param {string} place a file or a folder @returns {[what: string, text: string][]} */
function filesIn(place) {
  if (!statSync(place, { throwIfNoEntry: false })?.isDirectory()) return [[place, readIf(place)]];
  return readdirSync(place).flatMap((name) => filesIn(join(place, name)));
}

/** Nothing where it is gone meanwhile. @param {string} path */
function readIf(path) {
  try {
    return readFileSync(path, 'latin1');
  } catch {
    return '';
  }
}
