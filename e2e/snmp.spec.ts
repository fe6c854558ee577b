import type { AlignmentView } from '@kivram/contract/views/alignment';
import type { HandsView } from '@kivram/contract/views/link';
import { expectAccessible } from './axe';
import { aimTest, chooseLevel, endAndRead, openAim, readRunning } from './levelSupport';
import { expect } from './server';
import { choose, followTheWords, watchForTrouble } from './support';

aimTest(
  'aiming by SNMP, over a network that loses packets and takes its time',
  { tag: ['@aim', '@record'] },
  async ({ page, misaim }) => {
    const trouble = watchForTrouble(page);
    const linkId = await openAim(page, 'Ice works');
    // The demo has aimed it.
    await misaim(linkId, 3);
    await chooseLevel(page, 'near', /by SNMP/);
    await page.getByRole('button', { name: 'Read by this' }).click();
    await expect(page.getByRole('alert')).toContainText('profile must be chosen');
    await choose(page, 'The level is told by', /typed by hand/);
    await expect(page.getByRole('alert')).toBeHidden();
    await choose(page, 'The level is told by', /by SNMP/);
    await page.getByRole('button', { name: /Let the stand-in radio/ }).click();
    await expect(page.getByRole('textbox', { name: 'Address of the radio' })).toHaveValue('127.0.0.1');
    await expect(page.getByRole('combobox', { name: 'What is read of it: profile' })).toHaveValue(
      'Stand-in radio by SNMP',
    );
    await page.getByRole('button', { name: 'Look through its answers' }).click();
    const answers = page.getByRole('region', { name: 'What it answers' });
    await expect(answers.getByRole('listitem')).toHaveCount(7);
    await expectAccessible(page);
    await answers.getByRole('button', { name: /32473\.77\.1\.0/ }).click();
    await expect(page.getByRole('textbox', { name: 'Factor of the level', exact: true })).toHaveValue('0.1');
    await page.getByRole('button', { name: 'Save the profile and read by it' }).click();
    await expect(page.getByRole('dialog')).toBeHidden();
    await expect(page.getByRole('cell').getByText('the radio, by SNMP')).toBeVisible();

    await page.getByRole('button', { name: 'Begin to aim' }).click();
    await expect(page.getByTestId('aim-level')).toContainText(/−\d\d/);
    await expect(page.getByText(/noise −94 dBm/)).toBeVisible();
    // The phone on the antenna is this browser: its attitude is that of the simulated mount.
    const phone = await page.context().newCDPSession(page);
    const strap = async (): Promise<void> => {
      const { near } = (await (await page.request.get(`/api/standin/links/${linkId}/hands`)).json()) as HandsView;
      await phone.send('DeviceOrientation.setDeviceOrientationOverride', {
        alpha: (360 - (near.azimuthDeg % 360)) % 360,
        beta: near.tiltDeg,
        gamma: 0,
      });
      await page.waitForTimeout(40);
    };
    await expect(page.locator('.aim-words')).toHaveText('Nothing tells the angle yet: tap on the phone');
    await strap();
    await page.getByRole('button', { name: 'let this phone tell the angle' }).click();
    await expect(page.getByTestId('phone-angle')).toContainText('its upper edge points the way of the antenna');
    // Until the words have seen the peak go by; to the end the guide is followed in the walk.
    await followTheWords(page, 'near', { meanwhile: strap, until: 'past' });
    const freshOf = ({ samples }: AlignmentView) => samples.filter(({ end, isRepeat }) => end === 'near' && !isRepeat);
    // Who turns fast is there before many answers are.
    await expect.poll(async () => freshOf(await readRunning(page, linkId)).length).toBeGreaterThan(15);
    const alignment = await endAndRead(page, linkId);
    const near = alignment.samples.filter(({ end }) => end === 'near');
    const fresh = freshOf(alignment);
    expect(fresh.length, 'a value that was not refreshed is no second sample').toBeLessThan(0.8 * near.length);
    expect(fresh.every(({ ageS }) => (ageS ?? 0) > 0)).toBe(true);
    expect(alignment.levelsFrom.map(({ end, way }) => `${end} ${way}`)).toEqual(['near snmp', 'far standin']);
    expect(trouble).toEqual([]);
  },
);
