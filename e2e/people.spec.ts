import type { Browser, Page } from '@playwright/test';
import { expectAccessible } from './axe';
import { expect, testOver } from './server';
import { goToStep, loaded, writtenDown } from './support';

/** The demo, opened to the local network. */
const test = testOver({ of: 'people', isOpen: true }).extend<{ lanAddress: string }>({
  lanAddress: async ({ server }, use) => use(server?.opening?.addresses[0] ?? ''),
});

/** A phone that goes on past the warning, as its owner does after looking at the fingerprint. */
async function phone(browser: Browser, baseURL: string): Promise<Page> {
  const context = await browser.newContext({
    baseURL,
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    ignoreHTTPSErrors: true,
    locale: 'en-GB',
  });
  return context.newPage();
}

const row = (page: Page, name: string) => page.getByRole('listitem').filter({ hasText: name });

/** Asks for an invitation at the computer, and reads the address that the code holds. */
async function invitation(page: Page, name: string): Promise<string> {
  await row(page, name).getByRole('button', { name: 'Invite a phone' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('img', { name: /^Code for/ })).toBeVisible();
  const address = (await dialog.getByText(/\/join#/).textContent()) ?? '';
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
  return address;
}

async function comeIn(browser: Browser, address: string): Promise<Page> {
  const page = await phone(browser, new URL(address).origin);
  await page.goto(address);
  await page.getByRole('button', { name: 'Come in' }).tap();
  await expect(page.getByRole('heading', { name: 'Tessary harbour' })).toBeVisible();
  return page;
}

async function openPeople(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await expect(row(page, 'Teo Marl')).toBeVisible();
}

test(
  'a phone comes in by the code on the screen, once, and back by a password',
  { tag: ['@join', '@people', '@you'] },
  async ({ page, browser, lanAddress }) => {
    const stranger = await phone(browser, lanAddress);
    await stranger.goto('/');
    await expect(stranger.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await expectAccessible(stranger);

    await openPeople(page);
    const address = await invitation(page, 'Teo Marl');
    expect(address).toContain(lanAddress);
    const teo = await comeIn(browser, address);
    await expect(teo.getByRole('link', { name: 'Teo Marl' })).toBeVisible();

    await stranger.goto(address);
    await stranger.getByRole('button', { name: 'Come in' }).tap();
    await expect(stranger.getByRole('alert')).toContainText('it was used, or is older than ten minutes');

    await test.step('a password, then out and in again', async () => {
      await teo.getByRole('link', { name: 'Teo Marl' }).tap();
      await teo.getByRole('textbox', { name: 'New password' }).fill('short');
      await teo.getByRole('button', { name: 'Set it' }).tap();
      await expect(teo.getByRole('alert')).toContainText('10 to 200');
      await teo.getByRole('textbox', { name: 'New password' }).fill('gulls over the pier');
      await teo.getByRole('button', { name: 'Set it' }).tap();
      await expect(teo.getByRole('heading', { name: 'Another password' })).toBeVisible();
      await expectAccessible(teo);
      await teo.getByRole('button', { name: 'Sign out' }).tap();
      await expect(teo.getByRole('heading', { name: 'Sign in' })).toBeVisible();
      await teo.getByRole('textbox', { name: 'Your name' }).fill('Teo Marl');
      await teo.getByLabel('Your password').fill('gulls over the wall');
      await teo.getByRole('button', { name: 'Sign in' }).tap();
      await expect(teo.getByRole('alert')).toContainText('do not belong together');
      await teo.getByLabel('Your password').fill('gulls over the pier');
      await teo.getByRole('button', { name: 'Sign in' }).tap();
      await expect(teo.getByRole('link', { name: 'Teo Marl' })).toBeVisible();
    });

    await test.step('his session is listed at the computer, and ended there', async () => {
      await openPeople(page);
      const session = row(page, 'Teo Marl');
      await expect(session).toContainText('Chrome on');
      await expect(session).toContainText('Has a password');
      await session.getByRole('button', { name: 'End it' }).click();
      await expect(session).not.toContainText('Chrome on');
      await teo.getByRole('link', { name: 'Kivram' }).tap();
      await expect(teo.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    });
  },
);

test(
  'somebody is added, gets another part, leaves and is back; the last lead stays',
  { tag: ['@people', '@timeline'] },
  async ({ page }) => {
    await openPeople(page);
    await page.getByRole('textbox', { name: 'Add somebody' }).fill('Runa Holm');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(row(page, 'Runa Holm')).toBeVisible();
    await page.getByRole('combobox', { name: 'What Runa Holm may do' }).selectOption('reader');
    await expect(page.getByRole('combobox', { name: 'What Runa Holm may do' })).toHaveValue('reader');
    await row(page, 'Runa Holm').getByRole('button', { name: 'Left the job' }).click();
    await page.getByText('Worked on it before: 1').click();
    await page.getByRole('button', { name: 'Is back' }).click();
    await expect(page.getByRole('combobox', { name: 'What Runa Holm may do' })).toHaveValue('reader');
    await row(page, 'Ona Brisk').getByRole('button', { name: 'Left the job' }).click();
    await expect(page.getByRole('alert')).toContainText('the only one who leads this job');
    await page.getByRole('link', { name: 'Timeline' }).click();
    await expect(page.getByText('Made Runa Holm reader (was installer)')).toBeVisible();
  },
);

test(
  'a passphrase is shown to who asks, and the timeline says who; a reader cannot ask',
  { tag: ['@bench', '@record'] },
  async ({ page }) => {
    await page.goto('/');
    await page
      .getByRole('link', { name: /^Ice works, / })
      .last()
      .click();
    await goToStep(page, '3');
    const secret = page.getByRole('group', { name: 'Passphrase, near end' });
    await expect(secret).toContainText('••••••••');
    await expect(page.getByRole('region', { name: 'Will they pair?' })).toContainText('Yes');
    await expect(page.getByRole('button', { name: 'Save both sheets' })).toBeDisabled();
    await secret.getByRole('button', { name: 'Show it' }).click();
    const shown = page.getByRole('textbox', { name: 'Passphrase, near end' });
    await expect(shown).toHaveValue(/^[\x20-\x7e]{8,63}$/);
    await expect(page.getByRole('textbox', { name: 'Passphrase, far end' })).toHaveValue(await shown.inputValue());
    await page.reload();
    await expect(secret).toBeVisible(); // it left the page
    await goToStep(page, '7');
    await expect(page.getByRole('listitem').filter({ hasText: 'Looked at passphrases' })).toContainText('Ona Brisk');
    await page.getByRole('combobox', { name: 'Who is working' }).selectOption({ label: 'Wim Askel (reads)' });
    await goToStep(page, '3');
    await expect(secret).toContainText('not shown');
    await expect(page.getByRole('button', { name: 'Show it' })).toHaveCount(0);
  },
);

/** What changes nothing and yet is no question by its method. */
const harmless = /\/api\/(terrain\/profiles|session)$/;

test("a reader's pages have no dead buttons: whatever is clicked, nothing is asked that would be refused", async ({
  page,
  browser,
}) => {
  await openPeople(page);
  const reader = await comeIn(browser, await invitation(page, 'Wim Askel'));
  await reader.setViewportSize({ width: 1280, height: 800 });
  const asked: string[] = [];
  reader.on('request', (request) => {
    if (request.method() !== 'GET' && !harmless.test(request.url())) asked.push(`${request.method()} ${request.url()}`);
  });
  reader.on('response', (response) => {
    if ([401, 403].includes(response.status())) asked.push(`${response.status()} ${response.url()}`);
  });
  const jobPath = new URL(reader.url()).pathname;
  const { links } = (await (await reader.request.get(`/api${jobPath}/links?limit=100`)).json()) as {
    links: { id: string; name: string }[];
  };
  const link = (name: string): string => `/links/${links.find((l) => l.name === name)?.id ?? ''}`;
  const steps = ['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record', 'about'];
  const paths = [
    jobPath,
    ...['map', 'network', 'visits', 'people', 'timeline', 'about', 'new-link'].map((name) => `${jobPath}/${name}`),
    ...steps.map((step) => `${link('Ice works')}/${step}`),
    `${link('Quay crane')}/bench`,
    `${link('Cliff hoist')}/path`,
    '/jobs',
    '/jobs/new',
    '/catalogue',
    '/catalogue/brinmoor-span-25',
  ];
  // As links lead there: where the certificate is one's own, a browser keeps nothing, and would fetch and read everything anew.
  const goTo = (path: string): Promise<void> =>
    reader.evaluate((to) => {
      history.pushState(null, '', to);
      dispatchEvent(new PopStateEvent('popstate', { state: null }));
    }, path);
  /** What a press asks for is asked before the next frame is drawn. */
  const drawn = (): Promise<void> =>
    reader.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done()))));
  const shown = new Set<string>();
  for (const path of paths) {
    await goTo(path);
    // What the screen before shows stays until this one is here.
    const words = reader.locator('main');
    await expect.poll(async () => shown.has(await words.innerText()), `${path} comes`).toBe(false);
    await loaded(reader);
    shown.add(await words.innerText());
    // Everything at once, twice: what a first click opened is clicked as well.
    for (let round = 0; round < 2; round++) {
      await reader.evaluate(() => {
        for (const button of document.querySelectorAll<HTMLButtonElement>('main button, [role=dialog] button'))
          if (!button.disabled) button.click();
      });
      await drawn();
    }
    for (const key of ['s', 'p', 't', 'a', 'o', 'z', 'l', 'n']) await reader.keyboard.press(key);
    await drawn();
    expect(asked, path).toEqual([]);
    expect(new URL(reader.url()).pathname, `${path}: the keys lead nowhere`).not.toBe(
      path.endsWith('new-link') ? '' : `${jobPath}/new-link`,
    );
  }
  expect(shown.size, 'screens that differ').toBe(paths.length);
});

test(
  'photos and notes on a phone: of a visit and of a radio, with the line under it, removed and brought back',
  { tag: ['@bench', '@join', '@mount', '@people', '@timeline', '@visits'] },
  async ({ page, browser }) => {
    await openPeople(page);
    const teo = await comeIn(browser, await invitation(page, 'Teo Marl'));
    const picture = await page.screenshot({ type: 'jpeg' });
    await teo.getByRole('link', { name: 'Visits' }).tap();
    await teo.getByRole('textbox', { name: 'You are on site: what for?' }).fill('Grounding check');
    await teo.getByRole('textbox', { name: 'Note' }).first().fill('Lug was loose');
    await teo.getByRole('button', { name: 'Begin the visit' }).tap();
    const visit = teo.getByRole('region', { name: 'Grounding check' });
    await expect(visit).toContainText('still there, Teo Marl');
    const add = async (of: string, line: string): Promise<void> => {
      await teo
        .getByLabel(`Photo file of ${of}`)
        .setInputFiles({ name: 'p.jpg', mimeType: 'image/jpeg', buffer: picture });
      await teo.getByRole('textbox', { name: 'A line about it' }).fill(line);
      await teo.getByRole('button', { name: 'Add it' }).tap();
      await expect(teo.getByRole('button', { name: `: ${line}` })).toBeVisible();
    };
    const heic = Buffer.from('000000186674797068656963000000006d696631', 'hex');
    await teo
      .getByLabel('Photo file of Grounding check')
      .setInputFiles({ name: 'p.heic', mimeType: 'image/heic', buffer: heic });
    await teo.getByRole('button', { name: 'Add it' }).tap();
    await expect(teo.getByRole('alert')).toContainText('This is a HEIC picture');
    await teo.getByRole('button', { name: 'Close' }).tap();
    await add('Grounding check', 'The lug, tightened');
    await visit.getByRole('button', { name: 'The visit is over' }).tap();
    await expect(visit).not.toContainText('still there');
    await visit.getByRole('button', { name: /The lug, tightened/ }).tap();
    await expectAccessible(teo);
    await teo.getByRole('button', { name: 'Remove the photo' }).tap();
    await expect(visit.getByRole('button', { name: /^Photo of/ })).toHaveCount(0);
    await teo.getByRole('link', { name: 'Timeline' }).tap();
    await teo.getByRole('button', { name: 'Bring it back' }).first().tap();
    await teo.getByRole('link', { name: 'Visits' }).tap();
    await expect(visit.getByRole('button', { name: /The lug, tightened/ })).toBeVisible();

    await teo.goto('/');
    await teo
      .getByRole('link', { name: /^Quay crane, / })
      .last()
      .tap();
    await teo.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'mount' }).tap();
    await add('the far radio', 'Crane bracket');
    await teo.getByRole('textbox', { name: 'Note about the far radio' }).fill('Key at the harbour master');
    await teo.getByRole('button', { name: 'Save the note' }).tap();
    await expect(teo.getByRole('button', { name: 'Save the note' })).toHaveCount(0);
    await teo.reload();
    await expect(teo.getByRole('textbox', { name: 'Note about the far radio' })).toHaveValue(
      'Key at the harbour master',
    );
    const wide = await teo.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(wide).toBeLessThanOrEqual(0);
  },
);

