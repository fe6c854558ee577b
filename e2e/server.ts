import {
  expect,
  test as base,
  type Browser,
  type BrowserContext,
  type BrowserContextOptions,
  type Page,
  type Request,
} from '@playwright/test';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { steadyPort } from '../scripts/lib/cluster.mjs';
import { copyDatabase } from '../scripts/lib/databases.mjs';
import { stateFolder } from '../scripts/lib/packages.mjs';
import { screensOf, tagAt } from '../scripts/lib/screens.mjs';
import { startServer, stopServer } from '../scripts/lib/server.mjs';

/** The address of a database of the test cluster; without it there is nothing to test against. */
export const databaseUrl = process.env.KIVRAM_TEST_DATABASE_URL ?? '';
export const templateName = process.env.KIVRAM_TEST_TEMPLATE ?? '';

/** What a test is run over. Tests that wish for the same share a server and its data. */
export interface Over {
  /** whose data these are: tests that change what others look at name themselves here */
  of: string;
  /** what the database is a copy of: the demo, or nothing at all */
  template: string;
  demo: boolean;
  /** whether it is open to the local network */
  isOpen: boolean;
}

/** The demo, for the tests that are named here. */
export const demoFor = (of: string): Over => ({ of, template: templateName, demo: true, isOpen: false });

type Server = Awaited<ReturnType<typeof startServer>>;

/** The servers of a worker: workers do not see what the others do. */
class Servers {
  private readonly running = new Map<string, { of: string; server: Promise<Server> }>();
  private readonly lanFolder = join(stateFolder, `browser-lan-${process.pid}`);
  private ownPort: number | undefined;

  async at(over: Over, standinSpeed: number): Promise<Server> {
    const key = JSON.stringify([over, standinSpeed]);
    const there = this.running.get(key);
    if (there) return there.server;
    const port = over.of ? await this.nextOwn() : 0;
    const lan = { port: 0, folder: this.lanFolder };
    const database = copyDatabase(databaseUrl, over.template);
    const server = startServer({
      databaseUrl: database,
      port,
      standinSpeed,
      demo: over.demo,
      ...(over.isOpen && { lan }),
    });
    this.running.set(key, { of: over.of, server });
    return server;
  }

  /**
   * Ends the server whose turn is over, which does not come again, and says where the next one listens. That is where the one before did: a browser goes by the
   * address in what it has kept of a page, and to fetch and compile all of it anew takes three times as long as to open it.
   */
  async nextOwn(): Promise<number> {
    await this.end(({ of }) => of !== '');
    return (this.ownPort ??= await steadyPort());
  }

  async endAll(): Promise<void> {
    await this.end(() => true);
    rmSync(this.lanFolder, { recursive: true, force: true });
  }

  private async end(which: (running: { of: string }) => boolean): Promise<void> {
    for (const [key, running] of this.running) {
      if (!which(running)) continue;
      this.running.delete(key);
      await stopServer((await running.server).child);
    }
  }
}

/** A browser's memory; an empty page, to take away from there what a test has stored; and the page that is handed from test to test. */
interface Kept {
  context: BrowserContext;
  blank: Page;
  handed?: Page;
}

/**
 * Browsers' memories that outlive a test, one for each kind of device, and a page in each: what was loaded stays, and what was compiled, which is most of what opening
 * a page takes. What a page has stored does not stay, nor what a test has put before it. A service worker does stay, as on anybody's phone.
 */
class Memory {
  private readonly kept = new Map<string, Promise<Kept>>();

  constructor(private readonly browser: Browser) {}

  open(options: BrowserContextOptions): Promise<Kept> {
    const key = JSON.stringify(options);
    const kept = this.kept.get(key) ?? this.begin(options);
    this.kept.set(key, kept);
    return kept;
  }

  private async begin(options: BrowserContextOptions): Promise<Kept> {
    const context = await this.browser.newContext(options);
    return { context, blank: await context.newPage() };
  }

  /** The page that goes from test to test: a new one takes a process of its own, and compiles anew. A test that puts into a page what nobody can take out opens one itself. */
  async handOn(kept: Kept): Promise<Page> {
    return (kept.handed ??= await kept.context.newPage());
  }

  /** Takes back the page: it leaves what it showed, so that whatever is stored on leaving is stored before it is taken away. */
  async takeBack(page: Page, origin: string): Promise<void> {
    page.removeAllListeners();
    await page.unrouteAll({ behavior: 'ignoreErrors' });
    await page.goto(`${origin}/wire.svg`);
    await page.evaluate(() => sessionStorage.clear());
  }

  /** Closes the page: the next test gets a new one. */
  async drop(kept: Kept): Promise<void> {
    await kept.handed?.close();
    kept.handed = undefined;
  }

