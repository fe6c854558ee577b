import type { Page } from '@playwright/test';
import { expectAccessible } from './axe';
import { aimTest, openAim } from './levelSupport';
import { expect, test } from './server';
import { watchForTrouble } from './support';

aimTest(
  'two ends, one crew: whose turn it is, the other level, hold and go, from two devices',
  { tag: ['@aim', '@record'] },
  async ({ page, browser, misaim }) => {
    const trouble = watchForTrouble(page);
    const linkId = await openAim(page, 'Ice works');
    await misaim(linkId, 3);
    await page.getByRole('button', { name: 'Begin to aim' }).click();
    await expect(page.getByTestId('aim-level')).toContainText(/−\d\d/);
    await expect(page.getByTestId('crew')).toHaveText('Nobody else has this alignment open.');

    const far = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
    await far.goto(page.url());
    await far.getByRole('button', { name: 'at the far end' }).click();
    await page.getByRole('button', { name: 'at the near end' }).click();
    await expect(page.getByTestId('crew')).toContainText('far end');
    await expect(far.getByTestId('crew')).toContainText('near end');

    await expect(far.locator('.aim-words')).toHaveText('Hold still: the other end turns');
    await expect(far.getByText(/^At the near end: Turn /)).toBeVisible();
    await expect(far.getByText(/near end hears/)).toBeVisible();
    await expect(far.getByRole('button', { name: 'Locked', exact: true })).toBeHidden();
    await expect(page.locator('.aim-words')).toHaveText(/^Turn /);
    await expect(page.getByRole('button', { name: 'Locked', exact: true })).toBeVisible();

    await far.getByRole('button', { name: 'hold', exact: true }).click();
    await expect(page.getByRole('alert').getByText('Far end: hold')).toBeVisible();
    await expectAccessible(page);
    await page.reload();
    await expect(page.getByRole('alert').getByText('Far end: hold')).toBeVisible();
    await expect(page.getByRole('button', { name: 'at the near end' })).toHaveAttribute('aria-pressed', 'true');
    await far.getByRole('button', { name: 'go', exact: true }).click();
    await expect(page.getByRole('alert').getByText('Far end: go')).toBeVisible();
    await page.getByRole('button', { name: 'call me' }).click();
    await expect(far.getByRole('alert').getByText('Near end: call me')).toBeVisible();
    const wide = await far.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
    expect(wide).toBe(0);
    await expectAccessible(far);

    await far.context().close();
    await expect(page.getByTestId('crew')).toHaveText('Nobody else has this alignment open.');
    await page.getByRole('button', { name: 'Break off' }).click();
    await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
    expect(trouble).toEqual([]);
  },
);

/** What a browser does to a page that nobody sees: its timers go once a second, and it is not drawn. What sounds and what is said is noted. */
async function hide(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const [later, again] = [window.setTimeout, window.setInterval];
    const slow = (ms = 0): number => Math.max(1000, ms);
    Object.assign(window, {
      setTimeout: (work: () => void, ms?: number) => later(work, slow(ms)),
      setInterval: (work: () => void, ms?: number) => again(work, slow(ms)),
      requestAnimationFrame: () => 0,
    });
    Object.defineProperty(document, 'visibilityState', { get: () => 'hidden' });
    const notes: { at: number; hz: number; to: number }[] = [];
    const said: string[] = [];
    Object.assign(window, { notes, said });
    const { start } = OscillatorNode.prototype;
    OscillatorNode.prototype.start = function (this: OscillatorNode, at?: number) {
      notes.push({ at: at ?? 0, hz: 0, to: 0 });
      start.call(this, at);
    };
    window.speechSynthesis.speak = ({ text }) => void said.push(text);
  });
}

aimTest(
  'a page that nobody sees goes on sounding, and says what changes',
  { tag: ['@aim', '@record'] },
  async ({ context, misaim }) => {
    // What is put into a page stays in it.
    const page = await context.newPage();
    await hide(page);
    const linkId = await openAim(page, 'Ice works');
    await misaim(linkId, 2);
    await page.getByRole('button', { name: 'Begin to aim' }).click();
    await expect(page.getByTestId('aim-level')).toContainText(/−\d\d/);
    await page.getByRole('button', { name: 'tone off' }).click();
    await page.getByRole('button', { name: 'voice off' }).click();
    const notes = (): Promise<number[]> =>
      page.evaluate(() => (window as unknown as { notes: { at: number }[] }).notes.map(({ at }) => at));
    await expect.poll(async () => (await notes()).length).toBeGreaterThan(8);
    const at = await notes();
    const gaps = at.slice(2).map((s, i) => s - (at[i + 1] ?? 0));
    // While one turns a note comes every 0.45 s: timers that go once a second are not what it hangs on.
    expect(Math.max(...gaps.slice(0, 6))).toBeLessThan(0.7);
    const said = (): Promise<string[]> => page.evaluate(() => (window as unknown as { said: string[] }).said);
    await expect.poll(async () => (await said()).some((words) => words.startsWith('Turn'))).toBe(true);
    await page.getByRole('button', { name: 'voice on' }).click();
    const before = (await said()).length;
    await page
      .getByRole('button', { name: 'good by eye' })
      .or(page.getByRole('button', { name: 'why?' }))
      .first()
      .click();
    await page.waitForTimeout(2500);
    expect((await said()).length).toBe(before);
    await page.getByRole('button', { name: 'Break off' }).click();
    await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
  },
);

test(
  'the instrument school: predicted, ticked, read and judged within 3 dB',
  { tag: ['@aim', '@record'] },
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    await openAim(page, 'Ice works');
    await page.getByText('With a signal generator and an analyser instead').click();
    const school = page.getByRole('region', { name: 'With a signal generator and an analyser' });
    await expect(school.getByRole('list', { name: 'The twelve steps' }).getByRole('checkbox')).toHaveCount(12);
    await school.getByRole('textbox', { name: 'Span' }).fill('2');
    await expect(school.getByRole('alert')).toContainText('does not hold the band');
    await school.getByRole('textbox', { name: 'Span' }).fill('5');
    const predicted = Number(
      /(−?\d+\.\d) ?dBm/
        .exec((await school.getByText('Predicted at the analyser').textContent()) ?? '')?.[1]
        ?.replace('−', '-'),
    );
    await school.getByRole('checkbox').first().check();
    const read = async (off: number): Promise<void> => {
      for (const n of [1, 2, 3, 4])
        await school.getByRole('textbox', { name: `Reading ${n}` }).fill((predicted - off).toFixed(1));
    };
    await expect(school.getByTestId('path-verdict')).toContainText('4 readings are missing');
    await read(7);
    await expect(school.getByTestId('path-verdict')).toHaveAttribute('data-verdict', 'short');
    await read(1);
    await expect(school.getByTestId('path-verdict')).toHaveAttribute('data-verdict', 'clear');
    await expectAccessible(page);
    await school.getByRole('button', { name: 'Store the measurement' }).click();
    await expect(school.getByText(/1 of 12 steps ticked/)).toBeVisible();
    expect(trouble).toEqual([]);
  },
);
