import { connect } from 'node:net';
import { startServer, stopServer } from '../lib/server.mjs';
import { megabytesOf } from './crafted.mjs';
import { Client } from './server.mjs';

/** How soon a viewer must know of a change, ms: 95 of 100 of them; and of one that came while their server was dead. */
export const toldMs = 1000;
const caughtUpMs = 8000;

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A viewer as a page is one: it opens another line when one is lost, from the number on that it heard last, at whichever server there is. */
class Viewer {
  /** when it was told of which place, and how often @type {Map<string, number[]>} */
  heard = new Map();
  /** @type {number[]} */
  numbers = [];
  isAsked = false;
  over = false;

  /** @param {() => string} address of a server that should be there @param {string} jobId */
  constructor(address, jobId) {
    this.address = address;
    this.path = `/api/jobs/${jobId}/stream`;
    this.done = this.watch();
  }

  async watch() {
    while (!this.over) {
      try {
        const since = this.numbers.length ? `after=${this.numbers.at(-1)}` : 'secondsAgo=0';
        this.gone = new AbortController();
        const answer = await fetch(`${this.address()}${this.path}?${since}`, { signal: this.gone.signal });
        let rest = '';
        const decoder = new TextDecoder();
        for await (const chunk of /** @type {any} */ (answer.body)) {
          const pieces = (rest + decoder.decode(chunk, { stream: true })).split('\n\n');
          rest = pieces.pop() ?? '';
          for (const piece of pieces) if (piece.startsWith('data: ')) this.take(JSON.parse(piece.slice(6)));
        }
      } catch {
        // The line was lost.
      }
      if (!this.over) await pause(300);
    }
  }

  /** @param {any} event */
  take(event) {
    if (event.type === 'all') this.isAsked = true;
    if (event.type === 'here' && !this.numbers.length) this.numbers.push(event.number);
    if (event.type !== 'moved') return;
    this.numbers.push(event.number);
    for (const id of Object.keys(event.moved.place ?? {}))
      this.heard.set(id, [...(this.heard.get(id) ?? []), Date.now()]);
  }

  async stop() {
    this.over = true;
    this.gone?.abort();
    await this.done;
  }
}

/**
 * Viewers of one job at two servers while both change it, and one of these dies; and as many lines that take nothing of what they are told.
 * @param {string} databaseUrl @param {{ viewers: number, changes: number }} size
 */
export async function news(databaseUrl, { viewers: many, changes }) {
  /** @type {string[]} */
  const faults = [];
  const servers = await Promise.all([startServer({ databaseUrl }), startServer({ databaseUrl })]);
  const [one, two] = servers;
  /** @type {Viewer[]} */
  const viewers = [];
  /** @type {import('node:net').Socket[]} */
  const deaf = [];
  try {
    const clients = servers.map(({ port }) => new Client(`http://127.0.0.1:${port}`));
    const [first, second] = /** @type {[Client, Client]} */ (clients);
    const { job } = await first.begin();
    await second.begin();
    let isFirstThere = true;
    for (let i = 0; i < many; i++)
      viewers.push(new Viewer(() => (i % 2 && isFirstThere ? first : second).address, job.id));
    for (let i = 0; i < many; i++) {
      const { hostname, port } = new URL(second.address);
      const line = connect(Number(port), hostname, () =>
        line.write(`GET /api/jobs/${job.id}/stream?after=0 HTTP/1.1\r\nHost: ${hostname}:${port}\r\n\r\n`),
      );
      line.on('error', () => undefined).pause();
      deaf.push(line);
    }
    await pause(1500);
    const before = megabytesOf(two?.child.pid ?? 0);
    /** when each place was put down @type {Map<string, number>} */
    const made = new Map();
    const put = async (/** @type {Client} */ by, /** @type {number} */ i) => {
      const body = { name: `Told ${i}`, latitudeDeg: 33.4, longitudeDeg: -37.85, kind: 'site' };
      const { status, body: place } = await by.ask(`/api/jobs/${job.id}/places`, body);
      if (status === 200) made.set(place.id, Date.now());
      else faults.push(`a place is answered by ${status}`);
    };
    for (let i = 0; i < changes; i++) {
      await Promise.all([put(i % 2 ? first : second, i), pause(40)]);
    }
    await pause(1000);
    const late = viewers
      .flatMap(({ heard }) => [...made].map(([id, at]) => (heard.get(id)?.[0] ?? Infinity) - at))
      .sort((a, b) => a - b);
    const told = late[Math.floor(0.95 * late.length)] ?? Infinity;
    if (!(told <= toldMs)) faults.push(`of 100 viewers 95 know of a change after ${told} ms`);
    isFirstThere = false;
    const died = Date.now();
    one?.child.kill('SIGKILL');
    for (let i = 0; i < 20; i++) await put(second, changes + i);
    const isMissing = () => viewers.some(({ heard }) => [...made.keys()].some((id) => !heard.has(id)));
    while (isMissing() && Date.now() - died < caughtUpMs) await pause(100);
    const caughtUp = Date.now() - died;
    if (isMissing()) faults.push(`somebody has missed a change ${caughtUpMs} ms after their server died`);
    if (viewers.some(({ heard }) => [...heard.values()].some((times) => times.length > 1)))
      faults.push('a change was told twice');
    if (viewers.some(({ numbers }) => numbers.some((number, i) => i > 0 && number <= (numbers[i - 1] ?? 0))))
      faults.push('news came out of their order');
    const grownMegabytes = megabytesOf(two?.child.pid ?? 0) - before;
    if (grownMegabytes > 150) faults.push(`lines that take nothing cost ${grownMegabytes.toFixed(0)} MB`);
    return { faults, told, caughtUp, made: made.size, grownMegabytes };
  } finally {
    for (const line of deaf) line.destroy();
    await Promise.all(viewers.map((viewer) => viewer.stop()));
    for (const server of servers) await stopServer(server.child);
  }
}
