// Prints the benchmarks: how well the aim guides do against simulated installers, and how fast the core is.
//   npm run bench -- 200   fewer alignments than the usual 1000
import { spawnSync } from 'node:child_process';
import { ensureNpmPackages } from './lib/packages.mjs';

ensureNpmPackages();
const run = spawnSync(
  'node_modules/.bin/tsx',
  ['--tsconfig', 'packages/standin/tsconfig.json', 'packages/standin/bench/aiming.bench.ts', ...process.argv.slice(2)],
  { stdio: 'inherit' },
);
process.exit(run.status ?? 1);
