import { expect, type Page } from '@playwright/test';
import type { AxeResults, RunOptions } from 'axe-core';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

/** As it is written: what is packed for delivery takes twice as long over colours. */
const source = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.js'), 'utf8');

/** What axe objects to on a page. It is put into a page once, since what has run in it runs faster the next time. */
export async function violationsOf(page: Page, options: RunOptions = {}): Promise<AxeResults['violations']> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(`${source};0`);
  return page.evaluate(async (asked) => {
    const { axe } = window as unknown as { axe: typeof import('axe-core') };
    // Places of a map lie where they lie, also on top of each other; the list beside it holds them at full size (WCAG 2.5.8's exception).
    const { violations } = await axe.run(
      { exclude: '.leaflet-marker-pane' },
      { resultTypes: ['violations'], ...asked },
    );
    return violations;
  }, options);
}

/** No serious or critical violation of WCAG 2 A and AA. */
export async function expectAccessible(page: Page): Promise<void> {
  const violations = await violationsOf(page, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] });
  const bad = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
  expect(bad.map((v) => `${v.id}: ${v.nodes.map((n) => `${n.html} ${n.failureSummary ?? ''}`).join(' | ')}`)).toEqual(
    [],
  );
}
