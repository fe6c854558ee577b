import { planOf } from '@kivram/core/budget/plan';
import { predictLink } from '@kivram/core/budget/prediction';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { cardDefinition } from '../src/reports/aimCard';
import { loadLink } from '../src/services/linkRecords';
import { viewLink } from '../src/services/linkViews';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

/** All text of a document definition, in order. */
function textOf(node: unknown): string {
  if (typeof node === 'string') return node;
  if (Array.isArray(node)) return node.map(textOf).join(' ');
  if (typeof node !== 'object' || node === null) return '';
  const { text, columns, content } = node as Record<string, unknown>;
  return [text, columns, content].map(textOf).join(' ');
}

it('says where to point, by compass and by eye', async () => {
  const id = await server.linkId('Ice works');
  const view = await viewLink(id);
  const prediction = predictLink(planOf(await loadLink(id)));
  const words = textOf(cardDefinition(view, prediction, 'near', 'metric', '2026-11-25')).replace(/\s+/g, ' ');
  expect(words).toContain('Ferry office looks at Ice works');
  expect(words).toContain('true 35.18°, needle 11.0° west');
  expect(words).toContain('46.2°'); // 35.2 and 11.0, the needle to the west
  expect(words).toContain('Chapel spire, 2.558 km: aim');
  expect(words).toContain('1.873 km');
  expect(words).toContain('Local codes and licensed practice come first');
  // The dial turns as the needle does: its arrow stands at what the compass shows, not at the true bearing.
  expect(JSON.stringify(cardDefinition(view, prediction, 'near', 'metric', '2026-11-25'))).toMatch(
    /rotate\(46\.\d+ 50 50\)/,
  );
  const late = textOf(cardDefinition(view, prediction, 'far', 'imperial', '2033-01-01'));
  expect(late).toContain('(out of date)');
  expect(late).toMatch(/1\.16\d mi/);
});

it('points straight up in a shaft, without compass, landmark or ladder', async () => {
  const id = await server.linkId('Cliff hoist');
  const view = await viewLink(id);
  const prediction = predictLink(planOf(await loadLink(id)));
  const card = (end: 'near' | 'far') => textOf(cardDefinition(view, prediction, end, 'metric', '2026-11-25'));
  expect(card('near')).toContain('straight up');
  expect(card('far')).toContain('straight down');
  for (const words of ['compass', 'landmark', 'Ladder', 'Magnetic', 'true 0'])
    expect(card('near')).not.toContain(words);
  expect(card('near')).toContain('locked off');
});
