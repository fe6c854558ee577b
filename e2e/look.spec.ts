import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test } from './server';
import { loaded, watchForTrouble } from './support';

// Every screen, by day and by night, wide and on a phone: nothing that axe objects to at any level, nothing over the edge, nothing too small to hit.

interface Screen {
  name: string;
  path: string;
}

/** Every screen there is; a link of each kind where they differ. */
async function screensOf(page: Page): Promise<Screen[]> {
  await page.goto('/');
  const [job] = (await (await page.request.get('/api/jobs')).json()) as { id: string }[];
  const jobId = job?.id ?? '';
  const { links } = (await (await page.request.get(`/api/jobs/${jobId}/links?limit=100`)).json()) as {
    links: { id: string; name: string }[];
  };
  const link = (name: string): string => `/links/${links.find((l) => l.name === name)?.id ?? ''}`;
  const steps = ['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record'];
  return [
    { name: 'all jobs', path: '/jobs' },
    { name: 'job', path: `/jobs/${jobId}` },
    { name: 'new link', path: `/jobs/${jobId}/new-link` },
    { name: 'new job', path: '/jobs/new' },
    { name: 'network', path: `/jobs/${jobId}/network` },
    { name: 'need', path: `/jobs/${jobId}/need` },
    { name: 'law', path: `/jobs/${jobId}/law` },
    { name: 'visits', path: `/jobs/${jobId}/visits` },
    { name: 'people', path: `/jobs/${jobId}/people` },
    { name: 'what waits', path: '/waiting' },
    { name: 'timeline', path: `/jobs/${jobId}/timeline` },
    { name: 'the job itself', path: `/jobs/${jobId}/about` },
    { name: 'catalogue', path: '/catalogue' },
    { name: 'spec sheet', path: '/catalogue/brinmoor-span-25' },
    { name: 'the link itself', path: `${link('Gauge hut')}/about` },
    { name: 'map', path: `/jobs/${jobId}/map` },
    ...steps.map((step) => ({ name: step, path: `${link('Gauge hut')}/${step}` })),
    { name: 'which gear', path: `${link('Gauge hut')}/radio?look=gear` },
    { name: 'side by side', path: `${link('Gauge hut')}/radio?look=compare` },
    { name: 'licensed radio', path: `${link('Pump house')}/radio` },
    { name: 'bench that fails', path: `${link('Net loft')}/bench` },
    { name: 'licensed bench', path: `${link('Pump house')}/bench` },
    { name: 'shaft', path: `${link('Cliff hoist')}/path` },
    { name: 'aim of a shaft', path: `${link('Cliff hoist')}/aim` },
  ];
}

async function open(page: Page, { path, name }: Screen): Promise<void> {
  await page.goto(path);
  await expect(page.locator('h1, h2').first(), name).toBeVisible();
  await loaded(page);
}

async function violationsOf(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page })
    .options({ resultTypes: ['violations'] })
    .setLegacyMode()
    // Places lie where they lie, also on top of each other; the list beside the map holds them at full size (WCAG 2.5.8's exception).
    .exclude('.leaflet-marker-pane')
    .analyze();
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

for (const [size, viewport] of [
  ['wide', { width: 1280, height: 800 }],
  ['phone', { width: 390, height: 844 }],
] as const) {
  // Colours do not depend on the size: by night the wide screens speak for the narrow ones.
  const schemes = size === 'wide' ? ['light', 'dark'] : ['light'];
  test(`every screen, ${schemes.length > 1 ? 'by day and by night, ' : ''}${size}`, async ({ page }) => {
    await page.setViewportSize(viewport);
    const trouble = watchForTrouble(page);
    const wrong: string[] = [];
    for (const screen of await screensOf(page)) {
      await open(page, screen);
      const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
      if (over > 0) wrong.push(`${screen.name}: ${over} px over the edge`);
      if (size === 'phone') wrong.push(...(await smallTargets(page)).map((t) => `${screen.name}: ${t}`));
      for (const scheme of schemes) {
        await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', scheme);
        wrong.push(...(await violationsOf(page)).map((v) => `${screen.name}, ${scheme}: ${v}`));
        if (schemes.length > 1)
          await page.getByRole('button', { name: scheme === 'light' ? 'day' : 'night', exact: true }).click();
      }
    }
    expect(wrong).toEqual([]);
    expect(trouble).toEqual([]);
  });
}

/** Compressed script that a screen loads from nothing, without charts and map. */
const mostKilobytes = 250;

test('a screen loads what it shows, and no more', async ({ page, browser, address }) => {
  const screens = (await screensOf(page)).filter(({ name }) => !/map|shaft|aim/.test(name));
  const sizes: string[] = [];
  for (const screen of screens) {
    const context = await browser.newContext({ baseURL: address });
    const fresh = await context.newPage();
    await open(fresh, screen);
    const bytes = await fresh.evaluate(() =>
      (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
        .filter((entry) => new URL(entry.name).pathname.endsWith('.js'))
        .reduce((sum, entry) => sum + entry.encodedBodySize, 0),
    );
    await context.close();
    sizes.push(`${screen.name} ${(bytes / 1000).toFixed(0)} kB`);
    expect(bytes, screen.name).toBeGreaterThan(10_000);
    expect(bytes / 1000, screen.name).toBeLessThan(mostKilobytes);
  }
  // eslint-disable-next-line no-console -- the measured figures belong in the report
  console.log(`compressed script of a first load: ${sizes.join(', ')}`);
});
