// Starts Kivram with its demo job: installs what is missing, builds, starts its own database, serves on 127.0.0.1.
//   npm run demo              a second start takes up where the first ended
//   npm run demo -- --reset   starts over with a fresh demo job
//   npm run demo -- --port N  on another port than 4180
import { join } from 'node:path';
import { ensureBuild } from './lib/build.mjs';
import { Cluster, freePort } from './lib/cluster.mjs';
import { releaseLock, takeLock, writeLock } from './lib/lock.mjs';
import { ensureDebianPackages, ensureNpmPackages, stateFolder } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';
import { startServer, stopServer } from './lib/server.mjs';

const args = process.argv.slice(2);
const known = ['--reset', '--port'];
const unknown = args.find((arg, i) => !known.includes(arg) && args[i - 1] !== '--port');
if (unknown) giveUp(`"${unknown}" is not known here; use --reset or --port N`);
const wantedPort = args.includes('--port') ? Number(args[args.indexOf('--port') + 1]) : 4180;
if (!(Number.isInteger(wantedPort) && wantedPort > 0 && wantedPort < 65536))
  giveUp('--port needs a number from 1 to 65535');

const lock = join(stateFolder, 'demo.lock');
const running = takeLock(lock);
if (running) giveUp(`a demo is running from this folder already: ${running}. Use it, or end it with Ctrl-C first.`);

const cluster = new Cluster(join(stateFolder, 'demo'));
/** @type {import('node:child_process').ChildProcess | undefined} */
let server;
let ending = false;

/** Ends what this start began, in reverse order. @param {number} code */
async function end(code) {
  if (ending) return;
  ending = true;
  if (server) await stopServer(server);
  cluster.stop();
  releaseLock(lock);
  process.exit(code);
}
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));

ensureNpmPackages();
ensureDebianPackages('postgresql');
ensureBuild();
if (args.includes('--reset')) cluster.remove();
say('starting the database');
await cluster.start();
try {
  const databaseUrl = cluster.database('kivram');
  const started = await startServer({ databaseUrl, port: wantedPort }).catch(async () => {
    say(`port ${wantedPort} is taken or the server did not start; trying another port`);
    return startServer({ databaseUrl, port: await freePort() });
  });
  server = started.child;
  server.once('exit', () => void end(1));
  const address = `http://127.0.0.1:${started.port}/`;
  writeLock(lock, address);
  say(`ready at ${address}   (Ctrl-C ends it, --reset starts over)`);
} catch (error) {
  console.error(`kivram: ${error instanceof Error ? error.message : error}`);
  await end(1);
}
