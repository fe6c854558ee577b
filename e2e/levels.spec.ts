import type { HandsView } from '@kivram/contract/views/link';
import type { Page } from '@playwright/test';
import { aimTest, chooseLevel, endAndRead, openAim, pageOf } from './levelSupport';
import { demoFor, expect } from './server';
import { choose, watchForTrouble } from './support';

aimTest.use({ standinSpeed: 3, over: demoFor('levels') });

const turning = ['search', 'rising', 'past', 'turnBack', 'comeBack', 'moved', 'nextRow'];
const sides = { azimuth: { '1': 'right', '-1': 'left' }, tilt: { '1': 'up', '-1': 'down' } } as const;

/** What the words ask for now, for whoever does it at the near end. */
async function asked(page: Page): Promise<{ action: string; way: string; axis: 'azimuth' | 'tilt' }> {
  const told = await page.locator('.aim-words').evaluate((e) => ({ ...(e as HTMLElement).dataset }));
  const axis = told.axis as 'azimuth' | 'tilt';
  const action = told.end === 'near' ? (told.action ?? '') : 'finished';
  const way = turning.includes(action) ? (sides[axis][told.direction as '1' | '-1'] ?? '') : '';
  return { action, way, axis };
}

/** So far a hand turns before it looks at the scale again, degrees. */
const stepDeg = 0.5;

/** At once, as the notch is felt: a click that waits until the page has been still tells of it late on a busy machine. */
const tapButton = (page: Page, way: string): Promise<void> =>
  page.getByRole('button', { name: `notch ${way}`, exact: true }).dispatchEvent('click');

/** While the field for a level is empty, arrow keys belong to the notches, also where it has the focus. */
const tapArrow = (page: Page, way: string): Promise<void> =>
  page.keyboard.press(way === 'right' ? 'ArrowRight' : 'ArrowLeft');

/** Turns the near mount by some degrees, and taps each notch as it passes: by the way it goes and not by a clock, for a busy machine is no slow hand. */
async function turnAndTap(
  page: Page,
  linkId: string,
  axis: 'azimuth' | 'tilt',
  way: string,
  byDeg: number,
  tap = tapButton,
): Promise<void> {
  const sign = way === 'right' || way === 'up' ? 1 : -1;
  const notchOf = ({ near, notchDeg }: HandsView): number =>
    Math.floor(near[axis === 'azimuth' ? 'azimuthDeg' : 'tiltDeg'] / notchDeg.near[axis]);
  let notch = notchOf((await (await page.request.get(`/api/standin/links/${linkId}/hands`)).json()) as HandsView);
  for (let turned = 0; turned < byDeg; turned += stepDeg) {
    // The words have gone on to the other axis meanwhile: there is nothing more to turn here.
    if ((await asked(page)).axis !== axis) return;
    const step = { end: 'near', axis, byDeg: sign * stepDeg };
    const hands = await page.request.post(`/api/standin/links/${linkId}/turns`, { data: step });
    for (const now = notchOf((await hands.json()) as HandsView); notch !== now; notch += sign) await tap(page, way);
  }
}

