import { connect } from 'node:tls';

const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** More would be more than a device is allowed. */
const mostHeld = 200;
const longestAnswerMs = 2000;

/**
 * One device on the local network opens lines by the thousand and is quiet on them; who works at the computer notices nothing, and whoever comes after it lets go gets in.
 * @param {{ door: string, here: string, lines: number }} options door: the address on the local network; here: that at the computer
 */
export async function holdLines({ door, here, lines }) {
  const { hostname, port, host } = new URL(door);
  /** @type {string[]} */
  const faults = [];
  /** @type {Set<import('node:tls').TLSSocket>} */
  const held = new Set();
  /** @returns {Promise<boolean>} whether it was answered */
  const open = () =>
    new Promise((resolve) => {
      const line = connect({ host: hostname, port: Number(port), rejectUnauthorized: false });
      line.on('error', () => undefined);
      line.once('close', () => (held.delete(line), resolve(false)));
      line.once('secureConnect', () => line.write(`GET /api/health HTTP/1.1\r\nHost: ${host}\r\n\r\n`));
      line.once('data', () => (held.add(line), resolve(true)));
    });
  for (let i = 0; i < lines; i += 50) await Promise.all(Array.from({ length: 50 }, open));
  const most = held.size;
  if (most > mostHeld) faults.push(`${most} lines are held by one device`);
  const began = performance.now();
  const answer = await fetch(`${here}/api/jobs`);
  const answerMs = performance.now() - began;
  if (answer.status !== 200 || answerMs > longestAnswerMs)
    faults.push(`at the computer it answers ${answer.status} after ${answerMs.toFixed(0)} ms`);
  for (const line of held) line.destroy();
  await pause(1000);
  if (!(await open())) faults.push('nobody gets in after the lines were let go');
  for (const line of held) line.destroy();
  return { faults, most, answerMs };
}
