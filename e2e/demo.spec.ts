import type { Page } from '@playwright/test';
import { expect, test } from './server';
import { goToStep, loaded, watchForTrouble } from './support';

/**
 * So many different things the first screen and all steps of a link ask the server for: on a roof each question takes a second. What grows old on a slow machine is asked for again, so that
 * how often is no count.
 */
const mostAsked = 14;
/** And what saving a plan asks: the change itself, and what rests on it. */
const mostAskedBySaving = 6;

/** Notes what a page asks the server for, but for whether it is there. @returns how many different things it has asked for since the last call */
function noteQuestions(page: Page): () => number {
  const asked = new Set<string>();
  page.on('request', (request) => {
    const { pathname } = new URL(request.url());
    if (pathname.startsWith('/api/') && pathname !== '/api/health') asked.add(`${request.method()} ${pathname}`);
  });
  return () => {
    const count = asked.size;
    asked.clear();
    return count;
  };
}

test('the demo job opens on what is wrong and what is next, and every step of its links can be read', async ({
  page,
}) => {
  const trouble = watchForTrouble(page);
  const questions = noteQuestions(page);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Tessary harbour' })).toBeVisible();
  const wrong = page.locator('section', { has: page.getByRole('heading', { name: 'What is wrong' }) });
  await expect(wrong).toContainText('Gauge hut, aim');
  await expect(wrong).toContainText('a side lobe');

  await wrong.getByRole('link', { name: 'Net loft, bench' }).click();
  await expect(page.getByRole('region', { name: 'Will they pair?' })).toContainText('Both are access points');
  for (const step of ['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record']) {
    await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: step }).click();
    await expect(page).toHaveURL(new RegExp(`/${step}$`));
    await expect(page.locator('main h2, main h3').first()).toBeVisible();
    await loaded(page);
  }
  expect(questions(), 'questions to the server').toBeLessThanOrEqual(mostAsked);
  expect(trouble).toEqual([]);
});

test('keys, units and night', { tag: ['@path', '@radio', '@record'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  await page.getByRole('link', { name: 'Ice works, holds' }).click();
  await goToStep(page, '1');
  await expect(page).toHaveURL(/path$/);
  await expect(page.locator('.wire-distance')).toContainText('1.873km');
  await loaded(page);
  const questions = noteQuestions(page);
  await page.keyboard.press('u');
  await expect(page.locator('.wire-distance')).toContainText('1.164mi');
  expect(questions(), 'of a key that changes units').toBe(0);
  await goToStep(page, '2');
  await expect(page).toHaveURL(/radio$/);
  await expect(page.getByRole('heading', { name: /What arrives at the near end/ })).toBeVisible();
  await loaded(page);
  questions();
  await page.keyboard.press('d');
  await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', 'dark');
  expect(questions(), 'of a key that changes colours').toBe(0);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('metric or imperial');
  await page.keyboard.press('Escape');
  await page.keyboard.press('j');
  await expect(page).toHaveURL(/jobs/);
  expect(trouble).toEqual([]);
});

test(
  'two people at one plan: the second is told and nothing is lost',
  { tag: ['@bench', '@radio'] },
  async ({ page, context }) => {
    await page.goto('/');
    await page.getByRole('link', { name: /^Quay crane: / }).click();
    await goToStep(page, '2');
    const other = await context.newPage();
    await other.goto(page.url());
    for (const [who, need] of [
      [page, '210'],
      [other, '220'],
    ] as const) {
      await who.getByRole('textbox', { name: 'Needed near to far' }).fill(need);
      await who.getByRole('textbox', { name: 'Needed near to far' }).blur();
    }
    const questions = noteQuestions(page);
    await page.getByRole('button', { name: 'Save the plan' }).click();
    await expect(page.getByRole('button', { name: 'Save the plan' })).toBeDisabled();
    await loaded(page);
    expect(questions(), 'of saving a plan').toBeLessThanOrEqual(mostAskedBySaving);
    // They are told while they type, before they save.
    await expect(other.getByRole('alert').filter({ hasText: 'was changed by somebody else' })).toBeVisible();
    const need = other.getByRole('textbox', { name: 'Needed near to far' });
    await expect(need).toHaveValue('220');
    // Theirs can be looked at, and mine is there again.
    await other.getByRole('button', { name: 'Show what is saved now' }).click();
    await expect(need).toHaveValue('210');
    await other.getByRole('button', { name: 'Show mine' }).click();
    await expect(need).toHaveValue('220');
    await other.getByRole('button', { name: 'Keep mine, to save over it' }).click();
    await other.getByRole('button', { name: 'Save the plan' }).click();
    await expect(other.getByRole('button', { name: 'Save the plan' })).toBeDisabled();
    await expect(need).toHaveValue('220');
  },
);
