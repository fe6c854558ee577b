import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', root: 'packages/core', include: ['src/**/*.test.ts'] } },
      { test: { name: 'contract', root: 'packages/contract', include: ['src/**/*.test.ts'] } },
      { test: { name: 'standin', root: 'packages/standin', include: ['test/**/*.test.ts'], testTimeout: 120_000 } },
      {
        test: {
          name: 'server',
          root: 'packages/server',
          include: ['test/**/*.test.ts'],
          globalSetup: ['test/template.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
      { test: { name: 'scripts', root: 'scripts', include: ['test/**/*.test.mjs'] } },
      { test: { name: 'web', root: 'packages/web', include: ['src/**/*.test.ts'] } },
    ],
  },
});
