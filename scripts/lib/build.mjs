import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { projectRoot } from './packages.mjs';
import { giveUp, say } from './say.mjs';

/** Builds interface and server when a source has changed since the last build. */
export function ensureBuild() {
  const mark = join(projectRoot, '.kivram', 'build');
  const wanted = sourcesHash();
  const built = [
    'packages/web/dist/index.html',
    'packages/server/dist/index.js',
    'packages/server/dist/intake.js',
    'packages/server/dist/device.js',
  ].every((f) => existsSync(join(projectRoot, f)));
  if (built && existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  say('building');
  for (const [folder, ...mode] of [
    ['packages/web'],
    ['packages/server'],
    ['packages/server', '--mode', 'intake'],
    ['packages/server', '--mode', 'device'],
  ]) {
    const args = ['build', '--logLevel', 'warn', '--config', 'vite.config.ts', ...mode];
    const run = spawnSync(join(projectRoot, 'node_modules/.bin/vite'), args, {
      cwd: join(projectRoot, folder ?? ''),
      stdio: 'inherit',
      env: { ...process.env, KIVRAM_BUILD: wanted.slice(0, 12) },
    });
    if (run.status !== 0) giveUp(`${folder} could not be built; the lines above say why`);
  }
  mkdirSync(dirname(mark), { recursive: true });
  writeFileSync(mark, wanted);
}

function sourcesHash() {
  const hash = createHash('sha256');
  for (const file of [...sources(join(projectRoot, 'packages')), join(projectRoot, 'package-lock.json')]) {
    hash.update(file).update(readFileSync(file));
  }
  return hash.digest('hex');
}

/** @param {string} folder @returns {string[]} */
function sources(folder) {
  return readdirSync(folder)
    .filter((name) => !['node_modules', 'dist', 'test', 'bench'].includes(name) && !/\.test\.tsx?$/.test(name))
    .sort()
    .flatMap((name) => {
      const path = join(folder, name);
      return statSync(path).isDirectory() ? sources(path) : [path];
    });
}