  async clear({ context, blank, handed }: Kept, origin: string): Promise<void> {
    await context.setOffline(false);
    for (const page of context.pages()) if (page !== blank && page !== handed) await page.close();
    await context.clearCookies();
    await context.clearPermissions();
    const session = await context.newCDPSession(blank);
    await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb' });
    await session.detach();
  }
}

interface TestOptions {
  over: Over;
  /** how much faster than ours the clock of the stand-in radios goes: for tests that aim to the end; every reading is drawn, and costs */
  standinSpeed: number;
}

interface TestFixtures {
  server: Server | undefined;
  /** where the server of this test listens */
  address: string;
  kept: Kept;
  screensSeen: undefined;
}

const screens = screensOf();
/** Ways in: most tests come in through the job's screen, which `/` shows as well, and some pass the list of jobs on the way. Those that are about them say so. */
const waysIn = ['@job', '@jobs'];

/** Notes what screens are opened. Call the result to stop. */
function noteScreens(context: BrowserContext, seen: Set<string>): () => void {
  const watch = (page: Page): void =>
    void page.on('framenavigated', (frame) => {
      const tag = frame === page.mainFrame() && tagAt(screens, new URL(frame.url()).pathname);
      if (tag) seen.add(tag);
    });
  for (const page of context.pages()) watch(page);
  context.on('page', watch);
  return () => context.off('page', watch);
}

/** @returns what a page has asked for and not got yet */
function noteRequests(page: Page): Set<Request> {
  const waitedFor = new Set<Request>();
  page.on('request', (request) => waitedFor.add(request));
  page.on('requestfinished', (request) => waitedFor.delete(request));
  page.on('requestfailed', (request) => waitedFor.delete(request));
  return waitedFor;
}

/** What a failed test leaves on the screen, so that a failure that does not come again can be understood from what is printed. */
async function sayWhatItShows(page: Page, waitedFor: Set<Request>, title: string): Promise<void> {
  const shown = await page
    .locator('body')
    .innerText({ timeout: 10_000 })
    .catch((error: unknown) => `nothing that can be read: ${String(error)}`);
  const waits = [...waitedFor].map((request) => `${request.method()} ${request.url()}`);
  const lines = [
    `When "${title}" failed, ${page.url()} showed:`,
    shown.slice(0, 3000),
    `It waited for: ${waits.join(', ') || 'nothing'}`,
  ];
  process.stderr.write(`${lines.join('\n')}\n`);
}

/** A test of the interface. `npm test -- changed` goes by its tags: they are the screens that it is about. One that goes through most screens has none. */
export const test = base.extend<TestOptions & TestFixtures, { servers: Servers; memory: Memory }>({
  over: [demoFor(''), { option: true }],
  standinSpeed: [1, { option: true }],
  servers: [
    // oxlint-disable-next-line no-empty-pattern -- there is nothing that it rests on
    async ({}, use) => {
      const servers = new Servers();
      await use(servers);
      await servers.endAll();
    },
    { scope: 'worker' },
  ],
  memory: [async ({ browser }, use) => use(new Memory(browser)), { scope: 'worker' }],
  // KIVRAM_URL names a running server instead, for screenshots.
  server: async ({ servers, over, standinSpeed }, use) =>
    use(process.env.KIVRAM_URL ? undefined : await servers.at(over, standinSpeed)),
  address: async ({ server }, use) => use(process.env.KIVRAM_URL ?? `http://127.0.0.1:${server?.port ?? 0}`),
  baseURL: async ({ address }, use) => use(address),
  kept: async ({ memory, baseURL, viewport, hasTouch, locale, contextOptions, serviceWorkers }, use) => {
    const kept = await memory.open({ ...contextOptions, baseURL, viewport, hasTouch, locale, serviceWorkers });
    await use(kept);
    await memory.clear(kept, baseURL ?? '');
  },
  context: async ({ kept }, use) => use(kept.context),
  page: async ({ memory, kept, baseURL, viewport }, use, info) => {
    const page = await memory.handOn(kept);
    if (viewport) await page.setViewportSize(viewport);
    const waitedFor = noteRequests(page);
    await use(page);
    if (info.errors.length) await sayWhatItShows(page, waitedFor, info.title);
    // Where a test has failed, or ended its server, nobody knows what the page is left with.
    if (info.errors.length) await memory.drop(kept);
    else await memory.takeBack(page, baseURL ?? '').catch(() => memory.drop(kept));
  },
  screensSeen: [
    async ({ context, browser }, use, info) => {
      const seen = new Set<string>();
      const stop = noteScreens(context, seen);
      const newContext = browser.newContext.bind(browser);
      browser.newContext = async (...options) => {
        const another = await newContext(...options);
        noteScreens(another, seen);
        return another;
      };
      await use(undefined);
      browser.newContext = newContext;
      stop();
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

/** Tests whose data nobody else's tests see. */
export function testOver({ of, ...rest }: Partial<Over> & { of: string }): typeof test {
  test.use({ over: { ...demoFor(of), ...rest } });
  return test;
}

export { expect };