aimTest(
  'aiming by levels that are typed, with the scale on the mount',
  { tag: ['@aim', '@record'] },
  async ({ page, misaim }) => {
    const trouble = watchForTrouble(page);
    const linkId = await openAim(page, 'Ice works');
    // The demo has aimed it.
    await misaim(linkId, 3);
    await chooseLevel(page, 'near', /typed by hand/);
    await page.getByRole('button', { name: 'Read by this' }).click();
    await choose(page, 'How the angle is known at the near end', /the scale on the mount/);
    await page.getByRole('button', { name: 'Begin to aim' }).click();
    const words = page.locator('.aim-words');
    await expect(words).toHaveText('Type the level that the radio shows');
    const keys = page.getByRole('form', { name: 'Level read off the radio at the near end' });
    await keys.getByRole('button', { name: 'tell' }).click();
    await expect(keys.getByRole('alert')).toContainText('Type the level that the radio shows');
    await keys.getByRole('textbox').fill('6x');
    await keys.getByRole('button', { name: 'tell' }).click();
    await expect(keys.getByRole('alert')).toContainText('6x');
    await keys.getByRole('button', { name: 'rub out' }).click();
    for (const key of ['0', 'tell']) await keys.getByRole('button', { name: key, exact: true }).click();
    await expect(page.getByTestId('aim-level')).toContainText('−60');

    const type = async (): Promise<void> => {
      const { rslDbm } = await pageOf(page, linkId);
      if (rslDbm === null) return keys.getByRole('button', { name: 'nothing' }).click();
      const field = keys.getByRole('textbox');
      await field.fill(String(Math.round(-rslDbm)));
      await field.press('Enter');
      await expect(field).toHaveValue('');
      await expect(field).toBeFocused();
    };
    // So far that the words have seen the peak go by in what was typed. To the end it is aimed by simulated people (standin/test/typist) and in the walk.
    let seen = '';
    for (let i = 0; i < 60 && seen !== 'past'; i++) {
      const { action, way, axis } = await asked(page);
      seen = action;
      if (way) await turnAndTap(page, linkId, axis, way, 1, tapArrow);
      await type();
      // Nobody reads and types faster.
      await page.waitForTimeout(250);
    }
    expect(seen).toBe('past');
    await expect(words).toHaveAttribute('data-axis', 'azimuth');
    const alignment = await endAndRead(page, linkId);
    expect(alignment.marks.filter(({ kind }) => kind === 'notch').length).toBeGreaterThan(2);
    expect(alignment.levelsFrom[0]).toMatchObject({ end: 'near', way: 'typed' });
    expect(trouble).toEqual([]);
  },
);

aimTest('aiming by a table that is pasted, turn by turn', { tag: ['@aim'] }, async ({ page, misaim }) => {
  const trouble = watchForTrouble(page);
  const linkId = await openAim(page, 'Ice works');
  // The demo has aimed it.
  await misaim(linkId, 3);
  await chooseLevel(page, 'near', /a pasted table/);
  await page.getByRole('button', { name: 'Read by this' }).click();
  await choose(page, 'How the angle is known at the near end', /the scale on the mount/);
  await page.getByRole('button', { name: 'Begin to aim' }).click();
  const form = page.getByRole('form', { name: 'Table of levels at the near end' });
  await form.getByRole('textbox', { name: /with their times/ }).fill('noon,-60');
  await form.getByRole('button', { name: 'Take the table' }).click();
  await expect(form.getByRole('alert')).toContainText('"noon" is no time');
  await page.getByText('what it has noted, a line a second').click();
  const noted = page.getByRole('textbox', { name: 'What the near radio has noted' });
  const paste = async (): Promise<void> => {
    await expect(noted).not.toHaveValue('');
    await form.getByRole('textbox', { name: /with their times/ }).fill(await noted.inputValue());
    await form.getByRole('button', { name: 'Take the table' }).click();
    await expect(form.getByRole('status')).toContainText('taken');
  };
  // A table is pasted some seconds after what it tells of: the words may be further by then.
  let seen = '';
  const isPast = (): boolean => ['past', 'turnBack', 'comeBack'].includes(seen);
  for (let i = 0; i < 12 && !isPast(); i++) {
    const { action, way, axis } = await asked(page);
    seen = action;
    if (way) await turnAndTap(page, linkId, axis, way, 3);
    await paste();
  }
  expect(isPast(), seen).toBe(true);
  // A level that is older than the last turn does not stand: once more, with what came after it.
  const before = await noted.inputValue();
  await expect(noted).not.toHaveValue(before);
  await paste();
  const alignment = await endAndRead(page, linkId);
  expect(alignment.marks.filter(({ kind }) => kind === 'notch').length).toBeGreaterThan(2);
  expect(alignment.levelsFrom[0]).toMatchObject({ end: 'near', way: 'table' });
  expect(trouble).toEqual([]);
});
