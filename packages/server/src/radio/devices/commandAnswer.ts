import type { CommandAccess } from '@kivram/contract/requests/level';
import { execFile } from 'node:child_process';
import { DeviceError } from './device';

/** How long a command may take, ms, and what it may say. */
const commandMs = 3000;
const mostBytes = 1_000_000;

/**
 * Runs a command of this computer once, without a shell, and with nothing of the server's own around it.
 * @throws DeviceError with what it said instead of an answer
 */
export function commandAnswer({ program, arguments: text }: CommandAccess): Promise<string> {
  const list = text.split('\n').filter((line) => line !== '');
  const env = { PATH: process.env.PATH, HOME: process.env.HOME, LANG: process.env.LANG };
  return new Promise((resolve, reject) => {
    execFile(
      program,
      list,
      { timeout: commandMs, maxBuffer: mostBytes, env, killSignal: 'SIGKILL' },
      (error, out, said) => {
        if (!error) return resolve(out);
        const why =
          error.code === 'ENOENT'
            ? 'is not on this computer'
            : error.killed
              ? `took more than ${commandMs / 1000} s`
              : `ended with ${String(error.code)}: ${(said.trim() || error.message).slice(0, 200)}`;
        reject(new DeviceError(`The command ${program} ${why}.`));
      },
    );
  });
}
