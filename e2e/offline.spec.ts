import type { BrowserContext, Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { copyDatabase } from '../scripts/lib/databases.mjs';
import { startServer, stopServer } from '../scripts/lib/server.mjs';
import { expectAccessible } from './axe';
import { databaseUrl, expect, templateName, testOver } from './server';
import { loaded, writtenDown } from './support';

type Server = Awaited<ReturnType<typeof startServer>>;

/** A server that can be killed and started again at its address, over its database. */
interface Mortal {
  address: string;
  kill(): Promise<void>;
  revive(): Promise<void>;
}

/** What is changed here other tests look at as it was. */
const test = testOver({ of: 'offline' });

const mortalTest = test.extend<{ mortal: Mortal }>({
  mortal: async ({ servers, standinSpeed }, use) => {
    const options = {
      databaseUrl: copyDatabase(databaseUrl, templateName),
      port: await servers.nextOwn(),
      standinSpeed,
    };
    let server: Server = await startServer(options);
    await use({
      address: `http://127.0.0.1:${options.port}`,
      kill: async () => {
        const gone = new Promise((resolve) => server.child.once('exit', resolve));
        server.child.kill('SIGKILL');
        await gone;
      },
      revive: async () => {
        server = await startServer(options);
      },
    });
    await stopServer(server.child);
  },
  address: async ({ mortal }, use) => use(mortal.address),
});

test.use({ serviceWorkers: 'allow' });

/** Opens the page and waits until its worker holds all of it. */
async function settle(page: Page): Promise<void> {
  await page.goto('/');
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Tessary harbour' })).toBeVisible();
}

async function toStep(page: Page, link: string, step: string): Promise<void> {
  await page.goto('/');
  await page
    .getByRole('link', { name: new RegExp(`^${link}, `) })
    .last()
    .click();
  await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: step }).click();
  await loaded(page);
}

const waitingCount = (page: Page) => page.locator('.top-waiting');

async function jobOf(
  page: Page,
): Promise<{ visits: { purpose: string; note: string }[]; photos: { caption: string }[] }> {
  const [job] = (await (await page.request.get('/api/jobs')).json()) as { id: string }[];
  return (await page.request.get(`/api/jobs/${job?.id ?? ''}/visits`)).json() as ReturnType<typeof jobOf>;
}

test(
  'Kivram installs as an app, and what was opened can be read without a network',
  { tag: ['@record', '@visits'] },
  async ({ page, context }) => {
    await settle(page);
    const manifest = (await (await page.request.get('/manifest.webmanifest')).json()) as { icons: { src: string }[] };
    for (const { src } of manifest.icons)
      expect((await page.request.get(src)).headers()['content-type']).toBe('image/png');
    await toStep(page, 'Ice works', 'record');
    await page.getByRole('link', { name: 'Tessary harbour' }).click();
    await page.getByRole('link', { name: 'Visits' }).click();
    const photo = page.getByRole('button', { name: /Willows in the line, from the far end/ });
    await expect(photo).toBeVisible();
    await loaded(page);
    await writtenDown(page);

    await context.setOffline(true);
    await page.reload();
    await expect(photo).toBeVisible();
    expect(await photo.locator('img').evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(0);
    await expect(page.getByRole('alert')).toContainText('does not answer');
    await page.getByRole('link', { name: 'Links', exact: true }).click();
    await page
      .getByRole('link', { name: /^Ice works, / })
      .last()
      .click();
    await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'record' }).click();
    await expect(page.getByText('Where this link stands')).toBeVisible();
    await expect(page.getByText('Stand-in radios paired on the bench').first()).toBeVisible();
    await context.setOffline(false);
  },
);

