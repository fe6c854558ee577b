import { expect, type Page } from '@playwright/test';
import { test } from './server';
import { followTheWords } from './support';

/** One current picture of each main view, from the demo data: `npm run screenshots` against a fresh demo. */
const shots = '../docs/screenshots';

async function open(page: Page, link: string, step: string): Promise<void> {
  await page.goto('/');
  await page
    .getByRole('link', { name: new RegExp(`^${link}, `) })
    .last()
    .click();
  await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: step }).click();
  await page.waitForTimeout(700);
}

const views: [string, string, string][] = [
  ['path', 'Beacon shed', 'path'],
  ['radio', 'Ice works', 'radio'],
  ['bench', 'Net loft', 'bench'],
  ['mount', 'Quay crane', 'mount'],
  ['prove', 'Slipway store', 'prove'],
  ['record', 'Gauge hut', 'record'],
];

test('the job', async ({ page }) => {
  await page.goto('/');
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/job.png` });
});

test('all jobs', async ({ page }) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Begin a new job' }).waitFor();
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/jobs.png` });
});

test('the network', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Network', exact: true }).click();
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/network.png` });
});

for (const [file, tab] of [
  ['need', 'Need'],
  ['law', 'Law'],
  ['people', 'People'],
  ['visits', 'Visits'],
] as const) {
  test(`the job, ${file}`, async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: tab, exact: true }).click();
    await page.waitForTimeout(900);
    await page.screenshot({ path: `${import.meta.dirname}/${shots}/${file}.png` });
  });
}

test('the catalogue, with two compared', async ({ page }) => {
  await page.goto('/catalogue');
  for (const name of ['Brinmoor Pane 16', 'Brinmoor Span 25'])
    await page.getByRole('checkbox', { name: `Compare ${name}` }).check();
  await page.waitForTimeout(300);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/catalogue.png` });
});

for (const [file, link, step] of views) {
  test(`${link}, ${step}`, async ({ page }) => {
    await open(page, link, step);
    await page.screenshot({ path: `${import.meta.dirname}/${shots}/${file}.png` });
  });
}

test('which gear', async ({ page }) => {
  await open(page, 'Ice works', 'radio');
  await page.getByText('Which gear?').click();
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/gear.png` });
});

test('the map, with what is seen from a mast', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Map', exact: true }).click();
  await page.waitForTimeout(6000);
  await page.getByRole('combobox', { name: 'Seen from' }).click();
  await page.getByRole('option', { name: 'Ferry office' }).click();
  await page.getByRole('button', { name: 'Show what is seen' }).click();
  await page.waitForTimeout(3000);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/map.png` });
});

test('a new link', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Plan a new link' }).click();
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/new-link.png` });
});

test('aim, and aim on a phone', async ({ page }) => {
  await open(page, 'Slipway store', 'aim');
  await page.getByRole('button', { name: 'Begin to aim' }).click();
  const following = followTheWords(page, 'near');
  await expect(page.locator('.aim-words')).toHaveAttribute('data-action', 'comeBack', { timeout: 90_000 });
  await page.waitForTimeout(600);
  await page.evaluate(() => scrollTo(0, 0));
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/aim.png` });
  await page.setViewportSize({ width: 390, height: 844 });
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `${import.meta.dirname}/${shots}/aim-phone.png` });
  await page.getByRole('button', { name: 'Break off' }).click();
  await following.catch(() => undefined);
});
