import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Cluster } from './cluster.mjs';
import { removeCopies, thinDatabase } from './databases.mjs';
import { keyIn } from './key.mjs';
import { projectRoot, stateFolder } from './packages.mjs';
import { say } from './say.mjs';
import { startServer, stopServer } from './server.mjs';

/** The whole demo, and the demo with few of its readings. */
export const wholeDemo = 'kivram_loaded';
export const thinDemo = 'kivram_thin';

/**
 * A database cluster of the tests' own, in which the demo lies twice as built code loads it. It is loaded once for each build of the server, and stays for the next run.
 * @returns {Promise<{ env: Record<string, string>, end: () => void }>} env: where tests find it; end: stops it, and takes away what tests have made in it
 */
export async function startDemoDatabase() {
  const folder = join(stateFolder, 'test');
  const [mark, keyFile] = [join(folder, 'loaded'), join(folder, 'key')];
  const cluster = new Cluster(folder, { durable: false });
  const wanted = digest();
  const isLoaded = existsSync(mark) && readFileSync(mark, 'utf8') === wanted;
  if (!isLoaded) cluster.remove();
  // It is written to no disk that can be relied on: whatever ends without a word leaves a database that is loaded anew.
  rmSync(mark, { force: true });
  process.env.KIVRAM_KEY = keyIn(keyFile);
  await cluster.start();
  const address = cluster.database(wholeDemo);
  if (!isLoaded) {
    say('loading the demo job once');
    await stopServer((await startServer({ databaseUrl: address })).child);
    thinDatabase(address, wholeDemo, thinDemo);
  }
  const env = { KIVRAM_TEST_DATABASE_URL: address, KIVRAM_TEST_TEMPLATE: thinDemo, KIVRAM_TEST_WHOLE: wholeDemo };
  const end = () => {
    removeCopies(address);
    cluster.stop();
    writeFileSync(mark, wanted);
  };
  return { env, end };
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
