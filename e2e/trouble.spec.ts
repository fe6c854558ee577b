import { copyDatabase } from '../scripts/lib/databases.mjs';
import { startServer, stopServer } from '../scripts/lib/server.mjs';
import { expectAccessible } from './axe';
import { databaseUrl as anyDatabase, expect, templateName, test } from './server';
import { choose, goToStep } from './support';

test(
  'bad input is named with its repair, and nothing that was typed is lost',
  { tag: ['@new-link'] },
  async ({ page }) => {
    await page.goto('/');
    await expect(page.getByRole('heading', { name: 'Tessary harbour' })).toBeVisible();
    await page.keyboard.press('n');
    await page.getByRole('button', { name: 'Plan this link' }).click();
    for (const words of [
      'The link needs a name',
      'The place needs a name',
      'Choose a model',
      'Choose a width',
      'it is empty',
    ]) {
      await expect(page.getByText(words).first()).toBeVisible();
    }
    await expectAccessible(page);
    const far = page.getByRole('group', { name: 'Far end' });
    await page.getByRole('textbox', { name: 'Name of the link' }).fill('Second ice works');
    await choose(page.getByRole('group', { name: /Near end/ }), 'Place', 'Ferry office');
    await choose(far, 'Place', 'Ferry office');
    for (const end of [page.getByRole('group', { name: /Near end/ }), far]) await choose(end, 'Model', /Pane 16/);
    await choose(page, 'Channel width', '40 MHz');
    await choose(page, 'Channel', /5755 MHz/);
    await page.getByRole('button', { name: 'Plan this link' }).click();
    await expect(page.getByRole('alert')).toContainText('Both ends are at the same place');
    await expect(page.getByRole('textbox', { name: 'Name of the link' })).toHaveValue('Second ice works');
  },
);

test(
  'a server that does not answer is told as such, and a change can be repeated',
  { tag: ['@bench'] },
  async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: /^Quay crane: / }).click();
    await page.getByRole('button', { name: 'Propose both sheets' }).click();
    await expect(page.getByRole('region', { name: 'Will they pair?' })).toContainText('Yes');
    const name = page.getByRole('textbox', { name: 'Device name, near end' });
    await name.fill('crane-foot');
    await page.route('**/sheets', (route) => route.abort());
    await page.getByRole('button', { name: 'Save both sheets' }).click();
    await expect(page.getByRole('alert')).toContainText('does not answer');
    await expect(name).toHaveValue('crane-foot');
    await page.unroute('**/sheets');
    await page.keyboard.press('s');
    await expect(page.getByRole('button', { name: 'Save both sheets' })).toBeDisabled();
    await expect(name).toHaveValue('crane-foot');
    await expect(page.getByRole('button', { name: 'Let the stand-in pair try' })).toBeEnabled();
    await page.keyboard.press('t');
    await expect(page.getByRole('region', { name: 'What the stand-in radios did' })).toContainText(
      'the link carries the network',
    );
  },
);

test(
  'a stylesheet that is lost on the way is asked for until it comes',
  { tag: ['@jobs', '@mount'] },
  async ({ page }) => {
    let lost = 0;
    await page.route('**/assets/index-*.css', (route) => (lost++ < 2 ? route.abort() : route.continue()));
    await page.goto('/jobs');
    await expect(page.getByRole('button', { name: 'Show the keys' })).toHaveCSS('min-height', '44px');
    expect(lost).toBe(3);
    // A screen with styles of its own comes all the same.
    await page.goto('/');
    await page.getByRole('link', { name: /^Quay crane: / }).click();
    const link = page.getByRole('heading', { level: 1, name: /^Quay crane/ });
    await expect(link).toBeVisible();
    lost = 0;
    await page.reload();
    await expect(link).toBeVisible();
    await expect(page.getByRole('button', { name: 'Show the keys' })).toHaveCSS('min-height', '44px');
  },
);

