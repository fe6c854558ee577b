import { test as base } from '@playwright/test';
import { copyDatabase } from '../scripts/lib/databases.mjs';
import { startServer, stopServer } from '../scripts/lib/server.mjs';

interface WorkerOptions {
  /** how much faster than ours the clock of the stand-in radios goes */
  standinSpeed: number;
}

interface WorkerServer {
  /** where this worker's own server listens */
  address: string;
}

/** The address of a database of the test cluster; without it there is nothing to test against. */
export const databaseUrl = process.env.KIVRAM_TEST_DATABASE_URL ?? '';
export const templateName = process.env.KIVRAM_TEST_TEMPLATE ?? '';

/**
 * Each worker has a server of its own over a copy of the database with the demo job, so that workers do not see what the others do. KIVRAM_URL names a
 * running server instead, for screenshots.
 */
export const test = base.extend<object, WorkerOptions & WorkerServer>({
  standinSpeed: [3, { option: true, scope: 'worker' }],
  address: [
    async ({ standinSpeed }, use) => {
      if (process.env.KIVRAM_URL) return use(process.env.KIVRAM_URL);
      const server = await startServer({ databaseUrl: copyDatabase(databaseUrl, templateName), standinSpeed });
      await use(`http://127.0.0.1:${server.port}`);
      await stopServer(server.child);
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ address }, use) => use(address),
});

/**
 * The same over a database that nobody else's tests see.
 * @param template what it is a copy of: the demo, or nothing at all
 */
export const testOver = ({ template, demo }: { template: string; demo: boolean }) =>
  test.extend<object, { address: string }>({
    address: [
      async ({ standinSpeed }, use) => {
        const server = await startServer({ databaseUrl: copyDatabase(databaseUrl, template), standinSpeed, demo });
        await use(`http://127.0.0.1:${server.port}`);
        await stopServer(server.child);
      },
      { scope: 'worker' },
    ],
  });

export { expect } from '@playwright/test';
