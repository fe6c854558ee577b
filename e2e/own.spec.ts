import type { Page } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { expectAccessible } from './axe';
import { expect, testOver } from './server';
import { choose, loaded, watchForTrouble } from './support';

/** As `npm start` begins: no jobs, no gear, no laws but those of real countries. */
const test = testOver({ of: 'own', template: 'template0', demo: false });

const group = (page: Page, name: string) => page.getByRole('group', { name, exact: true });

/** Goes on to stations of a hub once the link that was planned last is on the screen: what was read before is shown until then, and moves from under a press. */
async function planAnother(page: Page, last: string): Promise<void> {
  await expect(page.getByText(last, { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Plan a new link' }).click();
  await page.getByText('a hub with stations', { exact: true }).click();
}

/** What a person types of a station of a hub. */
async function typeStation(page: Page, number: number, name: string, position: string): Promise<void> {
  const station = group(page, `Station ${number}`);
  await station.getByRole('textbox', { name: 'Name of the link' }).fill(`To the ${name}`);
  await station.getByRole('textbox', { name: 'Name of the place' }).fill(name);
  await station.getByRole('textbox', { name: 'Latitude' }).fill(position);
  await station.getByRole('textbox', { name: 'Ground above sea level' }).fill('25');
}

test(
  "a job of one's own: from an empty database to a judged plan, by hand",
  { tag: ['@about-job', '@bench', '@catalogue', '@jobs', '@network', '@new-job', '@new-link', '@path', '@spec'] },
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    await page.goto('/');

    await test.step('the first start opens on a new job, which says what it lacks', async () => {
      await expect(page.getByRole('heading', { name: 'Your first job' })).toBeVisible();
      await page.getByRole('button', { name: 'Begin the job' }).click();
      await expect(page.getByText('What is the job called?')).toBeVisible();
      await page.getByRole('textbox', { name: 'Name of the job' }).fill('Mill farm');
      await page.getByRole('textbox', { name: 'Customer' }).fill('J. Miller');
      await page.getByRole('textbox', { name: 'Your name' }).fill('Ada Lowe');
      await page.getByRole('combobox', { name: 'Country' }).fill('Antarc');
      await page.getByRole('option', { name: /Antarctica/ }).click();
      await page.getByRole('textbox', { name: 'First place' }).fill('Farm house');
      await page.getByRole('textbox', { name: 'Its position' }).fill('38.71, -9.14');
      await page.getByRole('textbox', { name: 'Ground above sea level' }).fill('20');
      await expectAccessible(page);
      await page.getByRole('button', { name: 'Begin the job' }).click();
      await expect(page.getByRole('heading', { name: 'The first three things to do' })).toBeVisible();
      await expect(page.getByText('1 place so far')).toBeVisible();
      await expect(page.getByRole('combobox', { name: 'Who is working' })).toHaveValue(/.+/);
    });

    await test.step('its network, with devices pasted out of a spreadsheet, and what is wrong with it said at its row', async () => {
      await page.getByRole('link', { name: 'Say what the network is' }).first().click();
      await page.getByRole('button', { name: 'Add the subnet' }).click();
      await page.getByRole('textbox', { name: 'Address and mask' }).fill('10.20.0.0/24');
      await page.getByRole('textbox', { name: 'Router' }).fill('10.21.0.1');
      await expect(page.getByText('The router 10.21.0.1 is no device of 10.20.0.0/24')).toBeVisible();
      await page.getByRole('textbox', { name: 'Router' }).fill('10.20.0.1');
      await page.getByRole('textbox', { name: 'DHCP hands out' }).fill('10.20.0.100-199');
      await page.getByRole('button', { name: 'Add a device' }).click();
      const table = 'Device\tIP\tType\nrouter\t10.20.0.1\trouter\nyard camera\t10.20.0.21\tcamera\n';
      await page.getByRole('textbox', { name: 'Name of device 1' }).evaluate((field, text) => {
        const data = new DataTransfer();
        data.setData('text', text);
        field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
      }, table);
      await expect(page.getByRole('textbox', { name: 'Address of device 2', exact: true })).toHaveValue('10.20.0.21');
      await page.getByRole('textbox', { name: 'From the feed to the site' }).fill('200');
      await page.reload();
      await expect(page.getByRole('textbox', { name: 'Address of device 2', exact: true })).toHaveValue('10.20.0.21');
      await expectAccessible(page);
      await page.getByRole('button', { name: 'Save the network' }).click();
      await expect(page.getByText('Saved.')).toBeVisible();
    });

    await test.step('its gear: a spec sheet with a pattern file, and milliwatts noticed', async () => {
      await page.getByRole('link', { name: 'Links', exact: true }).click();
      await page.getByRole('link', { name: /Put the spec sheet/ }).click();
      await page.getByRole('textbox', { name: 'Maker' }).fill('Marten');
      await page.getByRole('textbox', { name: 'Model', exact: true }).fill('M 16');
      await page.getByRole('textbox', { name: 'Most power' }).fill('200');
      await expect(page.getByText('200 mW are 23 dBm')).toBeVisible();
      await page.getByRole('button', { name: 'Take it so' }).click();
      await page.getByRole('textbox', { name: 'Antenna gain' }).fill('16');
      await page.getByRole('textbox', { name: 'Beam, left to right' }).fill('60');
      await page.getByRole('textbox', { name: 'Beam, up and down' }).fill('12');
      await page
        .getByLabel('Pattern file')
        .setInputFiles({ name: 'no.txt', mimeType: 'text/plain', buffer: Buffer.from('az,0') });
      await expect(page.getByText(/no.txt: .*cut has 0 points|no.txt: Line 1/)).toBeVisible();
      const cut = (name: string, width: number): string[] =>
        [-180, -width, -width / 2, 0, width / 2, width, 180].map(
          (a) => `${name},${a},${-Math.min(25, 12 * (a / width) ** 2)}`,
        );
      await page.getByLabel('Pattern file').setInputFiles({
        name: 'm16.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from([...cut('azimuth', 60), ...cut('elevation', 12)].join('\n')),
      });
      await expect(page.getByRole('img', { name: 'Pattern left to right' })).toBeVisible();
      await page.getByRole('textbox', { name: 'Better than the standard by' }).fill('8');
      await page.getByRole('button', { name: 'Fill in from the standard' }).click();
      await expectAccessible(page);
      await page.getByRole('button', { name: 'Put it into the catalogue' }).click();
      await expect(page.getByRole('link', { name: 'Marten M 16' })).toBeVisible();
    });

    await test.step('a pair, then a hub with two stations at once, then one more', async () => {
      await page.goto('/');
      await page.getByRole('link', { name: 'Plan the first link' }).click();
      const [near, far] = [group(page, 'Near end, with the feed'), group(page, 'Far end')];
      await page.getByRole('textbox', { name: 'Name of the link' }).fill('To the pump');
      await choose(near, 'Place', 'Farm house');
      await choose(near, 'Model', /M 16/);
      await far.getByRole('textbox', { name: 'Name of the place' }).fill('Pump');
      await far.getByRole('textbox', { name: 'Latitude' }).fill('38.705, -9.14');
      await far.getByRole('textbox', { name: 'Ground above sea level' }).fill('20');
      await choose(far, 'Model', /M 16/);
      await choose(page, 'Channel width', '20 MHz');
      await choose(page, 'Channel', /5785/);
      await expect(page.getByText('the rules of AQ are not known here: look them up')).toBeVisible();
      await page.getByRole('button', { name: 'Plan this link' }).click();
      await expect(page).toHaveURL(/path$/);

      await page.goto('/');
      await planAnother(page, 'To the pump');
      await choose(group(page, 'The hub'), 'Place', 'Farm house');
      await choose(group(page, 'The hub'), 'Model', /M 16/);
      await choose(group(page, 'Station 1'), 'Model', /M 16/);
      await typeStation(page, 1, 'Barn', '38.715, -9.14');
      await page.getByRole('button', { name: 'Add a station' }).click();
      await typeStation(page, 2, 'Byre', '38.713, -9.137');
      await choose(page, 'Channel width', '40 MHz');
      await choose(page, 'Channel', /5510/);
      await expect(page.getByText(/apart\. Level near/)).toHaveCount(2);
      await expectAccessible(page);
      await page.getByRole('button', { name: 'Plan these 2 links' }).click();

      await planAnother(page, 'To the Byre');
      await choose(group(page, 'The hub'), 'Place', /the radio at Farm house, on 5510/);
      await choose(group(page, 'Station 1'), 'Model', /M 16/);
      await typeStation(page, 1, 'Shed', '38.714, -9.1385');
      await expect(page.getByText(/On the air of the radio that it joins: 5510 MHz/)).toBeVisible();
      await page.getByRole('button', { name: 'Plan this link' }).click();
      await expect(page).toHaveURL(/path$/);
    });

    await test.step('the plan is judged, and what cannot be judged is said', async () => {
      await page.goto('/');
      await expect(page.getByText(/no terrain is known: look along it/).first()).toBeVisible();
      await expect(page.getByText(/the rules of this country are not known here/).first()).toBeVisible();
      await expect(page.locator('.job-link')).toHaveCount(4);
      await page.getByRole('link', { name: /^To the Barn, not done/ }).click();
      await page.keyboard.press('3');
      await page.getByRole('button', { name: /Propose/ }).click();
      await expect(page.getByRole('textbox', { name: /Address/ }).first()).toHaveValue(/^10\.20\.0\.2\d\d$/);
    });

    await test.step('it is renamed, copied, put away, and removed by its name', async () => {
      await page.goto('/');
      await page.getByRole('link', { name: 'The job itself' }).click();
      await page.getByRole('textbox', { name: 'Name of the job' }).fill('Mill farm, north');
      await page.getByRole('button', { name: 'Save', exact: true }).click();
      await expect(page.getByRole('heading', { level: 1, name: 'Mill farm, north' })).toBeVisible();
      await expectAccessible(page);
      await page.goto('/jobs/new');
      await page.getByRole('textbox', { name: 'Name of the job' }).fill('Mill farm, again');
      await page.getByRole('combobox', { name: 'Country' }).fill('Spai');
      await page.getByRole('option', { name: /Spain/ }).click();
      await choose(page, 'Begin with the plan of', /north/);
      await page.getByRole('button', { name: 'Begin the job' }).click();
      await expect(page.locator('.job-link')).toHaveCount(4);
      await page.getByRole('link', { name: 'The job itself' }).click();
      await page.getByRole('button', { name: 'Put the job away' }).click();
      // A page that is left before the answer has come may not have sent it.
      await expect(page.getByRole('heading', { name: 'It is put away' })).toBeVisible();
      await page.goto('/jobs');
      await page.getByText('Put away: 1').click();
      await page.getByRole('link', { name: 'Mill farm, again' }).click();
      await page.getByRole('link', { name: 'The job itself' }).click();
      const remove = page.getByRole('button', { name: 'Remove the job' });
      await expect(remove).toBeDisabled();
      await page.getByRole('textbox', { name: 'To be sure, type its name' }).fill('Mill farm, again');
      await remove.click();
      await expect(page).toHaveURL(/\/jobs$/);
      await expect(page.getByRole('link', { name: 'Mill farm, north' })).toBeVisible();
      await expect(page.getByText('Mill farm, again')).toHaveCount(0);
    });
    await loaded(page);
    expect(trouble).toEqual([]);
  },
);

test(
  'a catalogue is compared side by side, changed in revisions, and read from a file row by row',
  { tag: ['@catalogue', '@spec'] },
  async ({ page }, info) => {
    await page.goto('/catalogue/new');
    for (const name of ['A', 'B']) {
      await page.goto('/catalogue/new');
      await page.getByRole('textbox', { name: 'Maker' }).fill('Otter');
      await page.getByRole('textbox', { name: 'Model', exact: true }).fill(name);
      await page.getByRole('textbox', { name: 'Most power' }).fill(name === 'A' ? '20' : '24');
      await page.getByRole('textbox', { name: 'Antenna gain' }).fill('16');
      await page.getByRole('textbox', { name: 'Beam, left to right' }).fill('25');
      await page.getByRole('textbox', { name: 'Beam, up and down' }).fill('25');
      await page.getByRole('button', { name: 'Put it into the catalogue' }).click();
      await expect(page.getByRole('link', { name: `Otter ${name}` })).toBeVisible();
    }
    for (const name of ['A', 'B']) await page.getByRole('checkbox', { name: `Compare Otter ${name}` }).check();
    const table = page.getByRole('region', { name: 'Spec sheets side by side' });
    await expect(table.getByRole('row', { name: /^Power/ })).toContainText('≠');
    await expect(table.getByRole('row', { name: /^Antenna gain/ })).not.toContainText('≠');
    await expectAccessible(page);

    await page.getByRole('link', { name: 'Otter B' }).click();
    await page.getByRole('textbox', { name: 'Most power' }).fill('50');
    await expect(page.getByText('50 mW are 17 dBm')).toBeVisible();
    await page.getByRole('textbox', { name: 'Most power' }).fill('23');
    await page.getByRole('button', { name: 'Save as revision 2' }).click();
    await expect(page.getByText(/^Revision 2\./)).toBeVisible();

    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Catalogue of gear' }).click();
    await page.getByRole('link', { name: 'Export the catalogue' }).click();
    const file = info.outputPath('gear.json');
    await (await download).saveAs(file);
    const broken = info.outputPath('broken.json');
    writeFileSync(
      broken,
      JSON.stringify({ format: 'kivram-gear', formatVersion: 1, models: [{ maker: 'Otter', name: 'C' }] }),
    );
    await page.getByLabel('Files of spec sheets').setInputFiles([file, broken]);
    await expect(page.getByText(/gear.json: 0 new, 0 as a next revision, \d known already, 0 refused/)).toBeVisible();
    await expect(page.getByText(/Otter C: .*is missing/)).toBeVisible();
  },
);