test('files that are no tests and no jobs are refused in words', { tag: ['@jobs', '@prove'] }, async ({ page }) => {
  await page.goto('/jobs');
  const bring = (name: string, text: string) =>
    page.getByLabel('Job file').setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  await bring('half.json', '{"format": "kivram-job",');
  await expect(page.getByRole('alert')).toContainText('The file is not complete JSON');
  await bring('other.json', '{"format": "something"}');
  await expect(page.getByRole('alert')).toContainText('no Kivram job');
  await page.goto('/');
  await page.getByRole('link', { name: 'Slipway store, prove' }).click();
  for (const [text, words] of [
    ['[ ID] Interval           Transfer     Bitrate', "iperf3's text output"],
    ['', 'The file is empty'],
    ['{"start": {}}', 'no "start" and "intervals"'],
  ] as const) {
    await page
      .getByLabel('iperf3 file')
      .setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from(text) });
    await expect(page.getByRole('alert')).toContainText(words);
  }
});

test(
  'aiming a mount by its scale: the installer taps a notch whenever one passes',
  { tag: ['@aim', '@bench', '@record'] },
  async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: 'Net loft, bench' }).click();
    await goToStep(page, '5');
    await choose(page, 'How the angle is known at the near end', /the scale on the mount/);
    await page.getByRole('button', { name: 'Begin to aim' }).click();
    const scale = page.locator('.hands .figure');
    const reading = async (): Promise<number> =>
      Number(/left-right (-?[\d.]+)/.exec(((await scale.textContent()) ?? '').replace('−', '-'))?.[1]);
    const words = page.locator('.aim-words');
    // The view grows once the radios answer; only then does the button stay under the pointer.
    await expect(page.getByTestId('aim-level')).toContainText('dBm');
    await expect(page.getByRole('img', { name: 'Level over the angle turned' })).toBeVisible();
    await page.getByRole('button', { name: 'turn right' }).hover();
    let notch = Math.floor((await reading()) / 5);
    await page.mouse.down();
    for (let taps = 0; taps < 4;) {
      const here = Math.floor((await reading()) / 5);
      if (here > notch) {
        notch = here;
        taps++;
        await page.keyboard.press('ArrowRight');
      }
      await page.waitForTimeout(50);
    }
    await page.mouse.up();
    await expect(words).toHaveAttribute('data-axis', 'azimuth');
    await page.getByRole('button', { name: 'why?' }).click();
    await expect(
      page.getByText(
        /The first maximum may be a side lobe|the first maximum may be a side lobe|Both flanks|One more stroke/,
      ),
    ).toBeVisible();
    await expect(words).toHaveAttribute('data-action', /rising|past|turnBack/);
    await page.getByRole('button', { name: 'Break off' }).click();
    await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
    await goToStep(page, '7');
    await expect(page.getByText('Broke off aiming; the readings are kept')).toBeVisible();
  },
);

test(
  'a level that is no longer true is covered, with the reason, until readings come again',
  { tag: ['@aim'] },
  async ({ page }) => {
    const databaseUrl = copyDatabase(anyDatabase, templateName);
    let server = await startServer({ databaseUrl });
    const address = `http://127.0.0.1:${server.port}`;
    await page.goto(address);
    await page
      .getByRole('link', { name: /Gauge hut, / })
      .first()
      .click();
    await goToStep(page, '5');
    await page.getByRole('button', { name: 'Begin to aim' }).click();
    const level = page.getByTestId('aim-level');
    const covered = async (): Promise<void> => {
      await expect(level).toContainText('––');
      await expect(page.getByText('No reading comes. The level is not known now.')).toBeVisible();
    };
    await expect(level).toContainText(/\d/);

    await test.step('while the server stands still', async () => {
      server.child.kill('SIGSTOP');
      await covered();
      server.child.kill('SIGCONT');
      await expect(level).toContainText(/\d/);
    });

    await test.step('while it is gone; the page says so, and goes on with the next one', async () => {
      server.child.kill('SIGKILL');
      await covered();
      await expect(page.getByText('The Kivram server does not answer.').first()).toBeVisible();
      await expectAccessible(page);
      server = await startServer({ databaseUrl, port: server.port });
      await expect(level).toContainText(/\d/);
      await expect(page.getByText('The Kivram server does not answer.')).toHaveCount(0);
    });

    await test.step('an alignment that is ended elsewhere ends here too', async () => {
      const linkId = page.url().split('/links/')[1]?.split('/')[0] ?? '';
      await page.evaluate(async (id) => {
        const [latest] = (await (await fetch(`/api/links/${id}/alignments`)).json()) as { id: string }[];
        await fetch(`/api/alignments/${latest?.id}/abandon`, { method: 'POST' });
      }, linkId);
      await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
    });
    await stopServer(server.child);
  },
);
