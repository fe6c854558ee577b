// Keeps a database running for the process that started this one: starts it, starts it again when it has died, and ends it when that process is gone, however it
// went. Told the folder of the cluster, and the port where the database has run before, it says on which port it listens, and says it again when that changes.
import { Cluster } from './cluster.mjs';
import { releaseLock, takeLock } from './lock.mjs';

const lookMs = 500;
const cluster = new Cluster(process.argv[2] ?? '');
cluster.port = Number(process.argv[3] ?? 0);
const lock = `${cluster.folder}.keeper`;
const pause = () => new Promise((resolve) => setTimeout(resolve, lookMs));

/** Starts it, after ending one that a killed start left running, and says where it listens. */
async function start() {
  const hasRun = cluster.port !== 0;
  await cluster.start(cluster.port || undefined, { insist: hasRun });
  // Who asked may have gone meanwhile; that is heard as well, and ends this.
  process.send?.({ port: cluster.port }, () => undefined);
}

/** Nothing is left behind: whoever asked for this database needs it no more. */
function end() {
  cluster.stop();
  releaseLock(lock);
  process.exit(0);
}

process.on('disconnect', end);
process.on('SIGTERM', end);
// One that a killed start left behind may be making the cluster still; it ends once it has.
while (takeLock(lock, 'keeper.mjs')) await pause();
await start();
for (;;) {
  await pause();
  if (!cluster.alive()) await start();
}
