// @ts-check
import { describe, expect, it } from 'vitest';
import { readProject, touchedBy } from '../lib/changed.mjs';
import { reachedFrom } from '../lib/modules.mjs';
import { tagAt } from '../lib/screens.mjs';

const project = readProject();
const touched = (/** @type {string[]} */ ...files) => touchedBy(files, project);

describe('what a change touches', () => {
  it('of a part of one screen is that screen, and no server', () => {
    const { everything, screens, specs, unit, leftOut } = touched('packages/web/src/radio/Gear.tsx');
    expect({ everything, screens, specs, unit }).toEqual({
      everything: null,
      screens: ['@radio'],
      specs: [],
      unit: [],
    });
    expect(leftOut.join()).toMatch(/browser tests of \d+ of \d+ screens/);
  });

  it('of a style is the screen that wears it', () => {
    expect(touched('packages/web/src/need/need.css').screens).toEqual(['@need']);
  });

  it('of what stands around a link are all screens of links, and around everything all', () => {
    const ofLinks = touched('packages/web/src/link/Wire.tsx').screens;
    expect(ofLinks).toEqual(expect.arrayContaining(['@path', '@radio', '@aim', '@record']));
    expect(ofLinks).not.toContain('@network');
    const all = touched('packages/web/src/shell/Frame.tsx').screens;
    expect(new Set(all)).toEqual(new Set(project.screens.map(({ tag }) => tag)));
  });

  it('of a formula are its tests, those of what runs it, its screens, and the main job', () => {
    const { unit, screens, specs } = touched('packages/core/src/budget/ledger.ts');
    expect(unit).toContain('packages/core/src/budget/ledger.test.ts');
    expect(unit).toContain('packages/server/test/radioPlan.test.ts');
    expect(unit).not.toContain('packages/core/src/terrain/terrain.test.ts');
    expect(screens).toContain('@radio');
    expect(screens).not.toContain('@visits');
    expect(specs).toContain('e2e/allSteps.spec.ts');
  });

  it('of a browser test is that test, of what starts the program its start', () => {
    expect(touched('e2e/radio.spec.ts').specs).toEqual(['e2e/radio.spec.ts']);
    expect(touched('scripts/start.mjs').specs).toContain('e2e/command.spec.ts');
  });

  it('of words is nothing, of what decides on everything everything', () => {
    expect(touched('README.md', 'docs/path.md')).toMatchObject({ everything: null, unit: [], screens: [], specs: [] });
    for (const file of ['package-lock.json', 'vitest.config.ts', 'packages/web/vite.config.ts', 'packages/gone/x.ts'])
      expect(touched(file).everything).toBe(file);
  });
});

describe('which module runs which', () => {
  it('goes through packages, and leaves types out', () => {
    const page = reachedFrom(project.modules, 'packages/web/src/main.tsx');
    expect(page).toContain('packages/core/src/budget/hop.ts');
    expect(page).toContain('packages/web/src/map/relief.worker.ts');
    // The views are types and nothing else.
    expect(page).not.toContain('packages/contract/src/views/link.ts');
    for (const file of page) expect(file).not.toMatch(/^packages\/(server|standin)\//);
  });
});

describe('the screen at an address', () => {
  it.each([
    ['/jobs', '@jobs'],
    ['/jobs/new', '@new-job'],
    ['/jobs/3f0a2c1e', '@job'],
    ['/links/3f0a2c1e/radio', '@radio'],
    ['/catalogue/brinmoor-span-25', '@spec'],
    ['/', undefined],
    ['/nowhere/at/all', undefined],
  ])('%s is %s', (path, tag) => {
    expect(tagAt(project.screens, path)).toBe(tag);
  });
});
