import type { Moved } from '@kivram/contract/views/news';
import { describe, expect, it } from 'vitest';
import { isAffected, isOfStatesOnly, type SomeNews } from './affected';

const keys = [
  ['jobs'],
  ['session'],
  ['models'],
  ['terrain'],
  ['job', 'harbour'],
  ['job', 'harbour', 'links', 0, ''],
  ['job', 'harbour', 'map'],
  ['job', 'harbour', 'law'],
  ['job', 'harbour', 'needs'],
  ['job', 'harbour', 'visits'],
  ['job', 'harbour', 'people'],
  ['job', 'harbour', 'timeline'],
  ['job', 'another', 'map'],
  ['link', 'loft'],
  ['link', 'ice'],
  ['link', 'ice', 'timeline'],
  ['link', 'ice', 'levels'],
  ['link', 'ice', 'air'],
];

/** What a change of something makes old. */
function old(moved: Moved, changeId: string | null = 'one'): string[] {
  const news: SomeNews = { type: 'moved', number: 1, changeId, crewMemberId: null, moved };
  return keys.filter((key) => isAffected(news, 'harbour', key)).map((key) => key.join(' ').trim());
}

const always = ['job harbour people', 'job harbour timeline', 'link ice timeline'];

describe('what news make old', () => {
  it.each<[string, Moved, string[]]>([
    ['a tap that stored nothing', {}, []],
    [
      'a link',
      { link: { ice: 4 } },
      ['jobs', 'job harbour links 0', 'job harbour map', 'job harbour needs', 'link ice', 'link ice air'],
    ],
    [
      'a place',
      { place: { shed: 1 } },
      ['job harbour links 0', 'job harbour map', 'job harbour needs', 'link loft', 'link ice', 'link ice air'],
    ],
    ['a test of one link', { test: { ice: null } }, ['link ice']],
    ['the sheets of one link', { sheet: { loft: null } }, ['link loft']],
    ['where levels come from', { levelSource: { ice: null } }, ['link ice', 'link ice levels']],
    ['a photo', { photo: { p: 0 } }, ['job harbour visits']],
    ['so many tests that they are not counted up', { test: null }, ['link loft', 'link ice']],
  ])('%s', (_what, moved, expected) => {
    expect(old(moved).filter((key) => !always.includes(key))).toEqual(expected);
    expect(old(moved)).toEqual(expect.arrayContaining(always));
  });

  it('step states that were computed leave the timeline alone', () => {
    const moved = { state: { loft: null } };
    expect(old(moved, null)).toEqual(['job harbour links 0', 'job harbour map', 'job harbour needs', 'link loft']);
    expect(isOfStatesOnly({ type: 'moved', number: 1, changeId: null, crewMemberId: null, moved })).toBe(true);
  });

  it('of all make all of that job old, and nothing of another', () => {
    const all = keys.filter((key) => isAffected({ type: 'all', number: 1, changeId: null }, 'harbour', key));
    expect(all.map(([root]) => root)).not.toContain('models');
    expect(all).not.toContainEqual(['job', 'another', 'map']);
    expect(all).toHaveLength(keys.length - 2);
  });
});
