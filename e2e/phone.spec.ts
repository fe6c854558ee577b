import { expectAccessible } from './axe';
import { expect, test } from './server';
import { watchForTrouble } from './support';

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
