import { defineConfig, type TestProjectInlineConfiguration } from 'vitest/config';

/** No test fails by slowness: the limit ends what hangs, and is far above what the slowest takes on a loaded machine. */
const patienceMs = 180_000;

/**
 * Tests of one project share their modules: to load the server anew for each of its files takes longer than most of them.
 * @param folder from the root of the project @param include its files of tests
 */
const project = (name: string, folder: string, include: string): TestProjectInlineConfiguration => ({
  test: {
    name,
    root: folder,
    include: [include],
    isolate: false,
    testTimeout: patienceMs,
    hookTimeout: patienceMs,
  },
});

export default defineConfig({
  test: {
    maxWorkers: 3,
    projects: [
      project('core', 'packages/core', 'src/**/*.test.ts'),
      project('contract', 'packages/contract', 'src/**/*.test.ts'),
      project('standin', 'packages/standin', 'test/**/*.test.ts'),
      project('server', 'packages/server', 'test/**/*.test.ts'),
      project('scripts', 'scripts', 'test/**/*.test.mjs'),
      project('web', 'packages/web', 'src/**/*.test.ts'),
    ],
  },
});
