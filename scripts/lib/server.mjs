import { fork } from 'node:child_process';
import { join } from 'node:path';
import { newKey } from './key.mjs';
import { projectRoot, stateFolder } from './packages.mjs';

/** @type {string | undefined} */
let spareKey;
/** What servers without a key of their own share: those of one test run, which read each other's databases. */
export const sharedKey = () => process.env.KIVRAM_KEY ?? (spareKey ??= newKey());

/**
 * Starts the built server and waits until it listens. The server ends when this process does.
 * @param {{ databaseUrl: string, port?: number, standinSpeed?: number, uploads?: string, demo?: boolean, key?: string, keyFile?: string, commands?: string, here?: string, lan?: { port: number, folder: string }, hear?: (words: string) => void }} options uploads: where files lie while they are read, in the state folder; demo: whether an
 *   empty database gets the demo job with its made-up gear and laws; lan: the door to the local network, where it is open, and where its keys lie; commands: the file with the commands of this computer; here: what a browser of this computer shows to be its owner's; hear: gets what it writes on its console
 * @returns {Promise<{ child: import('node:child_process').ChildProcess, port: number, opening?: { addresses: string[], fingerprint: string } }>}
 */
export function startServer({
  databaseUrl,
  port = 0,
  standinSpeed = 1,
  uploads,
  demo = true,
  keyFile,
  key = keyFile ? '' : sharedKey(),
  lan,
  commands,
  here,
  hear,
}) {
  const child = fork(join(projectRoot, 'packages/server/dist/index.js'), [], {
    env: {
      ...process.env,
      KIVRAM_DATABASE_URL: databaseUrl,
      KIVRAM_PORT: String(port),
      KIVRAM_WEB: join(projectRoot, 'packages/web/dist'),
      KIVRAM_STANDIN_SPEED: String(standinSpeed),
      KIVRAM_DEMO: demo ? 'yes' : 'no',
      KIVRAM_KEY: key,
      ...(keyFile && { KIVRAM_KEY_FILE: keyFile }),
      ...(lan && { KIVRAM_LAN_PORT: String(lan.port), KIVRAM_LAN_FOLDER: lan.folder }),
      ...(here && { KIVRAM_HERE: here }),
      ...(commands && { KIVRAM_COMMANDS: commands }),
      ...(uploads && { KIVRAM_UPLOADS: join(stateFolder, uploads) }),
    },
    stdio: ['ignore', hear ? 'pipe' : 'inherit', hear ? 'pipe' : 'inherit', 'ipc'],
    // Ctrl-C reaches the whole group: this process ends the server in its own order.
    detached: true,
  });
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (piece) => hear?.(String(piece)));
  return new Promise((resolve, reject) => {
    child.once('message', (message) => {
      const where = /** @type {{ port: number, opening?: { addresses: string[], fingerprint: string } }} */ (message);
      resolve({ child, ...where });
    });
    child.once('exit', (code) => {
      const said = `the server ended with code ${code} before it listened`;
      // Code 2: what it was started with makes no sense, so that another try is in vain.
      reject(Object.assign(new Error(said), { inVain: code === 2 }));
    });
  });
}

/** @param {import('node:child_process').ChildProcess} child @returns {Promise<void>} */
export function stopServer(child) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    child.once('exit', () => resolve());
    child.kill('SIGTERM');
    setTimeout(() => child.kill('SIGKILL'), 5000).unref();
  });
}
