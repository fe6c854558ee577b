import { execFile, type ExecFileException } from 'node:child_process';
import { DeviceError } from './device';

/** What is run: a program, and its arguments, one a line. */
export interface RunCommand {
  program: string;
  arguments: string;
}

/** How long a command may take, ms, and what it may say. */
const commandMs = 3000;
const mostBytes = 1_000_000;

/**
 * Runs a command of this computer once, without a shell, and with nothing of the server's own around it.
 * @param mostMs how long it may take
 * @throws DeviceError with what it said instead of an answer
 */
export function commandAnswer({ program, arguments: text }: RunCommand, mostMs = commandMs): Promise<string> {
  const list = text.split('\n').filter((line) => line !== '');
  const env = { PATH: process.env.PATH, HOME: process.env.HOME, LANG: process.env.LANG };
  return new Promise((resolve, reject) => {
    let late = false;
    const child = execFile(program, list, { maxBuffer: mostBytes, env, killSignal: 'SIGKILL' }, (error, out, said) => {
      clearTimeout(timer);
      if (!error && !late) return resolve(out);
      const why = late || !error ? `took more than ${mostMs / 1000} s` : failureText(error, said);
      reject(new DeviceError(`The command ${program} ${why}.`));
    });
    // Not by the time limit of Node's own: where this program had no time to listen, that throws away an answer which is there, and tells of an empty one.
    const listenedTo = (): void => {
      late = child.exitCode === null && child.signalCode === null;
      if (late) child.kill('SIGKILL');
      // Whatever it has started may still hold them.
      child.stdout?.destroy();
      child.stderr?.destroy();
    };
    const timer = setTimeout(() => setImmediate(listenedTo), mostMs);
  });
}

/** What became of a command instead of an answer, to stand after its name. @param said on its error output */
function failureText({ code, signal, message }: ExecFileException, said: string): string {
  if (code === 'ENOENT') return 'is not on this computer';
  if (code === 'EACCES') return 'may not be run by Kivram: make it executable';
  if (code === 'ERR_CHILD_PROCESS_STDIO_MAXBUFFER') return `said more than ${mostBytes / 1e6} MB`;
  const words = said.trim() || (signal ? '' : message);
  return `${signal ? `was ended by ${signal}` : `ended with ${String(code)}`}${words && `: ${words.slice(0, 200)}`}`;
}
