import 'reflect-metadata';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { createApp } from './app';
import { connect, migrate } from './database/connection';
import { loadCatalogue, loadDemo } from './demo/load';
import { createLog } from './log';

/**
 * The server program. Reads KIVRAM_DATABASE_URL, KIVRAM_PORT (0: any free one), KIVRAM_WEB and KIVRAM_TILES from the environment, listens on loopback
 * only, and tells its parent process the port. It ends when the parent goes away, so that nothing is left behind.
 */
async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_DATABASE_URL;
  if (!databaseUrl) throw new Error('KIVRAM_DATABASE_URL is not set: start Kivram with "npm run demo".');
  const log = createLog(process.env.KIVRAM_LOG ?? 'warn');
  await migrate(databaseUrl);
  const sequelize = connect(databaseUrl);
  await loadCatalogue();
  await loadDemo(sequelize);

  const { app, alignments, close } = await createApp(
    sequelize,
    log,
    process.env.KIVRAM_WEB,
    tileAddress(process.env.KIVRAM_TILES),
  );
  await alignments.resume();
  const server = createServer(app);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(Number(process.env.KIVRAM_PORT ?? 0), '127.0.0.1', resolve);
  });
  process.send?.({ port: (server.address() as AddressInfo).port });

  const stop = (): void => {
    server.closeAllConnections();
    server.close(
      () =>
        void close()
          .then(() => sequelize.close())
          .then(() => process.exit(0)),
    );
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
  process.once('disconnect', stop);
}

/** @throws Error naming the address and the mend */
function tileAddress(text: string | undefined): string | null {
  if (!text) return null;
  const complete = ['{z}', '{x}', '{y}'].every((part) => text.includes(part));
  if (!complete || !/^https?:\/\/[^/]+\//.test(text)) {
    throw new Error(`KIVRAM_TILES is "${text}": write an address like https://tiles.example/{z}/{x}/{y}.png`);
  }
  return text;
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
