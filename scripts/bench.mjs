// Prints the benchmarks: paths and visible areas, then how well the aim guides do against simulated installers and how fast the core is.
//   npm run bench -- path      only paths
//   npm run bench -- aiming    only aiming
//   npm run bench -- 200       fewer alignments than the usual 1000
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { ensureDebianPackage, ensureNpmPackages } from './lib/packages.mjs';

ensureNpmPackages();
ensureDebianPackage('gdal-bin', () => existsSync('/usr/bin/gdalinfo'));

const benches = {
  path: ['packages/server/tsconfig.json', 'packages/server/bench/path.bench.ts'],
  aiming: ['packages/standin/tsconfig.json', 'packages/standin/bench/aiming.bench.ts'],
};
const args = process.argv.slice(2);
const only = Object.keys(benches).find((name) => args.includes(name));
for (const [name, [tsconfig = '', file = '']] of Object.entries(benches)) {
  if (only && only !== name) continue;
  const rest = args.filter((arg) => arg !== only);
  const run = spawnSync('node_modules/.bin/tsx', ['--tsconfig', tsconfig, file, ...rest], { stdio: 'inherit' });
  if (run.status !== 0) process.exit(run.status ?? 1);
}
