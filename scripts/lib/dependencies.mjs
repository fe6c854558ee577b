import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectRoot } from './packages.mjs';

/**
 * Licences of what is installed, as each package names its own (SPDX), that let us ship or build with it. `Hippocratic-2.1` is that of the map's bindings for React: free, with conditions on what
 * it is used for; `LGPL-3.0-or-later` that of the picture library, which is loaded as it came.
 */
const licences = new Set([
  'MIT',
  'ISC',
  '0BSD',
  'Apache-2.0',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'BlueOak-1.0.0',
  'CC0-1.0',
  'CC-BY-4.0',
  'MPL-2.0',
  'OFL-1.1',
  'Zlib',
  'LGPL-3.0-or-later',
  'Hippocratic-2.1',
]);

/** One says its licence in a file only: MIT, as its LICENSE has it. */
const unnamed = new Set(['node_modules/png-js']);

/** @typedef {{ version?: string, license?: string, integrity?: string, resolved?: string, hasInstallScript?: boolean, link?: boolean, dev?: boolean }} Locked */

/** @returns {[folder: string, locked: Locked][]} every package that comes from elsewhere, as the lock file has it */
export function lockedPackages() {
  /** @type {{ packages: Record<string, Locked> }} */
  const { packages } = JSON.parse(readFileSync(join(projectRoot, 'package-lock.json'), 'utf8'));
  return Object.entries(packages).filter(([folder, { link }]) => folder.includes('node_modules/') && !link);
}

/**
 * What is wrong with packages that come from elsewhere, as far as can be told without asking anybody: a licence that is not ours to use, a digest that is missing, a source that is not the registry, a program that runs while it is
 * installed and was not looked at.
 * @param {[folder: string, locked: Locked][]} packages @param {Record<string, boolean>} lookedAt install scripts by package: whether they run @returns {string[]}
 */
export function faultsOf(packages, lookedAt) {
  return packages.flatMap(([folder, { license, integrity, resolved, hasInstallScript }]) => {
    const name = folder.split('node_modules/').at(-1) ?? '';
    const words = (license ?? '').replace(/[()]/g, '').split(/ AND | OR /);
    const isKnown = unnamed.has(folder) || words.every((word) => licences.has(word));
    return [
      ...(isKnown ? [] : [`${folder}: its licence is ${license ?? 'not named'}`]),
      ...(integrity?.startsWith('sha512-') ? [] : [`${folder}: it has no digest of SHA-512`]),
      ...(!resolved || resolved.startsWith('https://registry.npmjs.org/')
        ? []
        : [`${folder}: it comes from ${resolved}`]),
      ...(hasInstallScript && !(name in lookedAt) ? [`${folder}: it runs a program when it is installed`] : []),
    ];
  });
}

/** Packages that Kivram itself names. @returns {string[]} folders in the lock file */
export function namedPackages() {
  /** @type {{ packages: Record<string, { dependencies?: Record<string, string>, devDependencies?: Record<string, string> }> }} */
  const { packages } = JSON.parse(readFileSync(join(projectRoot, 'package-lock.json'), 'utf8'));
  const rooms = Object.entries(packages).filter(([folder]) => !folder.includes('node_modules/'));
  const names = rooms.flatMap(([, { dependencies = {}, devDependencies = {} }]) =>
    Object.keys({ ...dependencies, ...devDependencies }).filter((name) => !name.startsWith('@kivram/')),
  );
  return [...new Set(names)].map((name) => `node_modules/${name}`);
}
