// Checks the types of every package, the tests and the scripts. Packages are built on each other's declarations, which stay in the git-ignored folder
// .kivram/types, so that only what has changed is checked again.
import { spawn } from 'node:child_process';

const packages = ['core', 'contract', 'standin', 'server', 'web'].map((name) => `packages/${name}`);

/** @param {string[]} args @returns {Promise<boolean>} */
function tsc(args) {
  return new Promise((resolve) => {
    const child = spawn('node_modules/.bin/tsc', args, { stdio: 'inherit' });
    child.once('exit', (code) => resolve(code === 0));
  });
}

const done = await Promise.all([
  tsc(['-b', ...packages]),
  tsc(['-p', 'e2e']).then(async (e2e) => (await tsc(['-p', '.'])) && e2e),
]);
if (!done.every(Boolean)) process.exit(1);
