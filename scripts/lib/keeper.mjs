// Keeps a database running for the process that started this one: starts it, starts it again when it has died, and ends it when that process is gone, however it
// went. Told the folder of the cluster, it says on which port the database listens, and says it again when that changes.
import { Cluster } from './cluster.mjs';

const lookMs = 500;
const cluster = new Cluster(process.argv[2] ?? '');

async function keep() {
  if (cluster.alive()) return;
  await cluster.start(cluster.port || undefined);
  process.send?.({ port: cluster.port });
}

/** Nothing is left behind: whoever asked for this database needs it no more. */
function end() {
  cluster.stop();
  process.exit(0);
}

process.on('disconnect', end);
process.on('SIGTERM', end);
await keep();
for (;;) {
  await new Promise((resolve) => setTimeout(resolve, lookMs));
  await keep();
}
