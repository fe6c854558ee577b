import { expect, type Locator, type Page } from '@playwright/test';

/** Collects what the browser complains about: errors, refused loads, and anything asked of another origin. */
export function watchForTrouble(page: Page): string[] {
  const trouble: string[] = [];
  page.on('pageerror', (error) => trouble.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error' && !message.text().includes('status of 4')) trouble.push(message.text());
  });
  page.on('request', (request) => {
    const url = new URL(request.url());
    if (!['127.0.0.1', 'localhost'].includes(url.hostname) && !['data:', 'blob:'].includes(url.protocol))
      trouble.push(request.url());
  });
  return trouble;
}

/** Waits until a page asks for nothing more. Playwright's own wait for an idle network has been seen to miss the end of a request, and then never ends. */
export async function loaded(page: Page): Promise<void> {
  let asked = -1;
  const more = async (): Promise<number> => {
    const before = asked;
    asked = await page.evaluate(
      () => performance.getEntriesByType('resource').filter(({ name }) => !name.endsWith('/api/health')).length,
    );
    return asked - before;
  };
  await expect.poll(more, { intervals: [500] }).toBe(0);
}

const steps = ['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record'];

/** Presses the key of a step once the link's page is there to hear it, and waits until the step is there: its script may have to come first. */
export async function goToStep(page: Page, key: string): Promise<void> {
  await expect(page.locator('.wire')).toBeVisible();
  await page.keyboard.press(key);
  await expect(page).toHaveURL(new RegExp(`/${steps[Number(key) - 1]}$`));
}

/** Picks an entry of a drop-down list. */
export async function choose(scope: Page | Locator, label: string | RegExp, option: string | RegExp): Promise<void> {
  const page = 'page' in scope ? scope.page() : scope;
  const list = scope.getByRole('combobox', { name: label, exact: true });
  if (await list.evaluate((element) => element instanceof HTMLSelectElement)) {
    // The browser's own list opens nothing in the page.
    await list.selectOption(await list.getByRole('option', { name: option }).first().getAttribute('value'));
    return;
  }
  await list.click();
  await page.getByRole('option', { name: option }).first().click();
}

/** Drops a file onto an element, as a person drags it there. */
export async function dropFile(page: Page, testId: string, name: string, text: string): Promise<void> {
  const transfer = await page.evaluateHandle(
    ({ fileName, content }) => {
      const data = new DataTransfer();
      data.items.add(new File([content], fileName, { type: 'application/json' }));
      return data;
    },
    { fileName: name, content: text },
  );
  const target = page.getByTestId(testId);
  for (const event of ['dragenter', 'dragover', 'drop']) await target.dispatchEvent(event, { dataTransfer: transfer });
}

const turning = ['search', 'rising', 'past', 'turnBack', 'comeBack', 'moved', 'nextRow'];
const sides: Record<string, string> = { azimuth1: 'right', 'azimuth-1': 'left', tilt1: 'up', 'tilt-1': 'down' };

/**
 * Does with the stand-in's hands what the words say, as a person would who looks at nothing else, until both axes of an end are locked.
 * @param meanwhile what else happens to the mount is told to the page by it; `until` the words after which it stops
 */
export async function followTheWords(
  page: Page,
  end: 'near' | 'far',
  { meanwhile, until }: { meanwhile?: () => Promise<void>; until?: string } = {},
): Promise<number> {
  const hands = page.getByRole('complementary', { name: /installer.s hands/ });
  await hands.getByText(new RegExp(`^${end}, `)).click();
  const words = page.locator('.aim-words');
  let held = '';
  let turns = 0;
  const release = async (): Promise<void> => {
    if (held) await page.mouse.up();
    held = '';
  };
  const deadline = Date.now() + 400_000;
  let heard = '';
  while (Date.now() < deadline) {
    // Waits until the words change: whoever asks ten times a second keeps the page from its work. Where something else happens meanwhile, nobody waits.
    heard = await words.evaluate(hear, meanwhile ? '' : heard);
    const { action = '', direction = '0', axis = '', end: at = '' } = JSON.parse(heard) as Record<string, string>;
    if (at !== end || action === 'finished' || action === until) break;
    const wanted = turning.includes(action) ? (sides[`${axis}${direction}`] ?? '') : '';
    if (wanted !== held) {
      await release();
      if (wanted) {
        await hands.getByRole('button', { name: `turn ${wanted}` }).hover();
        await page.mouse.down();
        held = wanted;
        turns++;
      }
    }
    if (action === 'lock') {
      await release();
      await hands.getByRole('button', { name: 'tighten the bolts' }).click();
      await page.getByRole('button', { name: 'Locked' }).click();
      await expect(words).not.toHaveAttribute('data-action', 'lock');
    }
    await meanwhile?.();
  }
  await release();
  return turns;
}

/** What the words say, as soon as it is something else than before; or the same after a second, in which nothing has changed. */
function hear(words: HTMLElement | SVGElement, before: string): Promise<string> {
  const said = (): string => JSON.stringify({ ...words.dataset });
  return new Promise((resolve) => {
    const end = (): void => {
      watch.disconnect();
      resolve(said());
    };
    const watch = new MutationObserver(() => said() !== before && end());
    watch.observe(words, { attributes: true });
    if (said() !== before) end();
    setTimeout(end, 1000);
  });
}

/** What was read is written down some seconds later: waits until all of it is. */
export const writtenDown = (page: Page) =>
  expect
    .poll(() =>
      page.evaluate(async () => {
        const asked = (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).filter(
          ({ name }) => name.includes('/api/') && !name.endsWith('/api/health'),
        );
        const answeredAt = performance.timeOrigin + Math.max(...asked.map(({ responseEnd }) => responseEnd));
        const there = await indexedDB.databases();
        if (!there.some(({ name }) => name === 'kivram-reading')) return false;
        return new Promise((resolve) => {
          const opening = indexedDB.open('kivram-reading');
          opening.onsuccess = () => {
            const kept = opening.result.transaction('reading').objectStore('reading').get('client');
            kept.onsuccess = () => {
              opening.result.close();
              resolve(((kept.result as { timestamp: number } | undefined)?.timestamp ?? 0) >= answeredAt);
            };
          };
        });
      }),
    )
    .toBe(true);
