import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    maxWorkers: 3,
    projects: [
      { test: { name: 'core', isolate: false, root: 'packages/core', include: ['src/**/*.test.ts'] } },
      { test: { name: 'contract', isolate: false, root: 'packages/contract', include: ['src/**/*.test.ts'] } },
      {
        test: {
          name: 'standin',
          isolate: false,
          root: 'packages/standin',
          include: ['test/**/*.test.ts'],
          testTimeout: 120_000,
        },
      },
      {
        test: {
          name: 'server',
          root: 'packages/server',
          include: ['test/**/*.test.ts'],
          globalSetup: ['test/template.ts'],
          // Whole jobs go out and in again, beside others on as many cores as there are: seconds alone, minutes on a slow machine.
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
      { test: { name: 'scripts', root: 'scripts', include: ['test/**/*.test.mjs'] } },
      { test: { name: 'web', isolate: false, root: 'packages/web', include: ['src/**/*.test.ts'] } },
    ],
  },
});
