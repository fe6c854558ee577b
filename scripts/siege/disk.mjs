import { spawnSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import { appendFileSync, mkdirSync, rmSync, statSync, truncateSync } from 'node:fs';
import { join } from 'node:path';
import { Program } from './kills.mjs';
import { Client } from './server.mjs';

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Holds the demo and the log of its database, with some room, MB. */
const diskMegabytes = 400;
const restMegabytes = 12;
/** A change that takes some of the room that the database has put by, bytes. */
const changeBytes = 300_000;
/** So many are refused before there is room again; more are not tried than these. */
const refusals = 20;
const mostChanges = 150;
/** How long it may take until it goes on, once there is room, ms. */
const goesOnMs = 60_000;

/**
 * The program on a small disk of its own, which runs full while somebody works: what is acknowledged is there, what is not is said to be the disk's fault, and it goes on by itself once there is room.
 * @returns {Promise<{ made: number, refused: number, faults: string[] } | null>} null where no such disk can be made: only root may
 */
export async function fullDisk() {
  const program = new Program(`disk-${process.pid}`);
  mkdirSync(program.state, { recursive: true });
  const disk = ['-t', 'tmpfs', '-o', `size=${diskMegabytes}m,mode=755`, 'kivram-siege', program.state];
  const isMounted = process.getuid?.() === 0 && spawnSync('mount', disk).status === 0;
  try {
    return isMounted ? await attack(program) : null;
  } finally {
    await program.stop();
    if (isMounted) spawnSync('umount', ['-l', program.state]);
    await program.remove();
  }
}

/** @param {Program} program */
async function attack(program) {
  /** @type {string[]} */
  const faults = [];
  await program.start();
  const client = new Client(program.address);
  const { links } = await client.begin();
  const path = `/api/links/${links[0].id}/throughput-tests/iperf3`;
  /** @type {string[]} */
  const made = [];
  let at = 1_790_000_000;
  const change = async () => {
    const fileName = `${randomUUID()}.json`;
    at += 60;
    const text = JSON.stringify({
      // The database packs what repeats itself.
      title: randomBytes(changeBytes).toString('base64'),
      start: { timestamp: { timesecs: at }, test_start: { protocol: 'TCP', duration: 1, reverse: 0 } },
      intervals: [{ sum: { seconds: 1, bytes: 1e7, bits_per_second: 8e7 } }],
      end: { sum_sent: { retransmits: 0 }, sum_received: { bits_per_second: 8e7, seconds: 1 } },
    });
    const { status, body } = await client.ask(path, { fileName, text, clientAt: 'near' });
    if (status === 200) made.push(fileName);
    else if (![503, 507].includes(status)) faults.push(`a change is answered by ${status}: ${body.detail}`);
    return status;
  };
  if ((await change()) !== 200) faults.push('nothing can be changed before the disk is full either');

  const ballast = join(program.state, 'ballast');
  for (let bytes = 2 ** 20; bytes >= 4096;) {
    try {
      appendFileSync(ballast, Buffer.alloc(bytes));
    } catch {
      bytes /= 2;
    }
  }
  // Changes fill the rest, so that one of them is the first that finds no room.
  truncateSync(ballast, statSync(ballast).size - restMegabytes * 2 ** 20);
  let refused = 0;
  for (let i = 0; i < mostChanges && refused < refusals; i++) if ((await change()) !== 200) refused++;
  if (refused < refusals) faults.push(`only ${refused} changes were refused for it, so that little is known`);
  const { status, body } = await client.ask('/api/health');
  if (status !== 503 || !body.trouble?.includes('is full')) faults.push(`its health says ${body.trouble}`);

  rmSync(ballast);
  const until = Date.now() + goesOnMs;
  while ((await change()) !== 200) {
    if (Date.now() > until) {
      faults.push(`it does not go on within ${goesOnMs / 1000} s of there being room`);
      break;
    }
    await pause(500);
  }
  const { tests } = (await client.ask(`/api/links/${links[0].id}`)).body;
  const names = tests.map((/** @type {any} */ test) => test.fileName);
  for (const name of made) {
    const count = names.filter((/** @type {string} */ other) => other === name).length;
    if (count !== 1) faults.push(`${name}, which was acknowledged, is there ${count} times`);
  }
  for (const words of program.unforeseen) faults.push(`a request failed of ${words}`);
  return { made: made.length, refused, faults };
}
