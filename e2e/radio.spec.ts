import { expectAccessible } from './axe';
import { expect, testOver } from './server';
import { choose, loaded, watchForTrouble } from './support';

/** What is changed here other tests look at as it was. */
const test = testOver({ of: 'radio' });

test('a radio plan is tried, kept, compared and adopted', { tag: ['@radio', '@record'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  await page
    .getByRole('link', { name: /^Ice works, / })
    .first()
    .click();
  await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'radio' }).click();
  const power = page.getByRole('textbox', { name: 'Conducted power at the near end' });

  await test.step('a line opens to what it was computed from', async () => {
    const line = page.getByRole('button', { name: 'Free-space loss' }).first();
    await line.click();
    await expect(page.getByText('antenna to antenna')).toBeVisible();
    await expect(page.getByText('From: ITU-R P.525-4.')).toBeVisible();
    await line.click();
    await expect(page.getByText('antenna to antenna')).toBeHidden();
  });

  await test.step('milliwatts are caught, and what was likely meant is taken', async () => {
    await power.fill('12.6');
    await expect(page.getByText(/6 dB over the limit|37.6/).first()).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: 'fails, EIRP 1.6 dB over the limit' })).toBeVisible();
    await page.getByRole('button', { name: 'Save the plan' }).click();
    const asks = page.getByRole('dialog', { name: 'This is not allowed' });
    await expect(asks).toContainText('EIRP 1.6 dB over the limit');
    await asks.getByRole('button', { name: 'Go back and change it' }).click();
    await expect(asks).toBeHidden();
    await power.fill('100');
    await expect(page.getByText('100 mW are 20 dBm')).toBeVisible();
    await page.getByRole('button', { name: 'Take 20 dBm' }).click();
    await expect(power).toHaveValue('20');
    await expect(page.getByText('+9.0').first()).toBeVisible();
  });

  await test.step('the least power that does it is taken', async () => {
    await page.getByRole('button', { name: 'Take these powers' }).click();
    await expect(power).toHaveValue('0');
    await expect(page.getByRole('button', { name: 'Taken' })).toBeDisabled();
    await page.getByRole('button', { name: 'Back to what is saved' }).click();
    await expect(power).toHaveValue('11');
  });

  await test.step('harder rain takes minutes of the year', async () => {
    const rain = page.getByRole('slider', { name: /Rain exceeded/ });
    await rain.focus();
    for (let i = 0; i < 5; i++) await rain.press('ArrowRight');
    await expect(page.getByText('35 mm/h').first()).toBeVisible();
    // Weather is no choice: there is nothing to save.
    await expect(page.getByRole('button', { name: 'Save the plan' })).toBeDisabled();
    await page.getByRole('button', { name: 'Back to what is saved' }).click();
    await expect(page.getByText('30 mm/h').first()).toBeVisible();
  });

  await test.step('gear is ranked, tried, kept and compared', async () => {
    await page.getByText('Which gear?').click();
    await loaded(page);
    await expect(page.getByText(/of 9 models do it, the cheapest first/)).toBeVisible();
    const pane = page.getByRole('row', { name: /Pane 16/ });
    await expect(pane).toContainText('184 TSC');
    await expect(page.getByRole('row', { name: /Thread 460/ })).toContainText('needs a licensed pair');
    await pane.getByRole('button', { name: 'Brinmoor Pane 16' }).click();
    await expect(page.getByRole('heading', { name: 'What arrives at the far end' })).toBeVisible();
    await pane.getByRole('button', { name: 'Try it' }).click();
    await expect(page.getByText('−9.0').first()).toBeVisible();
    await page.getByText('Side by side').click();
    await page.getByRole('textbox', { name: 'Keep what is being tried as' }).fill('Small antennas');
    await page.getByRole('button', { name: 'Keep it' }).click();
    const table = page.getByRole('table').filter({ hasText: 'Gear, near and far' });
    await expect(table.getByRole('columnheader', { name: 'Small antennas' })).toBeVisible();
    await expect(table.getByRole('row', { name: /^Both radios cost/ })).toContainText('296 TSC');
    await expect(table.getByRole('row', { name: /^Both radios cost/ })).toContainText('184 TSC');
    await table.getByRole('button', { name: 'Level, far end' }).click();
    await expect(table.getByRole('row', { name: /^Antenna gain, receiving/ })).toContainText('−9.0');
    await page.getByRole('checkbox', { name: 'What is being tried' }).uncheck();
    await expect(table.getByRole('columnheader', { name: 'What is being tried' })).toBeHidden();
    await expectAccessible(page);
  });

  await test.step('and adopted: what was proven opens, and says why', async () => {
    await page.reload();
    await page.getByRole('button', { name: 'Make it the plan' }).click();
    await expect(page.getByRole('button', { name: 'Make it the plan' })).toBeDisabled();
    await page.getByText('The plan', { exact: true }).click();
    await expect(power).toHaveValue('20');
    await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'record' }).click();
    await expect(page.getByText(/changed since:/).first()).toBeVisible();
  });
  expect(trouble).toEqual([]);
});