test(
  'what a phone has kept over a reload without a network is sent by itself when that is back',
  { tag: ['@visits'] },
  async ({ page, browser }) => {
    await openPeople(page);
    const teo = await comeIn(browser, await invitation(page, 'Teo Marl'));
    await teo.getByRole('link', { name: 'Visits' }).tap();
    await expect(teo.getByRole('region', { name: 'Why does the hatchery drop?' })).toBeVisible();
    await writtenDown(teo);
    let isAway = true;
    await teo.route('**/api/**', async (route) => {
      if (isAway) return route.abort();
      // Who is signed in is known last: what waits must wait for that, too.
      if (route.request().url().endsWith('/api/session')) await new Promise((resolve) => setTimeout(resolve, 5000));
      return route.continue();
    });
    const begin = async (purpose: string): Promise<void> => {
      await teo.getByRole('textbox', { name: 'You are on site: what for?' }).fill(purpose);
      await teo.getByRole('button', { name: 'Begin the visit' }).tap();
      await expect(teo.getByText(/Kept on this device: a visit is sent/)).toBeVisible();
    };
    await begin('Before the reload');
    await teo.reload();
    await begin('After the reload');
    const waiting = teo.locator('.top-waiting');
    await expect(waiting).toContainText('2 waiting');
    isAway = false;
    await expect(waiting).toHaveCount(0, { timeout: 20_000 });
    for (const purpose of ['Before the reload', 'After the reload'])
      await expect(teo.getByRole('region', { name: purpose })).not.toContainText('Waits on this device');
  },
);