test(
  'what is changed without a network waits, over a reload, and is made once when it is back',
  { tag: ['@bench', '@mount', '@visits', '@waiting'] },
  async ({ page, context }) => {
    await settle(page);
    const picture = await page.screenshot({ type: 'jpeg' });
    await toStep(page, 'Quay crane', 'mount');
    await page.goto('/');
    await page.getByRole('link', { name: 'Visits' }).click();
    await expect(page.getByRole('region', { name: 'Why does the hatchery drop?' })).toBeVisible();
    await writtenDown(page);
    const before = await jobOf(page);

    await context.setOffline(true);
    await page.getByRole('textbox', { name: 'You are on site: what for?' }).fill('No signal up here');
    await page.getByRole('textbox', { name: 'Note' }).first().fill('Noted on the roof');
    await page.getByRole('button', { name: 'Begin the visit' }).click();
    await expect(page.getByText(/Kept on this device: a visit is sent/)).toBeVisible();
    const visit = page.getByRole('region', { name: 'No signal up here' });
    await expect(visit).toContainText('Waits on this device');
    await page
      .getByLabel('Photo file of No signal up here')
      .setInputFiles({ name: 'p.jpg', mimeType: 'image/jpeg', buffer: picture });
    await page.getByRole('textbox', { name: 'A line about it' }).fill('View from the roof');
    await page.getByRole('button', { name: 'Add it' }).click();
    await expect(visit.getByRole('button', { name: /View from the roof/ })).toBeVisible();
    await visit.getByRole('button', { name: 'Write more' }).click();
    await visit.getByRole('textbox', { name: 'Note' }).fill('Noted on the roof, in the rain');
    await visit.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(visit).toContainText('in the rain');
    await expect(waitingCount(page)).toContainText('3 waiting');
    await page.reload();
    await expect(waitingCount(page)).toContainText('3 waiting');
    await expect(visit.getByRole('button', { name: /View from the roof/ })).toBeVisible();
    await waitingCount(page).click();
    await expect(page.getByRole('heading', { name: 'Waiting on this device' })).toBeVisible();
    await expect(page.getByRole('listitem').filter({ hasText: 'A photo' })).toBeVisible();
    await expectAccessible(page);

    await context.setOffline(false);
    await expect(page.getByText('Nothing waits')).toBeVisible();
    const after = await jobOf(page);
    expect(after.visits.length).toBe(before.visits.length + 1);
    expect(after.visits.find((v) => v.purpose === 'No signal up here')?.note).toBe('Noted on the roof, in the rain');
    expect(after.photos.filter((p) => p.caption === 'View from the roof')).toHaveLength(1);
  },
);

mortalTest(
  'a server that is killed takes nothing with it: what was sent then is made once',
  { tag: ['@visits'] },
  async ({ page, mortal }) => {
    await settle(page);
    await page.getByRole('link', { name: 'Visits' }).click();
    await expect(page.getByRole('region', { name: 'Why does the hatchery drop?' })).toBeVisible();
    const before = await jobOf(page);
    const begin = async (purpose: string): Promise<void> => {
      await page.getByRole('textbox', { name: 'You are on site: what for?' }).fill(purpose);
      await page.getByRole('button', { name: 'Begin the visit' }).click();
    };
    // Gone between its answer and the reading after it: what it acknowledged is on the page.
    await page.route(/\/api\/jobs\/[^/]+\/visits$/, (route) =>
      route.request().method() === 'GET' ? route.abort() : route.continue(),
    );
    await begin('Acknowledged, and gone');
    await expect(page.getByRole('region', { name: 'Acknowledged, and gone' })).toBeVisible();
    await page.unrouteAll({ behavior: 'wait' });
    await expect(page.getByRole('textbox', { name: 'You are on site: what for?' })).toHaveValue('');
    await mortal.kill();
    await begin('While it was dead');
    await expect(waitingCount(page)).toContainText('1 waiting');
    await mortal.revive();
    await expect(waitingCount(page)).toHaveCount(0);
    // Killed while a change is on its way; the siege does it a hundred times.
    await begin('Killed on its way');
    await mortal.kill();
    await expect(page.getByRole('region', { name: 'Killed on its way' })).toBeVisible();
    await mortal.revive();
    await expect(waitingCount(page)).toHaveCount(0);
    await expect(page.getByRole('textbox', { name: 'You are on site: what for?' })).toHaveValue('');
    const names = (await jobOf(page)).visits.map((visit) => visit.purpose);
    expect(names.length).toBe(before.visits.length + 3);
    expect(new Set(names).size).toBe(names.length);
  },
);

