import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Cluster } from './cluster.mjs';
import { copyFolder, removeCopies, thinDatabase } from './databases.mjs';
import { keyIn } from './key.mjs';
import { projectRoot, stateFolder } from './packages.mjs';
import { say } from './say.mjs';
import { startServer, stopServer } from './server.mjs';

/** The whole demo, named as the start command names it, and the demo with few of its readings. */
export const wholeDemo = 'kivram';
export const thinDemo = 'kivram_thin';

/**
 * A database cluster of the tests' own, in which the demo lies twice as built code loads it. It is loaded once for each build of the server, and stays for the next run.
 * @returns {Promise<{ env: Record<string, string>, end: () => void }>} env: where tests find it; end: stops it, and takes away what tests have made in it
 */
export async function startDemoDatabase() {
  const cluster = new Cluster(join(stateFolder, 'test'), { durable: false });
  const mark = join(cluster.folder, 'loaded');
  const wanted = digest();
  const isLoaded = existsSync(mark) && readFileSync(mark, 'utf8') === wanted;
  // It is written to no disk that can be relied on: whatever ends without a word leaves a database that is loaded anew.
  rmSync(mark, { force: true });
  if (!isLoaded) await load(cluster);
  process.env.KIVRAM_KEY = keyIn(keyOf(cluster));
  await cluster.start();
  const address = cluster.database(wholeDemo);
  if (!isLoaded) thinDatabase(address, wholeDemo, thinDemo);
  const env = {
    KIVRAM_TEST_DATABASE_URL: address,
    KIVRAM_TEST_TEMPLATE: thinDemo,
    KIVRAM_TEST_WHOLE: wholeDemo,
    KIVRAM_TEST_STATE: begunFolder,
  };
  const end = () => {
    removeCopies(address);
    cluster.stop();
    writeFileSync(mark, wanted);
  };
  return { env, end };
}

/** A state folder as the start command leaves it, for tests of that command: copied, it saves them the loading. */
const begunFolder = join(stateFolder, 'test-begun');

const keyOf = (/** @type {Cluster} */ cluster) => join(cluster.folder, 'key');

/** @param {Cluster} cluster */
async function load(cluster) {
  say('loading the demo job once');
  cluster.remove();
  await cluster.start();
  const databaseUrl = cluster.database(wholeDemo);
  await stopServer((await startServer({ databaseUrl, key: keyIn(keyOf(cluster)) })).child);
  cluster.stop();
  rmSync(begunFolder, { recursive: true, force: true });
  const into = join(begunFolder, 'demo');
  mkdirSync(into, { recursive: true });
  copyFolder(cluster.data, join(into, 'data'));
  copyFileSync(cluster.secret, join(into, 'password'));
  copyFileSync(keyOf(cluster), join(begunFolder, 'demo.key'));
}

/** Stands for the server that loads the demo whatever the page is, and for the day, which the demo's days go by. */
function digest() {
  const server = join(projectRoot, 'packages/server');
  const build = readFileSync(join(projectRoot, '.kivram', 'build'), 'utf8').slice(0, 12);
  const program = readFileSync(join(server, 'dist/index.js'), 'utf8').replaceAll(build, '');
  const hash = createHash('sha256').update(new Date().toDateString()).update(program);
  for (const file of readdirSync(join(server, 'data'), { recursive: true, withFileTypes: true }))
    if (file.isFile()) hash.update(readFileSync(join(file.parentPath, file.name)));
  return hash.digest('hex');
}
