import { startServer, stopServer } from '../lib/server.mjs';
import { Client } from './server.mjs';

/** How soon another server must read on, ms. */
export const takeOverMs = 10_000;

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Starts two servers at once over one database, aims through one, kills it, and sees that the other reads on, and nothing twice.
 * @param {string} databaseUrl
 */
export async function twoServers(databaseUrl) {
  /** @type {string[]} */
  const faults = [];
  const servers = await Promise.all([startServer({ databaseUrl }), startServer({ databaseUrl })]);
  const [one, two] = servers;
  try {
    const clients = servers.map(({ port }) => new Client(`http://127.0.0.1:${port}`));
    const [first, second] = /** @type {[Client, Client]} */ (clients);
    const { links } = await first.begin();
    await second.begin();
    const aim = { nearSource: 'phone', farSource: 'phone', order: 'endByEnd' };
    const wanted = links.filter((/** @type {any} */ l) => ['Hatchery', 'Gauge hut'].includes(l.name));
    /** @type {string[]} */
    const ids = [];
    for (const { id } of wanted) ids.push((await first.ask(`/api/links/${id}/alignments`, aim)).body.id);
    await pause(3000);
    const times = async (/** @type {string} */ id) =>
      (await second.ask(`/api/alignments/${id}`)).body.samples
        .filter((/** @type {any} */ s) => s.end === 'near')
        .map((/** @type {any} */ s) => s.tS);
    const before = await Promise.all(ids.map(times));
    const died = Date.now();
    one?.child.kill('SIGKILL');
    await pause(500);
    const atDeath = await Promise.all(ids.map(times));
    let backMs = Infinity;
    while (backMs === Infinity && Date.now() - died < 3 * takeOverMs) {
      await pause(100);
      const now = await Promise.all(ids.map(times));
      if (now.every((list, i) => list.length > (atDeath[i]?.length ?? 0))) backMs = Date.now() - died;
    }
    if (backMs > takeOverMs) faults.push(`the other server reads on after ${backMs} ms`);
    await pause(2000);
    const after = await Promise.all(ids.map(times));
    after.forEach((list, i) => {
      if (new Set(list).size !== list.length) faults.push('readings are there twice');
      if ([...list].sort((a, b) => a - b).some((tS, at) => tS !== list[at])) faults.push('time goes backwards');
      // Ten a second by one server, fewer on a machine that is loaded; two would make twenty.
      const rate = (before[i]?.length ?? 0) / Math.max(1, before[i]?.at(-1) - before[i]?.[0]);
      if (!(rate > 1 && rate < 12)) faults.push(`${rate.toFixed(1)} readings a second`);
    });
    return { faults, backMs };
  } finally {
    for (const server of [one, two]) if (server) await stopServer(server.child);
  }
}
