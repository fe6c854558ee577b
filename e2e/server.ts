import { expect, test as base, type BrowserContext, type Page } from '@playwright/test';
import { copyDatabase } from '../scripts/lib/databases.mjs';
import { screensOf, tagAt } from '../scripts/lib/screens.mjs';
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
export const serverTest = base.extend<object, WorkerOptions & WorkerServer>({
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

const screens = screensOf();
/** Ways in: most tests come in through the job's screen, which `/` shows as well, and some pass the list of jobs on the way. Those that are about them say so. */
const waysIn = ['@job', '@jobs'];

function noteScreens(page: Page, seen: Set<string>): void {
  page.on('framenavigated', (frame) => {
    const tag = frame === page.mainFrame() && tagAt(screens, new URL(frame.url()).pathname);
    if (tag) seen.add(tag);
  });
}

/** A test of the interface. `npm test -- changed` goes by its tags: they are the screens that it is about. One that goes through most screens has none. */
export const test = serverTest.extend<{ screensSeen: undefined }>({
  screensSeen: [
    async ({ context, browser }, use, info) => {
      const seen = new Set<string>();
      const watch = (watched: BrowserContext) => watched.on('page', (page) => noteScreens(page, seen));
      watch(context);
      const newContext = browser.newContext.bind(browser);
      browser.newContext = async (...options) => watch(await newContext(...options));
      await use(undefined);
      browser.newContext = newContext;
      if (info.errors.length) return;
      const screenTags = info.tags.filter(
        (tag) => !waysIn.includes(tag) && screens.some((screen) => screen.tag === tag),
      );
      // Where a link opens depends on how far it is: what is only passed is no lie.
      expect(
        screenTags.filter((tag) => !seen.has(tag)),
        'tags of screens that are never opened',
      ).toEqual([]);
    },
    { auto: true },
  ],
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

export { expect };
