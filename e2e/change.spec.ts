import { expectAccessible } from './axe';
import { expect, testOver } from './server';
import { choose, watchForTrouble } from './support';

/** What is changed here other tests look at as it was. */
const test = testOver({ of: 'change' });

test(
  'links are renamed, given other gear, removed with what hangs on them, and brought back',
  { tag: ['@about-link', '@map', '@prove', '@record', '@timeline'] },
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    await page.goto('/');
    await page.getByRole('link', { name: /^Ice works, / }).click();
    await expect(page.getByText('proven').or(page.locator('.wire')).first()).toBeVisible();
    await page.getByRole('link', { name: 'change the link' }).click();

    await test.step('other gear: what it changes is shown before it is saved', async () => {
      const far = page.getByRole('group', { name: /^Far end/ });
      await choose(far, 'Gear', /Pane 16/);
      const table = page.getByRole('table').filter({ hasText: 'Margin before it drops' });
      await expect(table.getByRole('row', { name: /Level at the near end/ })).toContainText('dBm');
      await page.getByRole('textbox', { name: 'Name of the link' }).fill('Ice works, north');
      await far.getByRole('textbox', { name: 'Hardware address' }).fill('no address');
      await page.getByRole('button', { name: 'Save the link' }).click();
      await expect(far.getByText('must be a hardware address like')).toBeVisible();
      await far.getByRole('textbox', { name: 'Hardware address' }).fill('02:4b:69:77:00:77');
      await far.getByRole('textbox', { name: 'Note' }).fill('behind the compressor');
      await expectAccessible(page);
      await page.getByRole('button', { name: 'Save the link' }).click();
      await expect(page.getByRole('heading', { level: 1, name: /Ice works, north/ })).toBeVisible();
      await page.keyboard.press('7');
      await expect(page.getByText(/changed since:/).first()).toBeVisible();
    });

    await test.step('measured ends are not exchanged, and why', async () => {
      await page.getByRole('link', { name: 'change the link' }).click();
      await page.getByRole('button', { name: 'Exchange near and far' }).click();
      await expect(page.getByText(/all of that is told by near and far/)).toBeVisible();
    });

    await test.step('a removal says what goes, and is undone from the timeline', async () => {
      await page.getByRole('button', { name: 'Remove the link' }).click();
      const dialog = page.getByRole('dialog');
      await expect(dialog.getByText(/revisions? of settings/)).toBeVisible();
      await expect(dialog.getByText(/\d+ readings/)).toBeVisible();
      await expectAccessible(page);
      await dialog.getByRole('button', { name: 'Remove it' }).click();
      await expect(page).toHaveURL(/timeline$/);
      await expect(page.getByText('Removed the link Ice works, north')).toBeVisible();
      // Who goes back to it is told, and not shown what was read before.
      await page.goBack();
      await expect(page.getByRole('alert')).toContainText('There is no such link');
      await expect(page.getByRole('heading', { name: 'Ice works, north' })).toBeHidden();
      await expect(page.getByRole('link', { name: 'All jobs' })).toHaveAttribute('href', '/jobs');
      await page.goForward();
      await page.getByRole('button', { name: 'Bring it back' }).first().click();
      await expect(page.getByText('Brought back the link Ice works, north')).toBeVisible();
      await expect(page.getByText('(brought back since)')).toBeVisible();
    });

    await test.step('what came back is found by a piece of its hardware address, and is as it was', async () => {
      await page.keyboard.press('/');
      const bar = page.getByRole('combobox', { name: 'Find and go' });
      await bar.fill('69770077');
      await expect(page.getByRole('listbox', { name: 'What is called so' }).getByRole('option')).toHaveCount(1);
      await bar.press('Enter');
      await expect(page.getByRole('group', { name: /^Far end/ }).getByRole('textbox', { name: 'Note' })).toHaveValue(
        'behind the compressor',
      );
      await page.keyboard.press('Escape');
      await page.keyboard.press('Control+k');
      await bar.fill('ice works pro');
      await expect(page.getByRole('option', { name: /Ice works, north link, prove/ })).toBeVisible();
      await expectAccessible(page);
      await bar.press('Enter');
      await expect(page).toHaveURL(/prove$/);
      await expect(page.getByText('Mbit/s').first()).toBeVisible();
    });

    await test.step('a place goes with its links only when that is said', async () => {
      await page.keyboard.press('/');
      await page.getByRole('combobox', { name: 'Find and go' }).fill('Rope walk');
      await page.getByRole('option', { name: /Rope walk place/ }).click();
      await expect(page.getByRole('textbox', { name: 'Name' })).toHaveValue('Rope walk');
      await page.getByRole('button', { name: 'Remove', exact: true }).click();
      await expect(page.getByRole('dialog').getByText(/1 link/)).toBeVisible();
      await page.getByRole('dialog').getByRole('button', { name: 'Remove all of it' }).click();
      await page.getByRole('link', { name: 'Timeline' }).click();
      await expect(page.getByText('Removed the place Rope walk')).toBeVisible();
      await page.getByRole('button', { name: 'Bring it back' }).first().click();
      await expect(page.getByText('Brought back the place Rope walk')).toBeVisible();
    });
    expect(trouble).toEqual([]);
  },
);

test(
  'a wood is put down corner by corner, given another shape, and taken away again',
  { tag: ['@map'] },
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    await page.goto('/');
    await page.getByRole('link', { name: 'Map', exact: true }).click();
    const map = page.getByRole('application', { name: /^Map/ });
    await expect(map).toBeVisible();
    await page.getByRole('button', { name: 'Note something in the way' }).click();
    for (const position of [
      { x: 300, y: 430 },
      { x: 420, y: 430 },
      { x: 360, y: 520 },
    ])
      await map.click({ position });
    await page.getByRole('button', { name: 'Done' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByText('all that they go round').click();
    await expect(dialog.getByRole('textbox', { name: 'Width' })).toHaveCount(0);
    await dialog.getByRole('textbox', { name: /^Name/ }).fill('the copse');
    await dialog.getByRole('button', { name: 'Note it' }).click();
    await expect(page.getByText(/^the copse,/)).toBeVisible();

    await page.getByRole('button', { name: 'Reshape the copse' }).click();
    const corner = page.getByRole('textbox', { name: 'Position of corner 2' });
    await corner.fill('33.42 N, somewhere');
    await corner.press('Enter');
    await expect(corner).toHaveAttribute('aria-invalid', 'true');
    await corner.fill('33.4201, -37.8402');
    await corner.press('Enter');
    await expect(page.getByRole('button', { name: 'Remove corner 3' })).toHaveCount(0);
    await map.click({ position: { x: 200, y: 300 } });
    await expect(page.getByRole('textbox', { name: 'Position of corner 4' })).toBeVisible();
    // Nothing else begins over corners that are not saved, by key or by button.
    await page.getByRole('heading', { name: 'Its shape' }).click();
    await page.keyboard.press('a');
    await page.keyboard.press('o');
    await expect(page.getByRole('button', { name: 'Reshape the copse' })).toBeDisabled();
    await expect(page.getByRole('button', { name: 'Done' })).toHaveCount(0);
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Save the shape' }).click();
    await page.getByRole('button', { name: 'Reshape the copse' }).click();
    await expect(corner).toHaveValue('33.420100, -37.840200');
    await expect(page.getByRole('button', { name: 'Remove corner 4' })).toBeVisible();
    await page.getByRole('button', { name: 'Leave it as it was' }).click();
    expect(trouble).toEqual([]);
  },
);
