import type { KeptNeed } from '@kivram/contract/entities/need';
import { describe, expect, it } from 'vitest';
import { needBody, needDraftOf, needErrors, needIn, unitChoices } from './needDraft';

const kept: KeptNeed = {
  placeId: '11111111-1111-4111-8111-111111111111',
  version: 3,
  items: [{ kind: 'camera', count: 4, toMbps: 0.1, fromMbps: 6, towardPlaceId: null }],
  simultaneity: 0.8,
  growthPercent: 20,
  headroomPercent: 25,
  adapterName: 'powerline adapter',
  adapterMbps: 40,
};

describe('what a place needs, as it is typed', () => {
  it('comes back as it was kept', () => {
    const { placeId, version, ...fields } = kept;
    void placeId;
    expect(needBody(needDraftOf(kept), version)).toEqual({ ...fields, version });
    expect(needErrors(needDraftOf(kept))).toEqual({});
    expect(needErrors(needDraftOf(undefined))).toEqual({});
  });

  it('says at its own field what is wrong, and is not reckoned with until then', () => {
    const draft = needDraftOf(kept);
    const odd = { ...draft, atOncePercent: 140, items: [{ ...kept.items[0], count: 'many', towardPlaceId: '' }] };
    const errors = needErrors(odd as typeof draft);
    expect(errors.atOncePercent).toBe('a share from 0 to 100 %');
    expect(Object.keys(errors)).toContain('items.0.count');
    expect(needIn('p', odd as typeof draft)).toBeNull();
    expect(needIn('p', draft)).toMatchObject({ placeId: 'p', simultaneity: 0.8 });
  });

  it('is typed in a unit that is chosen: a megabyte is eight megabits', () => {
    expect(Object.fromEntries(unitChoices.map((c) => [c.unit, c.perUnit]))).toEqual({
      'kbit/s': 0.001,
      'Mbit/s': 1,
      'Gbit/s': 1000,
      'MByte/s': 8,
    });
  });
});