test(
  'a hub follows what is tried on one of its links, and its power does for all',
  { tag: ['@prove', '@radio'] },
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    await page.goto('/');
    await page.getByRole('link', { name: /^Boat yard, / }).click();
    await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'radio' }).click();
    const other = page.getByRole('row', { name: /^Rope walk/ });
    await expect(other).toContainText('dBm');
    await expect(page.getByText('all that is needed takes 53 % of the time')).toBeVisible();
    await choose(page, 'Width', '40 MHz');
    await expect(page.getByText(/takes 29 % of the time, 53 % as it is planned/)).toBeVisible();
    await page.getByRole('button', { name: 'Back to what is saved' }).click();
    await expect(page.getByText(/as it is planned/)).toBeHidden();
    await page.getByRole('textbox', { name: 'Conducted power at the near end' }).fill('17');
    await expect(other.locator('.against').first()).toBeVisible();
    await expect(page.getByText('for Rope walk', { exact: true })).toBeVisible();
    // So faint that the station hears nothing: its need takes no time, which is no room.
    await page.getByRole('textbox', { name: 'Cable loss at the far end' }).fill('60');
    await expect(page.getByText(/^fails, the need of Boat yard does not cross/)).toBeVisible();
    await expectAccessible(page);
    expect(trouble).toEqual([]);
  },
);

test('needs are added up along the links, and plans take them over', { tag: ['@need'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  await page.getByRole('link', { name: 'Need', exact: true }).click();
  await expect(page.getByText('Powerline adapter at Net loft passes 18 Mbit/s')).toBeVisible();
  const loft = page.getByRole('group', { name: 'Net loft' });
  const row = page.getByRole('row', { name: /^Net loft/ });
  await expect(row).toContainText('39Mbit/s');

  await test.step('what is typed is added up at once, and a headline rate is doubted', async () => {
    await loft.getByRole('button', { name: '+ something else' }).click();
    await loft.getByRole('textbox', { name: 'Each, to the place' }).last().fill('867');
    await expect(loft.getByText(/is the rate on air that a box/)).toBeVisible();
    await loft.getByRole('button', { name: 'Take 607 Mbit/s' }).click();
    await expect(row).toContainText('570Mbit/s');
    await expect(row).toContainText('fails');
    await loft.getByRole('button', { name: 'Remove something else' }).click();
    await expect(row).toContainText('39Mbit/s');
  });

  await test.step('a megabyte is eight megabits', async () => {
    await loft.getByRole('button', { name: '+ IP camera' }).click();
    await loft.getByRole('combobox', { name: 'Typed in' }).last().click();
    await page.getByRole('option', { name: 'MByte/s' }).click();
    await loft.getByRole('textbox', { name: 'Each, from the place' }).last().fill('1');
    await expect(row).toContainText('10Mbit/s');
  });

  await test.step('a rate is read with its unit, and that is said', async () => {
    // The job comes late: what was just saved is read again meanwhile, and is no clash with what is typed.
    let letCome = (): void => undefined;
    const isTyped = new Promise<void>((resolve) => (letCome = resolve));
    await page.route(/\/api\/jobs\/[\da-f-]+$/, (route) => isTyped.then(() => route.continue()));
    const read = page.waitForResponse((answer) => answer.url().endsWith('/needs'));
    await loft.getByRole('button', { name: 'Save' }).click();
    await read;
    await loft.getByRole('textbox', { name: 'It passes' }).fill('3 MB/s');
    await expect(loft.getByText('3 MByte/s is 24 Mbit/s')).toBeVisible();
    await expect(loft.getByRole('alert')).toBeHidden();
    letCome();
    await loft.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Powerline adapter at Net loft passes 24 Mbit/s')).toBeVisible();
  });

  await test.step('a cable carries as a link does', async () => {
    await page.getByRole('textbox', { name: 'Cable', exact: true }).fill('quay fibre');
    await choose(page, 'From', 'Net loft');
    await choose(page, 'To', 'Rope walk');
    await page.getByRole('button', { name: 'Note it' }).click();
    await expect(page.getByText('quay fibre: Net loft to Rope walk')).toBeVisible();
    await page.getByRole('button', { name: 'Take the cable quay fibre away' }).click();
    await expect(page.getByText('quay fibre: Net loft')).toBeHidden();
  });

  await test.step('all links are planned by the sums', async () => {
    await page.getByRole('button', { name: /^Plan \d links by this/ }).click();
    await expect(page.getByRole('button', { name: 'All are planned by this' })).toBeDisabled();
  });
  expect(trouble).toEqual([]);
});

test('a licence and a local rule are noted, and plans go by them', { tag: ['@law', '@radio'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  await page.getByRole('link', { name: 'Law', exact: true }).click();
  await expect(page.getByText(/TSC 460-0117/)).toBeVisible();
  await expect(page.getByText(/days left/)).toBeVisible();
  await page.getByRole('button', { name: 'Note a rule' }).click();
  await page.getByRole('textbox', { name: 'From' }).fill('5470');
  await page.getByRole('textbox', { name: 'To', exact: true }).fill('5850');
  await page.getByRole('textbox', { name: 'EIRP at most' }).fill('30');
  await page.getByRole('button', { name: 'Save the rule' }).click();
  await expect(page.getByText('reason must be text of 10 to 500 characters')).toBeVisible();
  await page.getByRole('textbox', { name: 'What it is founded on' }).fill('Harbour order 7, since May 2026');
  await page.getByRole('button', { name: 'Save the rule' }).click();
  await expect(page.getByRole('paragraph').filter({ hasText: 'Harbour order 7, since May 2026' })).toBeVisible();
  await expect(page.getByText(/Restricts 5470 to 5850 MHz/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Links', exact: true }).click();
  // It comes with what the rule makes wrong: what was read before is shown until then, and moves from under a press.
  await page.getByRole('link', { name: 'Ice works, radio', exact: true }).click();
  await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'radio' }).click();
  await expect(page.getByText('EIRP 6.0 dB over the limit')).toBeVisible();
  await expect(page.getByText(/The limit: noted for this job: Harbour order 7/)).toBeVisible();
  expect(trouble).toEqual([]);
});
