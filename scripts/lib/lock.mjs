import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * Holds a folder for one running process of a program. A lock of a dead process, or of a process number that now belongs to something else, is no lock.
 * @param {string} file @param {string} [program] by which its command line is known
 * @returns {string | undefined} what the running start has written there, when there is one
 */
export function takeLock(file, program = 'start.mjs') {
  const held = readLock(file, program);
  if (held) return held;
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, `${process.pid}\n`);
  return undefined;
}

/** @param {string} file @param {string} text */
export function writeLock(file, text) {
  writeFileSync(file, `${process.pid}\n${text}`);
}

/** @param {string} file */
export function releaseLock(file) {
  rmSync(file, { force: true });
}

/** @param {string} file @param {string} program @returns {string | undefined} */
function readLock(file, program) {
  if (!existsSync(file)) return undefined;
  const [pid, ...text] = readFileSync(file, 'utf8').split('\n');
  const commandLine = `/proc/${pid}/cmdline`;
  const alive =
    pid !== String(process.pid) && existsSync(commandLine) && readFileSync(commandLine, 'utf8').includes(program);
  return alive ? text.join('\n').trim() || 'starting' : undefined;
}
