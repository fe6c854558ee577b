import type { Page } from '@playwright/test';
import { expectAccessible } from './axe';
import { expect, test } from './server';
import { loaded, watchForTrouble } from './support';

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

test('aiming with one thumb on a phone, by the scale on the mount', { tag: ['@aim'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  await page
    .getByRole('link', { name: /^Hatchery, / })
    .first()
    .click();
  await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'aim' }).click();
  await page.getByRole('combobox', { name: 'How the angle is known at the near end' }).click();
  await page.getByRole('option', { name: /the scale on the mount/ }).click();
  await page.getByRole('button', { name: 'Begin to aim' }).click();
  const level = page.getByTestId('aim-level');
  await expect(level).toContainText(/−\d\d/);
  await expect(page.getByText('The screen stays on.')).toBeVisible();
  await page.evaluate(() => scrollTo(0, 0));
  await expect(level).toBeInViewport({ ratio: 1 });
  await expect(page.locator('.aim-words')).toBeInViewport({ ratio: 1 });
  for (const name of ['notch left', 'notch right', 'Locked', 'why?']) {
    const box = await page.getByRole('button', { name }).boundingBox();
    expect(box?.height, name).toBeGreaterThanOrEqual(44);
  }
  await page.getByRole('button', { name: 'notch right' }).tap();
  await page.getByRole('button', { name: 'why?' }).tap();
  await expect(page.getByText(/No peak is known yet/)).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(wide).toBe(0);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Break off' }).tap();
  await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
  expect(trouble).toEqual([]);
});

const overflow = (page: Page) => page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);

test(
  'the job and the steps of a link on a phone keep to its width',
  { tag: ['@bench', '@mount', '@prove', '@radio', '@record'] },
  async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: 'Seal cove, bench' }).waitFor();
    expect(await overflow(page)).toBeLessThanOrEqual(0);
    await page.getByRole('link', { name: 'Seal cove, bench' }).click();
    for (const step of ['radio', 'bench', 'mount', 'prove', 'record']) {
      await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: step }).click();
      await expect(page.locator('.wire')).toBeVisible();
      await loaded(page);
      expect(await overflow(page), step).toBeLessThanOrEqual(0);
    }
  },
);

test(
  'the map and a path on a phone keep to its width, with letters that can be read',
  { tag: ['@map', '@path'] },
  async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: 'Map', exact: true }).click();
    await expect(page.locator('.leaflet-tile-loaded').first()).toBeVisible();
    expect(await overflow(page)).toBeLessThanOrEqual(0);
    await page.goBack();
    await page.getByRole('link', { name: 'Beacon shed, path' }).click();
    const side = page.getByRole('group', { name: /^Side view/ });
    await expect(side).toBeVisible();
    expect(await overflow(page)).toBeLessThanOrEqual(0);
    // It is drawn as wide as a desktop's until it has been measured.
    const letters = side.locator('text').first();
    await expect.poll(async () => (await letters.boundingBox())?.height).toBeGreaterThan(10);
  },
);
