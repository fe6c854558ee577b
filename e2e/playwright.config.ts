import { defineConfig } from '@playwright/test';

/** Drives the interface in Debian's Chromium; `npm test` starts the database and says where it is, and each worker a server of its own. */
export default defineConfig<object, { standinSpeed: number }>({
  testDir: '.',
  outputDir: '../test-results',
  timeout: 600_000,
  expect: { timeout: 10_000 },
  workers: 2,
  reporter: [['list'], ['json']],
  use: {
    launchOptions: { executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] },
    actionTimeout: 15_000,
    trace: 'retain-on-failure',
    locale: 'en-GB',
  },
  projects: [
    {
      name: 'walk',
      testMatch: ['walk.spec.ts', 'demo.spec.ts', 'crash.spec.ts', 'start.spec.ts', 'trouble.spec.ts', 'map.spec.ts'],
      use: { viewport: { width: 1280, height: 800 } },
    },
    {
      name: 'phone',
      testMatch: 'phone.spec.ts',
      use: { viewport: { width: 390, height: 844 }, hasTouch: true, standinSpeed: 1 },
    },
    { name: 'screenshots', testMatch: 'screenshots.ts', use: { viewport: { width: 1280, height: 800 } } },
  ],
});
