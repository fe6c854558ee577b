import { defineConfig } from 'vitest/config';

/** No test fails by slowness: the limit ends what hangs, and is far above what the slowest takes on a loaded machine. */
const patienceMs = 180_000;

export default defineConfig({
  test: {
    include: ['packages/*/{src,test}/**/*.test.ts', 'scripts/test/**/*.test.mjs'],
    // Files share their modules: to load the server anew for each takes longer than most of them, and so does a process for each package.
    isolate: false,
    // Some wait for clocks and programs; meanwhile others compute.
    maxWorkers: 2,
    setupFiles: ['scripts/test/patience.ts'],
    expect: { poll: { timeout: 60_000 } },
    testTimeout: patienceMs,
    hookTimeout: patienceMs,
  },
});
