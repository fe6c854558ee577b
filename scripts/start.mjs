// Starts Kivram: installs what is missing, builds, starts its own database, serves on 127.0.0.1, and on the local network only where that is wanted.
//   npm start                 with jobs of one's own; the first start has none
//   npm run demo              with the demo job, apart from one's own; a second start takes up where the first ended
//   npm run demo -- --reset   starts over with a fresh demo job
//   -- --port N               on another port than 4170, or 4180 with the demo
//   -- --lan                  also for phones on the local network, over HTTPS; who comes in is invited on the screen
//   -- --lan-port N           there on another port than the next one
import { fork } from 'node:child_process';
import { join } from 'node:path';
import { randomBytes } from 'node:crypto';
import './lib/plainErrors.mjs';
import { ensureBuild } from './lib/build.mjs';
import { Cluster, freePort, isFree } from './lib/cluster.mjs';
import { openDoor, writeDoor } from './lib/door.mjs';
import { releaseLock, takeLock, writeLock } from './lib/lock.mjs';
import { ensureDebianPackages, ensureNpmPackages, stateFolder } from './lib/packages.mjs';
import { giveUp, say } from './lib/say.mjs';
import { startServer, stopServer } from './lib/server.mjs';

const args = process.argv.slice(2);
const isDemo = args.includes('--demo');
/** Jobs of one's own are never removed by an option. */
const known = ['--lan', '--port', '--lan-port', ...(isDemo ? ['--demo', '--reset'] : [])];
const name = isDemo ? 'demo' : 'own';
const unknown = args.find((arg, i) => !known.includes(arg) && !(args[i - 1] ?? '').endsWith('port'));
if (unknown) giveUp(`"${unknown}" is not known here; use ${isDemo ? '--reset, ' : ''}--lan, --port N or --lan-port N`);
const wantedPort = portAfter('--port', isDemo ? 4180 : 4170);
const isOpen = args.includes('--lan') || args.includes('--lan-port');
let lanPort = portAfter('--lan-port', wantedPort + 1);

/** @param {string} option @param {number} usual @returns {number} */
function portAfter(option, usual) {
  const wanted = args.includes(option) ? Number(args[args.indexOf(option) + 1]) : usual;
  if (!(Number.isInteger(wanted) && wanted > 0 && wanted < 65536)) giveUp(`${option} needs a number from 1 to 65535`);
  return wanted;
}

const lock = join(stateFolder, `${name}.lock`);
const running = takeLock(lock);
if (running) {
  const what = isDemo ? 'a demo' : 'Kivram';
  const whole = isDemo ? '' : ` (its whole address stands in ${join(stateFolder, `${name}-door.html`)})`;
  giveUp(`${what} is running from this folder already: ${running}${whole}. Use it, or end it with Ctrl-C first.`);
}

const cluster = new Cluster(join(stateFolder, name));
/** @type {import('node:child_process').ChildProcess | undefined} */
let server;
/** @type {import('node:child_process').ChildProcess | undefined} */
let keeper;
let ending = false;
/** What a browser of this computer shows to be its owner's. Whoever tries the demo is let in as they are. */
const here = isDemo ? undefined : randomBytes(18).toString('base64url');
const door = join(stateFolder, `${name}-door.html`);
let port = wantedPort;

/** Ends what this start began, in reverse order. @param {number} code */
async function end(code) {
  if (ending) return;
  ending = true;
  if (server) await stopServer(server);
  if (keeper) await ended(keeper, () => keeper?.disconnect());
  releaseLock(lock);
  process.exit(code);
}
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));

/** @param {import('node:child_process').ChildProcess} child @param {() => void} ask @returns {Promise<unknown>} */
function ended(child, ask) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  const exit = new Promise((resolve) => child.once('exit', resolve));
  ask();
  return exit;
}

/** Starts the database under a keeper, and both again when they die. @returns {Promise<void>} when it runs */
function startDatabase() {
  // A group of its own: Ctrl-C reaches this process only, which ends the others in its order.
  const child = fork(join(import.meta.dirname, 'lib/keeper.mjs'), [cluster.folder, String(cluster.port)], {
    detached: true,
  });
  keeper = child;
  return new Promise((resolve) => {
    child.on('message', (message) => {
      const before = cluster.port;
      cluster.port = /** @type {{ port: number }} */ (message).port;
      if (before) say('the database had died and was started again');
      // Another program has taken the port meanwhile: the server must hear of the new one.
      if (before && before !== cluster.port) server?.kill('SIGKILL');
      resolve();
    });
    child.once('exit', (code) => {
      if (ending) return;
      if (code) void end(1); // it has said why
      else void startDatabase();
    });
  });
}

/** A server that ends sooner than this will end again, ms. */
const soonMs = 5000;
let soon = 0;

async function serve() {
  const began = Date.now();
  await cluster.ready();
  if (!(await isFree(port))) {
    say(`port ${port} is taken; taking another`);
    port = await freePort();
  }
  if (isOpen && !(await isFree(lanPort))) {
    say(`port ${lanPort} is taken; taking another for the local network`);
    lanPort = await freePort();
  }
  const started = await startServer({
    databaseUrl: cluster.database('kivram'),
    port,
    uploads: `${name}/uploads`,
    demo: isDemo,
    // Whoever tries the demo runs nothing by it.
    here,
    commands: isDemo ? undefined : join(stateFolder, 'commands.json'),
    keyFile: join(stateFolder, `${name}.key`),
    lan: isOpen ? { port: lanPort, folder: join(stateFolder, `${name}-lan`) } : undefined,
  });
  server = started.child;
  server.once('exit', () => {
    if (ending) return;
    soon = Date.now() - began < soonMs ? soon + 1 : 0;
    void serveAgain();
  });
  const address = `http://127.0.0.1:${port}/`;
  writeLock(lock, address);
  say(
    `ready at ${here ? writeDoor(door, address, here) : address}   (Ctrl-C ends it${isDemo ? ', --reset starts over' : ''})`,
  );
  if (started.opening) {
    say(`open to the local network at ${started.opening.addresses.join(', ')}`);
    say(`its certificate has the fingerprint ${started.opening.fingerprint}`);
    say('phones come in by an invitation: open a job here, then People');
  }
}

/** A server that does not start, or dies, may have met a database that died. */
async function serveAgain() {
  for (; soon < 5; soon++) {
    say('the server had died and is started again');
    try {
      return await serve();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 1000));
    }
    if (ending) return;
  }
  console.error('kivram: the server ends again and again; its log above says why');
  await end(1);
}

/** @param {unknown} error */
function broken(error) {
  console.error(`kivram: ${error instanceof Error ? error.message : error}`);
  return end(1);
}

ensureNpmPackages();
ensureDebianPackages('postgresql');
ensureBuild();
if (isDemo && args.includes('--reset')) cluster.remove();
if (process.getuid?.() === 0)
  say(
    'started as root: files, radios and commands are read as the user nobody, the database runs as postgres, the server itself as root; a user of its own is safer',
  );
say('starting the database');
await startDatabase();
await serve().catch((error) => (error.inVain ? broken(error) : serveAgain()));
if (here) openDoor(door);
