import { defineConfig } from '@playwright/test';

const desktop = { viewport: { width: 1280, height: 800 } };

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
    navigationTimeout: 60_000,
    // Recording costs more than driving: asked for when a failure is looked into.
    trace: process.env.KIVRAM_TRACE ? 'on' : 'off',
    contextOptions: { reducedMotion: 'reduce' },
    locale: 'en-GB',
  },
  projects: [
    // The longest first, so that the other worker has something to do meanwhile.
    { name: 'walk', testMatch: 'walk.spec.ts', use: desktop },
    {
      name: 'desktop',
      testMatch: [
        'awkward.spec.ts',
        'demo.spec.ts',
        'crew.spec.ts',
        'levels.spec.ts',
        'look.spec.ts',
        'siege.spec.ts',
        'snmp.spec.ts',
        'start.spec.ts',
        'trouble.spec.ts',
        'map.spec.ts',
        'own.spec.ts',
        'change.spec.ts',
        'people.spec.ts',
        'offline.spec.ts',
        'radio.spec.ts',
      ],
      use: desktop,
    },
    {
      name: 'phone',
      testMatch: 'phone.spec.ts',
      use: { viewport: { width: 390, height: 844 }, hasTouch: true, standinSpeed: 1 },
    },
    { name: 'screenshots', testMatch: 'screenshots.ts', use: desktop },
  ],
});
