// Checks the types of every package, the tests and the scripts.
import { spawnSync } from 'node:child_process';

const projects = [
  'packages/core',
  'packages/contract',
  'packages/standin',
  'packages/server',
  'packages/web',
  'e2e',
  '.',
];
const failed = projects.filter(
  (project) => spawnSync('node_modules/.bin/tsc', ['-p', project], { stdio: 'inherit' }).status !== 0,
);
if (failed.length) {
  console.error(`types: ${failed.join(', ')}`);
  process.exit(1);
}
