import type { Page } from '@playwright/test';
import { expect, test } from './server';
import { choose, loaded, watchForTrouble } from './support';

/** What is typed into a field of a screen, and the sentence it must lead to. */
type Row = [field: string, typed: string, sentence: string | RegExp];

/** A few of those that tests of drafts, numbers, doubts and positions hold without a browser: here it is the screens that are looked at. */
const bench: Row[] = [['Address, near end', '10.61.4.20', '10.61.4.20 is taken by camera recorder']];
const radio: Row[] = [
  ['Cable loss at the near end', '2,5', '−2.5 dB'],
  ['Cable loss at the near end', '', 'Finish the marked fields'],
];
const prove: Row[] = [
  ['Speed', '0', 'from 0.001 to 100000'],
  ['Speed', '80', 'Say the unit'],
];
const map: Row[] = [
  ['Mast above ground', '-1', 'From 0 to 300 m'],
  ['Other antenna', 'tall', '"tall" is no number'],
  ['Radius', '61', 'From 0.2 to 60 km'],
];
const place: Row[] = [
  ['Position', '33,41', 'may be one number or two'],
  ['Ground above sea level', '99999', /from −430 to 9000 m above sea level/],
];
const path: Row[] = [
  ['Mounted above ground at Ferry office', '301', 'from 0 to 300 m above ground'],
  ['Mounted above ground at Ferry office', '', 'mount height is no number'],
  ['Most at the near end', '1', 'From 2 to 300 m'],
  ['One m more at near costs', '-1', 'From 0 up'],
];
const shaft: Row[] = [['Antennas closest', '0', 'from 0.5 to 1000 m']];

/** Types each, reads the sentence, and puts back what stood there. */
async function tryAll(page: Page, rows: readonly Row[], then?: () => Promise<void>): Promise<void> {
  for (const [field, typed, sentence] of rows) {
    await test.step(`${field} = "${typed}"`, async () => {
      const input = page.getByRole('textbox', { name: field, exact: true });
      const before = await input.inputValue();
      await input.fill(typed);
      await then?.();
      // Waited for, not expected: an expectation writes down the whole page each time that it is not met yet.
      await page.getByText(sentence).first().waitFor();
      // What was typed stands there as it was typed.
      expect(await input.inputValue()).toBe(typed);
      await input.fill(before);
    });
  }
}

async function linkOf(page: Page, name: string): Promise<string> {
  const [job] = (await (await page.request.get('/api/jobs')).json()) as { id: string }[];
  const { links } = (await (await page.request.get(`/api/jobs/${job?.id ?? ''}/links?limit=100`)).json()) as {
    links: { id: string; name: string }[];
  };
  return `/links/${links.find((l) => l.name === name)?.id ?? ''}`;
}

test('awkward input leads to a sentence on every kind of screen, and never to a dead page', async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  const link = await linkOf(page, 'Gauge hut');

  await page.goto(`${link}/bench`);
  await page.getByRole('button', { name: 'Show it' }).first().click();
  await tryAll(page, bench);
  await page.goto(`${link}/radio`);
  await tryAll(page, radio);
  await page.goto(`${link}/prove`);
  await tryAll(page, prove);
  await page.goto(`${await linkOf(page, 'Beacon shed')}/path`);
  await tryAll(page, path);
  await page.goto(`${await linkOf(page, 'Cliff hoist')}/path`);
  await tryAll(page, shaft);

  await page.goto('/');
  await page.getByRole('link', { name: 'Map', exact: true }).click();
  await tryAll(page, map);
  await page.getByRole('button', { name: 'Add a place' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Somewhere');
  await page.getByRole('textbox', { name: 'Position' }).fill('33.41, -37.84');
  await tryAll(page, place, () => page.getByRole('button', { name: 'Put it there' }).click());
  expect(trouble).toEqual([]);
});

test('what cannot be is told by what else was measured', { tag: ['@prove'] }, async ({ page }) => {
  await page.goto('/');
  await page.goto(`${await linkOf(page, 'Ice works')}/prove`);
  await page.getByRole('textbox', { name: 'Speed' }).fill('600');
  await choose(page, 'Unit', 'MByte/s');
  await page.getByRole('button', { name: 'Note it' }).click();
  const tests = page.getByRole('region', { name: 'Tests near to far' });
  await expect(tests).toContainText('more than a 1000 Mbit/s port lets through');
  await expect(tests).toContainText('a cable beside the link');
  // What was proven before still is.
  await expect(page.locator('.wire-reason')).toContainText('both directions as expected');
});

test(
  'what is typed outlives the step, the window and a reload, and means the same in other units',
  { tag: ['@mount', '@new-link', '@radio'] },
  async ({ page }) => {
    await page.goto('/');
    const link = await linkOf(page, 'Boat yard');
    await page.goto(`${link}/radio`);
    const need = page.getByRole('textbox', { name: 'Needed near to far' });
    await need.fill('77');
    await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'mount' }).click();
    await expect(page.getByText('Typed and not saved yet:')).toBeVisible();
    await page.getByRole('status').getByRole('link', { name: 'radio' }).click();
    await expect(need).toHaveValue('77');
    // Coming back to the window reads everything anew.
    await page.evaluate(() => window.dispatchEvent(new Event('visibilitychange')));
    await loaded(page);
    await expect(need).toHaveValue('77');
    await page.reload();
    await expect(need).toHaveValue('77');
    await page.getByRole('button', { name: 'Back to what is saved' }).click();
    await expect(need).not.toHaveValue('77');

    const jobUrl = await page.getByRole('link', { name: 'Tessary harbour' }).getAttribute('href');
    await page.goto(`${jobUrl ?? ''}/new-link`);
    const mount = page.getByRole('textbox', { name: 'Mounted above ground' }).first();
    await mount.fill('20');
    await page.getByRole('button', { name: 'metric' }).click();
    await expect(mount).toHaveValue('65.62');
    await page.getByRole('button', { name: 'imperial' }).click();
    await expect(mount).toHaveValue('20');
  },
);

test('a screen that fails says so, keeps its ways open, and comes back', { tag: ['@radio'] }, async ({ page }) => {
  await page.goto('/');
  const link = await linkOf(page, 'Boat yard');
  await page.goto(`${link}/radio`);
  await page.getByRole('textbox', { name: 'Needed near to far' }).fill('78');
  // A server of another age: the link comes without its air.
  await page.route('**/api/links/*', async (route) => {
    const answer = await route.fetch();
    const view = (await answer.json()) as Record<string, unknown>;
    await route.fulfill({ response: answer, json: { ...view, near: null } });
  });
  await page.reload();
  await expect(page.getByRole('alert')).toContainText('This page cannot be shown');
  await expect(page.getByRole('alert')).toContainText('What you have typed is kept');
  await page.unroute('**/api/links/*');
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('textbox', { name: 'Needed near to far' })).toHaveValue('78');
});
