import { createSocket } from 'node:dgram';
import { once } from 'node:events';
import { createServer } from 'node:http';
import { Random } from './random.mjs';

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Of the readings of another link that are taken while no radio is asked, this share is taken meanwhile, at least. */
const leastShare = 0.5;

/** An answer of SNMP changed on its way: bytes, lengths, types, pieces of others. @param {Buffer} answer @param {Random} random */
function mutated(answer, random) {
  const crafted = Buffer.from(answer);
  const at = () => random.whole(0, crafted.length - 1);
  for (let times = random.whole(1, 4); times > 0; times--) {
    const kind = random.whole(0, 5);
    if (kind === 0) crafted[at()] = random.whole(0, 255);
    else if (kind === 1) crafted[at()] = 0xff;
    // The type of the answer: a report, a trap, a question (RFC 3416, section 3).
    else if (kind === 2) crafted.set([random.of([0xa0, 0xa1, 0xa5, 0xa7, 0xa8])], Math.max(0, crafted.indexOf(0xa2)));
    else if (kind === 3) return crafted.subarray(0, at());
    else if (kind === 4) crafted.copy(crafted, at(), at(), at());
    else return Buffer.concat([crafted, crafted.subarray(at())]);
  }
  return crafted;
}

/** Pages that no radio has. @type {Record<string, () => string>} */
const pages = {
  '/deep': () => '['.repeat(400_000) + ']'.repeat(400_000),
  '/keys': () => `{"${'k'.repeat(450_000)}":[${Array(900).fill(-58).join(',')}]}`,
  '/many': () => `[${Array(400_000).fill(1).join(',')}]`,
  '/proto': () => '{"__proto__":{"level":-58},"constructor":{"prototype":{"level":1}},"level":"-58"}',
  '/words': () => 'x'.repeat(900_000),
};

/**
 * Radios that answer what no radio should, while another link is aimed: nothing but the processes that ask them may die of it.
 * @param {import('./server.mjs').Client} client @param {number} pid of the server @param {{ answers: number, seed: number }} options answers: mutated ones of SNMP
 */
export async function devices(client, pid, { answers, seed }) {
  const random = new Random(seed);
  /** @type {string[]} */
  const faults = [];
  const { links } = await client.begin();
  const [evil, good] = links.filter((/** @type {any} */ link) => link.kind !== 'duplex').slice(0, 2);
  const profiles = (await client.ask('/api/level-profiles')).body;
  const profileOf = (/** @type {string} */ way) => profiles.find((/** @type {any} */ p) => p.way === way)?.id;
  const agent = (await client.ask(`/api/standin/links/${evil.id}/radios/near/agent`, {})).body;
  let changed = 0;
  const between = createSocket('udp4');
  between.bind(0, '127.0.0.1');
  await once(between, 'listening');
  between.on('message', (question, { port }) => {
    const on = createSocket('udp4');
    on.once('message', (answer) => {
      const crafted = mutated(answer, random);
      if (++changed <= answers) between.send(crafted, port, '127.0.0.1');
      on.close();
    });
    on.send(question, agent.port, '127.0.0.1');
    setTimeout(() => {
      try {
        on.close();
      } catch {
        // It has been closed.
      }
    }, 2000).unref();
  });
  const page = createServer((request, response) => response.end(pages[request.url ?? '']?.() ?? '{}'));
  page.listen(0, '127.0.0.1');
  await once(page, 'listening');

  const choose = async (/** @type {string} */ end, /** @type {object} */ source) => {
    const path = `/api/links/${evil.id}/level-sources`;
    const { version } = (await client.ask(path)).body[end];
    const { status, body } = await client.ask(`${path}/${end}`, { version, ...source }, 'PUT');
    if (status !== 200) faults.push(`the ${end} end cannot be set up: ${body.detail}`);
  };
  const { community } = agent;
  const snmp = { host: '127.0.0.1', port: between.address().port, version: '2c', community };
  await choose('near', { way: 'snmp', profileId: profileOf('snmp'), snmp });
  const port = /** @type {import('node:net').AddressInfo} */ (page.address()).port;
  const paths = Object.keys(pages);
  const http = (/** @type {string} */ path) => ({ url: `http://127.0.0.1:${port}${path}`, ownCertificate: false });
  const aim = { nearSource: 'scale', farSource: 'scale', order: 'endByEnd' };
  const begin = async (/** @type {string} */ id) => (await client.ask(`/api/links/${id}/alignments`, aim)).body.id;
  await choose('far', { way: 'http', profileId: profileOf('json'), http: http(paths[0] ?? '') });
  const aimed = await begin(good.id);
  const samples = async () => (await client.ask(`/api/alignments/${aimed}`)).body.samples.length / 2;
  await pause(3000);
  const calmRate = (await samples()) / 3;
  await begin(evil.id);
  const [before, began] = [await samples(), performance.now()];
  // Fewer than the server asks devices at one time.
  const atOnce = Math.min(12, Math.ceil(answers / 10));
  // Every one is also looked through, as whoever sets it up does, until enough answers were changed.
  for (let round = 0; round < paths.length || changed < answers; round++) {
    const path = paths[round % paths.length] ?? '';
    if (round < paths.length) await choose('far', { way: 'http', profileId: profileOf('json'), http: http(path) });
    const bySnmp = { version: -1, way: 'snmp', profileId: profileOf('snmp'), snmp };
    const asked = await Promise.all([
      client.ask(`/api/links/${evil.id}/level-sources/far/ask`, {
        source: { version: -1, way: 'http', profileId: profileOf('json'), http: http(path) },
      }),
      ...Array.from({ length: atOnce }, () =>
        client.ask(`/api/links/${evil.id}/level-sources/near/ask`, { source: bySnmp, branch: '1.3.6.1.4.1' }),
      ),
    ]);
    for (const { status, body } of asked) if (status >= 500) faults.push(`${path}: ${status} ${body.detail}`);
    const { status } = await client.ask('/api/health');
    if (status !== 200) faults.push(`the server is not well after ${changed} answers`);
    if (faults.length > 10) break;
  }
  const rate = (1000 * ((await samples()) - before)) / (performance.now() - began);
  if (!(rate >= leastShare * calmRate))
    faults.push(`only ${rate.toFixed(1)} readings a second of another link, ${calmRate.toFixed(1)} before`);
  try {
    process.kill(pid, 0);
  } catch {
    faults.push('the server died');
  }
  await pause(100);
  between.close();
  page.closeAllConnections();
  page.close();
  return { changed, pages: paths.length, rate, faults };
}
