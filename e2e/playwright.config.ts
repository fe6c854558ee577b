import { defineConfig } from '@playwright/test';

/** What `npm test -- changed` asks for: tests of some screens, and some files whole; all where it asks for nothing. */
const wanted = [
  ...(process.env.KIVRAM_TEST_SCREENS?.split(',') ?? []).map((tag) => `${tag}(?![\\w-])`),
  ...(process.env.KIVRAM_TEST_SPECS?.split(',') ?? []).map((file) => file.replace('e2e/', '').replaceAll('.', '[.]')),
].filter((pattern) => /^[@\w]/.test(pattern) && pattern !== '(?![\\w-])');

const desktop = { viewport: { width: 1280, height: 800 } };
/** Of what is run and killed, without a page. */
const programs = ['attacks.spec.ts', 'command.spec.ts'];
const sensors = ['snmp.spec.ts', 'phone.spec.ts'];
/** The browser as a whole: its lighter form has no lock that keeps a screen on, and no sensors. */
const wholeBrowser = { launchOptions: { executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] } };

/** Drives the interface in Debian's Chromium; `npm test` starts the database and says where it is, and each worker servers of its own. */
export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  // No test fails by slowness: these end what hangs, and are far above what anything takes on a loaded machine.
  timeout: 900_000,
  expect: { timeout: 90_000 },
  workers: 2,
  reporter: [['list'], ['json']],
  ...(wanted.length && { grep: new RegExp(wanted.join('|')) }),
  use: {
    launchOptions: { executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] },
    actionTimeout: 90_000,
    navigationTimeout: 120_000,
    // Recording costs more than driving: asked for when a failure is looked into.
    trace: process.env.KIVRAM_TRACE ? 'on' : 'off',
    contextOptions: { reducedMotion: 'reduce' },
    // It fetches the whole page for every new browser; where it is the point, a test lets it in.
    serviceWorkers: 'block',
    locale: 'en-GB',
  },
  // In this order: what waits much begins, while there is other work to do meanwhile.
  projects: [
    { name: 'programs', testMatch: programs },
    {
      name: 'sensors',
      testMatch: sensors,
      use: { ...desktop, ...wholeBrowser },
      // It takes long to start, and there is little to do for it.
      workers: 1,
    },
    { name: 'desktop', testMatch: '*.spec.ts', testIgnore: [...programs, ...sensors], use: desktop },
    { name: 'screenshots', testMatch: 'screenshots.ts', use: desktop },
  ],
});
