import type { AlignmentView, HandsView, LinkView, StandinPage } from '@kivram/contract';
import { expect, type Page } from '@playwright/test';
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
  return /links\/([0-9a-f-]+)/.exec(page.url())?.[1] ?? '';
}

/** Somebody has turned the near mount off its peak. */
export async function misaim(page: Page, linkId: string, byDeg: number): Promise<void> {
  const turned = await page.request.post(`/api/standin/links/${linkId}/turns`, {
    data: { end: 'near', axis: 'azimuth', byDeg },
  });
  expect(turned.ok()).toBe(true);
}

export async function chooseLevel(page: Page, end: 'near' | 'far', way: RegExp): Promise<void> {
  await page.getByRole('button', { name: `Change where the level of the ${end} end comes from` }).click();
  await choose(page, 'The level is told by', way);
}

/** Ends the alignment, and reads it as it is stored. */
export async function endAndRead(page: Page, linkId: string): Promise<AlignmentView> {
  await page.getByRole('button', { name: 'End and store' }).click();
  await expect(page.getByRole('button', { name: 'Begin to aim' })).toBeVisible();
  const { alignment } = (await (await page.request.get(`/api/links/${linkId}`)).json()) as LinkView;
  return (await (await page.request.get(`/api/alignments/${alignment?.id}`)).json()) as AlignmentView;
}

/** Where the near mount points, left to right, by its scale. */
export async function azimuthOf(page: Page, linkId: string): Promise<number> {
  const hands = (await (await page.request.get(`/api/standin/links/${linkId}/hands`)).json()) as HandsView;
  return hands.near.azimuthDeg;
}

/** A mount of a beam of 9 degrees that is so far beside its peak has lost under a decibel. */
export const onPeakDeg = 2.5;

/** What the page of the near radio shows. */
export async function pageOf(page: Page, linkId: string): Promise<StandinPage> {
  return (await (await page.request.get(`/api/standin/links/${linkId}/radios/near`)).json()) as StandinPage;
}
