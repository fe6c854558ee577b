import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const root = join(import.meta.dirname, '../../..');

interface LockedPackage {
  link?: boolean;
  dev?: boolean;
  optional?: boolean;
  version?: string;
}

/** Licences by their SPDX names that let anybody use, change and pass on, for any purpose: approved by the Open Source Initiative, or public domain, or for fonts the SIL's. */
const open = new Set([
  '0BSD',
  'Apache-2.0',
  'BlueOak-1.0.0',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'CC0-1.0',
  'ISC',
  // A library of its own file, loaded as it is and exchangeable.
  'LGPL-3.0-or-later',
  'MIT',
  'MIT-0',
  'OFL-1.1',
  'Python-2.0',
  'Unlicense',
  'Zlib',
]);

/** Whether an SPDX expression lets one choose an open licence, or asks for none but open ones. */
function isOpen(expression: string): boolean {
  const plain = expression.replace(/[()]/g, ' ').trim();
  // Both in one: the strictest reading.
  if (/\sOR\s/.test(plain) && /\sAND\s/.test(plain))
    return plain.split(/\s+(?:OR|AND)\s+/).every((name) => open.has(name));
  return plain.split(/\s+OR\s+/).some((one) => one.split(/\s+AND\s+/).every((name) => open.has(name.trim())));
}

/** Whether a text is the MIT licence, for packages that name none in their own description. */
function isMit(text: string): boolean {
  return /Permission is hereby granted, free of charge/.test(text) && /THE SOFTWARE IS PROVIDED "AS IS"/.test(text);
}

/** Everything that ships: what is locked and not for development only, as far as it belongs on this computer. */
function shipped(): { name: string; licence: string }[] {
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')) as {
    packages: Record<string, LockedPackage>;
  };
  return Object.entries(packages).flatMap(([path, { link, dev, optional, version }]) => {
    if (!path.includes('node_modules/') || link || dev) return [];
    const file = join(root, path, 'package.json');
    // Built for other computers.
    if (optional && !existsSync(file)) return [];
    const { license, licenses } = JSON.parse(readFileSync(file, 'utf8')) as {
      license?: string | { type: string };
      licenses?: { type: string }[];
    };
    const text = join(root, path, 'LICENSE');
    const told = typeof license === 'string' ? license : (license?.type ?? licenses?.map((l) => l.type).join(' OR '));
    return [
      {
        name: `${path.replace(/^.*node_modules\//, '')} ${version ?? ''}`,
        licence: told ?? (existsSync(text) && isMit(readFileSync(text, 'utf8')) ? 'MIT' : 'none'),
      },
    ];
  });
}

describe('the packages that ship', () => {
  it('are open, each by the licence that it names', () => {
    const all = shipped();
    expect(all.length).toBeGreaterThan(200);
    expect(all.filter(({ licence }) => !isOpen(licence))).toEqual([]);
  });

  it.each([
    ['MIT', true],
    ['(MIT OR GPL-3.0-or-later)', true],
    ['Apache-2.0 AND MIT', true],
    ['Hippocratic-2.1', false],
    ['MIT AND Hippocratic-2.1', false],
    ['SEE LICENSE IN LICENSE.md', false],
    ['none', false],
    ['(MIT OR Hippocratic-2.1) AND ISC', false],
  ])('%s: %s', (expression, is) => {
    expect(isOpen(expression)).toBe(is);
  });
});
