import type { Page } from '@playwright/test';
import { aimTest, openAim } from './levelSupport';
import { expect, test } from './server';
import { goToStep, loaded, watchForTrouble } from './support';

/** Notes what a page asks the server for, but for whether it is there, with `#` for each identifier. @returns those since the last call */
function questionsOf(page: Page): () => string[] {
  const asked: string[] = [];
  page.on('request', (request) => {
    const { pathname } = new URL(request.url());
    if (pathname.startsWith('/api/') && pathname !== '/api/health')
      asked.push(`${request.method()} ${pathname.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, '#')}`);
  });
  return () => asked.splice(0);
}

async function putPlace(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Add a place' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('textbox', { name: /^Position/ }).fill('33.42, -37.87');
  await page.getByRole('button', { name: 'Put it there' }).click();
  await expect(page.getByRole('button', { name: 'Put it there' })).toBeHidden();
}

const listed = (page: Page, name: string) => page.getByRole('button', { name }).or(page.getByText(name)).first();

test(
  'what one puts on the map is on the other’s, who asks for the map and for nothing else',
  { tag: ['@map'] },
  async ({ page, context }) => {
    const trouble = watchForTrouble(page);
    await page.goto('/');
    await page.getByRole('link', { name: 'Map', exact: true }).click();
    await expect(page.getByRole('button', { name: 'Add a place' })).toBeVisible();
    const other = await context.newPage();
    await other.goto(page.url());
    await expect(other.getByRole('button', { name: 'Add a place' })).toBeVisible();
    await loaded(other);
    const questions = questionsOf(other);
    await putPlace(page, 'Shed that others see');
    await expect(listed(other, 'Shed that others see')).toBeVisible();
    const asked = new Set(questions().filter((question) => !question.includes('/terrain/')));
    expect([...asked]).toEqual(['GET /api/jobs/#/map']);

    // What came while its line was lost is there as soon as that is back; that it was lost is said.
    await other.route('**/stream?*', (route) => route.abort());
    await other.reload();
    await expect(listed(other, 'Shed that others see')).toBeVisible();
    await putPlace(page, 'Shed put there meanwhile');
    await expect(other.getByRole('status').filter({ hasText: 'does not come in now' })).toBeVisible({
      timeout: 20_000,
    });
    await expect(listed(other, 'Shed put there meanwhile')).toBeHidden();
    await other.unroute('**/stream?*');
    await expect(listed(other, 'Shed put there meanwhile')).toBeVisible({ timeout: 20_000 });
    await expect(other.getByRole('status').filter({ hasText: 'does not come in now' })).toBeHidden();
    expect(trouble).toEqual([]);
    await other.close();
  },
);

test(
  'a saved plan is not asked for again: its answer says it, and who looks on sees it',
  { tag: ['@radio'] },
  async ({ page, context }) => {
    await page.goto('/');
    await page.getByRole('link', { name: /^Quay crane: / }).click();
    await goToStep(page, '2');
    const other = await context.newPage();
    await other.goto(page.url());
    const need = (of: Page) => of.getByRole('textbox', { name: 'Needed near to far' });
    await expect(need(other)).toBeVisible();
    await loaded(page);
    const questions = questionsOf(page);
    await need(page).fill('190');
    await page.getByRole('button', { name: 'Save the plan' }).click();
    await expect(page.getByRole('button', { name: 'Save the plan' })).toBeDisabled();
    await expect(need(other)).toHaveValue('190');
    await loaded(page);
    expect(questions()).not.toContain('GET /api/links/#');
    await other.close();
  },
);

aimTest('a tap costs one request', { tag: ['@aim'] }, async ({ page }) => {
  await openAim(page, 'Hatchery');
  await page.getByRole('button', { name: 'Begin to aim' }).click();
  await expect(page.getByTestId('aim-level')).toContainText(/−\d\d/);
  await loaded(page);
  const questions = questionsOf(page);
  await page.getByRole('button', { name: 'Locked', exact: true }).click();
  await expect.poll(questions).toContain('POST /api/alignments/#/marks');
  await loaded(page);
  expect(questions().filter((question) => !/presence|crew|hands/.test(question))).toEqual([]);
  await page.getByRole('button', { name: 'Break off' }).click();
  await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
});
