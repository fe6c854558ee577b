import type { Page } from '@playwright/test';
import { violationsOf } from './axe';
import { expect, test } from './server';
import { loaded, watchForTrouble } from './support';

// Every screen, by day and by night, wide and on a phone: nothing that axe objects to at any level, nothing over the edge, nothing too small to hit, and no more script than it needs.

interface Look {
  name: string;
  tag: string;
  /** with `:job` and `:link` for the demo's job and the link that is named */
  path: string;
  link?: string;
  /** charts and the map are heavy, and come only here */
  heavy?: boolean;
}

const ofJob = (name: string, path = name): Look => ({
  name,
  tag: `@${name.replaceAll(' ', '-')}`,
  path: `/jobs/:job/${path}`,
});
const ofLink = (step: string, link = 'Gauge hut', name = step): Look => ({
  name,
  tag: `@${/^\w+/.exec(step)?.[0] ?? ''}`,
  path: `/links/:link/${step}`,
  link,
  heavy: step === 'aim',
});

/** Every screen there is; a link of each kind where they differ. */
const looks: Look[] = [
  { name: 'all jobs', tag: '@jobs', path: '/jobs' },
  { ...ofJob('job', ''), tag: '@job' },
  ofJob('new link', 'new-link'),
  { name: 'new job', tag: '@new-job', path: '/jobs/new' },
  ofJob('network'),
  ofJob('need'),
  ofJob('law'),
  ofJob('visits'),
  ofJob('people'),
  { name: 'what waits', tag: '@waiting', path: '/waiting' },
  ofJob('timeline'),
  { ...ofJob('the job itself', 'about'), tag: '@about-job' },
  { name: 'catalogue', tag: '@catalogue', path: '/catalogue' },
  { name: 'spec sheet', tag: '@spec', path: '/catalogue/brinmoor-span-25' },
  { ...ofLink('about', 'Gauge hut', 'the link itself'), tag: '@about-link' },
  { ...ofJob('map'), heavy: true },
  ...['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record'].map((step) => ofLink(step)),
  ofLink('radio?look=gear', 'Gauge hut', 'which gear'),
  ofLink('radio?look=compare', 'Gauge hut', 'side by side'),
  ofLink('radio', 'Pump house', 'licensed radio'),
  ofLink('bench', 'Net loft', 'bench that fails'),
  ofLink('bench', 'Pump house', 'licensed bench'),
  { ...ofLink('path', 'Cliff hoist', 'shaft'), heavy: true },
  ofLink('aim', 'Cliff hoist', 'aim of a shaft'),
];

async function addressOf(page: Page, { path, link }: Look): Promise<string> {
  const [job] = (await (await page.request.get('/api/jobs')).json()) as { id: string }[];
  const { links } = (await (await page.request.get(`/api/jobs/${job?.id ?? ''}/links?limit=100`)).json()) as {
    links: { id: string; name: string }[];
  };
  return path.replace(':job', job?.id ?? '').replace(':link', links.find((l) => l.name === link)?.id ?? '');
}

async function open(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await expect(page.locator('h1, h2').first()).toBeVisible();
  await loaded(page);
}

/** Rules that look at colours: they do not depend on the size, and no other depends on the scheme. They take most of the time. */
const colourRules = ['color-contrast', 'link-in-text-block'];

/** What axe objects to, at any level. */
async function objections(page: Page, rules: 'all' | 'colours' | 'allButColours'): Promise<string[]> {
  const violations = await violationsOf(page, {
    ...(rules === 'colours' && { runOnly: { type: 'rule', values: colourRules } }),
    ...(rules === 'allButColours' && { rules: Object.fromEntries(colourRules.map((id) => [id, { enabled: false }])) }),
  });
  return violations.map((v) => `${v.id} (${v.impact}): ${v.nodes.map((n) => n.html).join(' | ')}`);
}

/** What can be tapped and is smaller than a fingertip, in CSS pixels. Links inside a sentence are as high as its line (WCAG 2.5.8's exception). */
function smallTargets(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const least = 44;
    const whole = (element: Element): Element =>
      element.closest('.mantine-Radio-body, .mantine-Checkbox-body, .mantine-Switch-body') ?? element;
    return [...document.querySelectorAll('a, button, input, select, summary, [role=button], [role=slider]')].flatMap(
      (element) => {
        if (element.closest('.leaflet-marker-pane, .leaflet-control-attribution, .skip, [data-type=hidden]')) return [];
        if (
          element.tagName === 'A' &&
          element.closest('p, .note, li:not(.job-item):not(.job-link)')?.textContent !== element.textContent &&
          getComputedStyle(element).display === 'inline'
        )
          return [];
        const { width, height } = whole(element).getBoundingClientRect();
        if (
          !width ||
          !height ||
          getComputedStyle(element).visibility === 'hidden' ||
          (element as HTMLInputElement).type === 'file'
        )
          return [];
        return width < least - 0.5 || height < least - 0.5
          ? [`${Math.round(width)} x ${Math.round(height)}: ${element.outerHTML.slice(0, 140)}`]
          : [];
      },
    );
  });
}

