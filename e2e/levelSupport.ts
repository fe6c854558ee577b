import type { AlignmentView } from '@kivram/contract/views/alignment';
import type { StandinPage } from '@kivram/contract/views/level';
import type { HandsView, LinkView } from '@kivram/contract/views/link';
import { expect, type Page } from '@playwright/test';
import { test } from './server';
import { choose } from './support';

/** Opens the aim step of a link, and says what its link is called in addresses. */
export async function openAim(page: Page, name: string): Promise<string> {
  await page.goto('/');
  await page
    .getByRole('link', { name: new RegExp(`^${name}, `) })
    .first()
    .click();
  await page.getByRole('navigation', { name: 'Steps of the work' }).getByRole('link', { name: 'aim' }).click();
  await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
  // Whoever turns the mounts before the page has said who works here is refused.
  await expect(page.getByLabel('Who is working')).toHaveValue(/.+/);
  return /links\/([0-9a-f-]+)/.exec(page.url())?.[1] ?? '';
}

type TurnedAxis = readonly [end: 'near' | 'far', axis: 'azimuth' | 'tilt'];
const axes: readonly TurnedAxis[] = [
  ['near', 'azimuth'],
  ['near', 'tilt'],
  ['far', 'azimuth'],
  ['far', 'tilt'],
];
const scaleOf = (hands: HandsView, [end, axis]: TurnedAxis): number =>
  hands[end][axis === 'azimuth' ? 'azimuthDeg' : 'tiltDeg'];

/**
 * A test that may begin with a mount off its peak. Tests of one worker share their mounts, and take it that the demo has aimed them: so it puts all axes of the
 * link back when it ends, however it ends.
 */
export const aimTest = test.extend<{
  /** somebody has turned the near mount: @returns where it stood, by its scale */
  misaim: (linkId: string, byDeg: number) => Promise<number>;
}>({
  misaim: async ({ page: { request } }, use) => {
    const turn = async (linkId: string, [end, axis]: TurnedAxis, byDeg: number): Promise<void> => {
      const turned = await request.post(`/api/standin/links/${linkId}/turns`, { data: { end, axis, byDeg } });
      expect(turned.ok()).toBe(true);
    };
    const handsOf = async (linkId: string): Promise<HandsView> =>
      (await (await request.get(`/api/standin/links/${linkId}/hands`)).json()) as HandsView;
    const before = new Map<string, HandsView>();
    await use(async (linkId, byDeg) => {
      const hands = await handsOf(linkId);
      before.set(linkId, hands);
      await turn(linkId, ['near', 'azimuth'], byDeg);
      return hands.near.azimuthDeg;
    });
    for (const [linkId, hands] of before) {
      const now = await handsOf(linkId);
      for (const axis of axes) await turn(linkId, axis, scaleOf(hands, axis) - scaleOf(now, axis));
    }
  },
});

export async function chooseLevel(page: Page, end: 'near' | 'far', way: RegExp): Promise<void> {
  await page.getByRole('button', { name: `Change where the level of the ${end} end comes from` }).click();
  await choose(page, 'The level is told by', way);
}

/** Reads the alignment that is running, as far as it is stored. */
export async function readRunning(page: Page, linkId: string): Promise<AlignmentView> {
  const { running } = (await (await page.request.get(`/api/links/${linkId}`)).json()) as LinkView;
  return (await (await page.request.get(`/api/alignments/${running?.id}`)).json()) as AlignmentView;
}

/** Ends the alignment, and reads it as it is stored. */
export async function endAndRead(page: Page, linkId: string): Promise<AlignmentView> {
  await page.getByRole('button', { name: 'End and store' }).click();
  await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
  const { alignment } = (await (await page.request.get(`/api/links/${linkId}`)).json()) as LinkView;
  return (await (await page.request.get(`/api/alignments/${alignment?.id}`)).json()) as AlignmentView;
}

/** What the page of the near radio shows. */
export async function pageOf(page: Page, linkId: string): Promise<StandinPage> {
  return (await (await page.request.get(`/api/standin/links/${linkId}/radios/near`)).json()) as StandinPage;
}