test(
  'who changed the same thing meanwhile is not overwritten: both versions stand side by side',
  { tag: ['@bench', '@mount', '@waiting'] },
  async ({ page, context, browser, address }) => {
    const other: BrowserContext = await browser.newContext({ baseURL: address });
    const office = await other.newPage();
    await settle(page);
    const field = (at: Page) => at.getByRole('textbox', { name: 'Note about the near radio' });
    const save = (at: Page) => at.getByRole('button', { name: 'Save the note' });
    await toStep(page, 'Quay crane', 'mount');
    await writtenDown(page);
    await context.setOffline(true);
    await field(page).fill('Written on the crane');
    await save(page).click();
    await expect(waitingCount(page)).toContainText('1 waiting');

    await toStep(office, 'Quay crane', 'mount');
    await field(office).fill('Written in the office');
    await save(office).click();
    await expect(save(office)).toHaveCount(0);

    await context.setOffline(false);
    await expect(waitingCount(page)).toContainText('look');
    await expect(field(page)).toHaveValue(/Written (in the office|on the crane)/);
    await waitingCount(page).click();
    const clash = page.getByRole('region', { name: /A change of a radio, not taken/ });
    await expect(clash).toContainText('Somebody else has changed this radio');
    await expect(clash.getByRole('row', { name: /note/ })).toContainText('Written on the crane');
    await expect(clash.getByRole('row', { name: /note/ })).toContainText('Written in the office');
    await expectAccessible(page);
    await clash.getByRole('button', { name: 'Keep mine, and save it over theirs' }).click();
    await expect(page.getByText('Nothing waits')).toBeVisible();
    await office.reload();
    await expect(field(office)).toHaveValue('Written on the crane');

    // What is changed of something that is gone can be read before it is given up.
    await toStep(page, 'Quay crane', 'mount');
    await context.setOffline(true);
    await field(page).fill('Written on a link that is gone');
    await save(page).click();
    await expect(waitingCount(page)).toContainText('1 waiting');
    const link = `/api${/[/]links[/][^/]+/.exec(page.url())?.[0] ?? ''}`;
    const {
      link: { version },
    } = (await (await office.request.get(link)).json()) as { link: { version: number } };
    const headers = { 'idempotency-key': randomUUID(), origin: address };
    expect((await office.request.delete(`${link}?version=${version}`, { headers })).status()).toBe(200);
    await context.setOffline(false);
    await expect(waitingCount(page)).toContainText('look');
    await waitingCount(page).click();
    await expect(clash).toContainText('There is no such radio');
    await expect(clash.getByRole('row', { name: /note/ })).toContainText('Written on a link that is gone');
    await clash.getByRole('button', { name: 'Give it up' }).click();
    await expect(page.getByText('Nothing waits')).toBeVisible();
    await other.close();
  },
);

test(
  'a place that is put down, and one that is moved, without a network stand on the map, and then on everybody’s',
  { tag: ['@map'] },
  async ({ page, context }) => {
    await settle(page);
    await page.getByRole('link', { name: 'Map', exact: true }).click();
    await expect(page.getByRole('button', { name: 'Add a place' })).toBeVisible();
    await writtenDown(page);
    const other = await context.newPage();
    await other.goto(page.url());
    await expect(other.getByRole('button', { name: 'Add a place' })).toBeVisible();

    await page.route('**/api/**', (route) => route.abort());
    await page.getByRole('button', { name: 'Add a place' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Post by the slip');
    await page.getByRole('textbox', { name: /^Position/ }).fill('33.41, -37.86');
    await page.getByRole('button', { name: 'Put it there' }).click();
    const listed = (of: Page, name: string) => of.locator('.map-place').filter({ hasText: name });
    await expect(listed(page, 'Post by the slip')).toContainText('waits on this device');
    await expect(listed(page, 'Post by the slip')).toBeDisabled();
    // A new place ends what one was about: the shed is dragged as it stands.
    const shed = page
      .getByAltText(/^Beacon shed, site/)
      .or(page.getByTitle('Beacon shed'))
      .first();
    const box = await shed.boundingBox();
    if (!box) throw new Error('the shed is not on the map');
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + 40, box.y + 30, { steps: 5 });
    await page.mouse.up();
    await expect(listed(page, 'Beacon shed')).toContainText('waits on this device');
    await expect(page.getByRole('button', { name: /^Undo: Beacon shed moved/ })).toBeVisible();
    await expect(waitingCount(page)).toContainText('2 waiting');
    await page.reload();
    await expect(listed(page, 'Post by the slip')).toContainText('waits on this device');

    await page.unrouteAll({ behavior: 'ignoreErrors' });
    await expect(waitingCount(page)).toHaveCount(0, { timeout: 20_000 });
    await expect(listed(page, 'Post by the slip')).toBeEnabled();
    await expect(listed(page, 'Beacon shed')).not.toContainText('waits');
    await expect(listed(other, 'Post by the slip')).toBeVisible();
    await other.close();
  },
);
