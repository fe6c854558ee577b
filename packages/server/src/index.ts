import 'reflect-metadata';
import { createServer } from 'node:http';
import type { Logger } from 'pino';
import type { AddressInfo } from 'node:net';
import { createApp } from './app';
import { connect } from './database/connection';
import { whileLocked } from './database/locks';
import { migrate } from './database/migrate';
import { loadCatalogue, loadDemo } from './demo/load';
import { keepAliveMs } from './http/keepAlive';
import { Keys } from './services/keys';
import { loadLaw } from './services/law';
import { createLog } from './log';
import { sealOldPassphrases } from './secrets/sealing';
import { KeyFile } from './secrets/keyFile';
import { KeyError, vault } from './secrets/vault';

/**
 * The server program. Reads KIVRAM_DATABASE_URL, KIVRAM_PORT (0: any free one), KIVRAM_WEB, KIVRAM_TILES, KIVRAM_UPLOADS, KIVRAM_COMMANDS, KIVRAM_HERE, KIVRAM_DEMO, KIVRAM_KEY, KIVRAM_KEY_FILE, KIVRAM_LAN_PORT, KIVRAM_LAN_FOLDER and KIVRAM_STANDIN_SPEED from the environment, listens on loopback,
 * and on the local network only where KIVRAM_LAN_PORT is set, and tells its parent process where. It ends when the parent goes away, so that nothing is left behind.
 */
async function main(): Promise<void> {
  const databaseUrl = process.env.KIVRAM_DATABASE_URL;
  if (!databaseUrl) throw new SettingError('KIVRAM_DATABASE_URL is not set: start Kivram with "npm run demo".');
  const log = createLog(process.env.KIVRAM_LOG ?? 'warn');
  endByWhatNobodyCaught(log);
  const options = {
    webRoot: process.env.KIVRAM_WEB,
    tileUrl: tileAddress(process.env.KIVRAM_TILES),
    standinSpeed: clockSpeed(process.env.KIVRAM_STANDIN_SPEED),
    uploadFolder: process.env.KIVRAM_UPLOADS,
    commandsFile: process.env.KIVRAM_COMMANDS,
    hereToken: process.env.KIVRAM_HERE,
  };
  // The processes that read files have no use for it.
  delete process.env.KIVRAM_HERE;
  const lan = lanDoor(process.env.KIVRAM_LAN_PORT, process.env.KIVRAM_LAN_FOLDER);
  const withDemo = process.env.KIVRAM_DEMO === 'yes';
  await migrate(databaseUrl);
  const sequelize = connect(databaseUrl);
  const keys = await whileLocked(databaseUrl, 'firstData', async () => {
    const found = await Keys.in(sequelize, new KeyFile(process.env.KIVRAM_KEY_FILE));
    if (vault().hasKey) await sealOldPassphrases(sequelize);
    await loadLaw();
    if (withDemo) {
      await loadCatalogue();
      await loadDemo(sequelize);
    }
    return found;
  });

  const opening = lan && (await (await import('./lan/opening')).Opening.prepare(lan.folder, lan.port, log));
  const { app, alignments, memos, close } = await createApp(sequelize, log, { ...options, keys, opening });
  await alignments.resume();
  await memos.refreshAll();
  const server = createServer({ keepAliveTimeout: keepAliveMs }, app);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(Number(process.env.KIVRAM_PORT ?? 0), '127.0.0.1', resolve);
  });
  await opening?.listen(app);
  process.send?.({ port: (server.address() as AddressInfo).port, opening: opening?.view() });

  const stop = (): void => {
    // Whatever does not end by itself must not keep the next start waiting.
    setTimeout(() => process.exit(1), patienceMs).unref();
    opening?.close();
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

/**
 * What nobody caught leaves this program in no known state: it is written down with where it came from, and the program ends. It is started again at once, and nothing that was
 * acknowledged is lost.
 */
function endByWhatNobodyCaught(log: Logger): void {
  const end = (error: unknown, origin: string): void => {
    log.fatal({ err: error, origin }, 'nobody caught this: the server ends');
    process.exit(1);
  };
  process.on('uncaughtException', end);
}

/** How long an end may take, ms. */
const patienceMs = 4000;

/** How fast the stand-in's clock goes: 1 unless tests turn it faster. @throws SettingError naming the value and the repair */
function clockSpeed(text: string | undefined): number {
  const speed = Number(text ?? 1);
  if (!(speed >= 1 && speed <= 10))
    throw new SettingError(`KIVRAM_STANDIN_SPEED is "${text ?? ''}": write a number from 1 to 10`);
  return speed;
}

/** Where the local network comes in; nowhere unless a port is named. @throws SettingError naming the value and the repair */
function lanDoor(port: string | undefined, folder: string | undefined): { port: number; folder: string } | undefined {
  if (!port) return undefined;
  if (!/^\d{1,5}$/.test(port) || Number(port) > 65_535 || !folder)
    throw new SettingError(`KIVRAM_LAN_PORT is "${port}": start Kivram with "npm start -- --lan", which finds one`);
  return { port: Number(port), folder };
}

/** @throws SettingError naming the address and the repair */
function tileAddress(text: string | undefined): string | null {
  if (!text) return null;
  const complete = ['{z}', '{x}', '{y}'].every((part) => text.includes(part));
  if (!complete || !/^https?:\/\/[^/]+\//.test(text)) {
    throw new SettingError(`KIVRAM_TILES is "${text}": write an address like https://tiles.example/{z}/{x}/{y}.png`);
  }
  return text;
}

/** What this program was started with makes no sense: starting it again would not help. */
class SettingError extends Error {}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(error instanceof SettingError || error instanceof KeyError ? 2 : 1);
});
