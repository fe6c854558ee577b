import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { faultsOf, lockedPackages, namedPackages } from '../lib/dependencies.mjs';
import { projectRoot } from '../lib/packages.mjs';

const { allowScripts } = JSON.parse(readFileSync(join(projectRoot, 'package.json'), 'utf8'));

describe('packages that come from elsewhere', () => {
  it('are ours to use, the ones that were looked at, and run nothing when they are installed', () => {
    const packages = lockedPackages();
    expect(packages.length).toBeGreaterThan(500);
    expect(faultsOf(packages, allowScripts)).toEqual([]);
    expect(namedPackages()).toEqual(expect.arrayContaining(['node_modules/express', 'node_modules/vite']));
  });

  it.each([
    [{ license: 'BUSL-1.1' }, 'its licence is BUSL-1.1'],
    [{ license: undefined }, 'its licence is not named'],
    [{ license: 'MIT AND SSPL-1.0' }, 'its licence is MIT AND SSPL-1.0'],
    [{ integrity: undefined }, 'it has no digest'],
    [{ integrity: 'sha1-abc' }, 'it has no digest'],
    [{ resolved: 'git+ssh://git@elsewhere.example/x.git' }, 'it comes from git'],
    [{ hasInstallScript: true }, 'it runs a program when it is installed'],
  ])('are refused where they are not: %j', (change, words) => {
    const sound = { version: '1.0.0', license: '(MIT OR CC0-1.0)', integrity: 'sha512-abc' };
    expect(faultsOf([['node_modules/a', sound]], {})).toEqual([]);
    expect(faultsOf([['node_modules/a', { ...sound, ...change }]], {}).join()).toContain(words);
  });
});