const overTheEdge = (page: Page) => page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);

const phone = { width: 390, height: 844 };

/** Compressed script that a screen may load from nothing, without charts and map, kB. */
const mostKilobytes = 250;

/** Files that it may come in: each is asked for, over a phone's network. */
const mostFiles = 30;

/** Script that this page has loaded: compressed, kB, and in how many files. */
const scriptOf = (page: Page) =>
  page.evaluate(() => {
    const scripts = (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).filter((entry) =>
      new URL(entry.name).pathname.endsWith('.js'),
    );
    return { files: scripts.length, kilobytes: scripts.reduce((sum, entry) => sum + entry.encodedBodySize / 1000, 0) };
  });

// They change nothing, and any worker may take any of them.
test.describe.configure({ mode: 'parallel' });

for (const look of looks) {
  test(`the screen ${look.name}`, { tag: look.tag }, async ({ page }) => {
    const trouble = watchForTrouble(page);
    const address = await addressOf(page, look);
    const wrong: string[] = [];
    const note = async (where: string, found: Promise<string[]>): Promise<void> =>
      void wrong.push(...(await found).map((words) => `${where}: ${words}`));

    await open(page, address);
    await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', 'light');
    const { files, kilobytes } = await scriptOf(page);
    expect(kilobytes).toBeGreaterThan(10);
    if (!look.heavy) expect(kilobytes).toBeLessThan(mostKilobytes);
    expect(files, 'script in files').toBeLessThan(mostFiles);
    expect(await overTheEdge(page), 'px over the edge, wide').toBeLessThanOrEqual(0);
    await note('by day', objections(page, 'all'));
    await page.getByRole('button', { name: 'day', exact: true }).click();
    await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', 'dark');
    await note('by night', objections(page, 'colours'));

    await page.setViewportSize(phone);
    await loaded(page);
    expect(await overTheEdge(page), 'px over the edge, on a phone').toBeLessThanOrEqual(0);
    // What is drawn to scale must not shrink with the screen.
    const letters = await page
      .getByRole('group', { name: /^Side view/ })
      .locator('text')
      .evaluateAll((texts) => texts.map((text) => text.getBoundingClientRect().height));
    expect(letters.filter((heightPx) => heightPx < 10)).toEqual([]);
    if (look.name === 'path') expect(letters).not.toEqual([]);
    await note('too small for a thumb', smallTargets(page));
    await note('on a phone', objections(page, 'allButColours'));
    expect(wrong).toEqual([]);
    expect(trouble).toEqual([]);
  });
}

test(
  'the job and the steps of a link on a phone keep to its width',
  { tag: ['@bench', '@mount', '@prove', '@radio', '@record'] },
  async ({ page }) => {
    await page.setViewportSize(phone);
    await page.goto('/');
    await page.getByRole('link', { name: 'Seal cove, bench' }).waitFor();
    expect(await overTheEdge(page)).toBeLessThanOrEqual(0);
    await page.getByRole('link', { name: 'Seal cove, bench' }).click();
    for (const step of ['radio', 'bench', 'mount', 'prove', 'record']) {
      await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: step }).click();
      await expect(page.locator('.wire')).toBeVisible();
      await loaded(page);
      expect(await overTheEdge(page), step).toBeLessThanOrEqual(0);
    }
  },
);

test(
  'the map and a path on a phone keep to its width, with letters that can be read',
  { tag: ['@map', '@path'] },
  async ({ page }) => {
    await page.setViewportSize(phone);
    await page.goto('/');
    await page.getByRole('link', { name: 'Map', exact: true }).click();
    await expect(page.locator('.leaflet-tile-loaded').first()).toBeVisible();
    expect(await overTheEdge(page)).toBeLessThanOrEqual(0);
    await page.goBack();
    await page.getByRole('link', { name: 'Beacon shed, path' }).click();
    const side = page.getByRole('group', { name: /^Side view/ });
    await expect(side).toBeVisible();
    expect(await overTheEdge(page)).toBeLessThanOrEqual(0);
    // It is drawn as wide as a desktop's until it has been measured.
    const letters = side.locator('text').first();
    await expect.poll(async () => (await letters.boundingBox())?.height).toBeGreaterThan(10);
  },
);
