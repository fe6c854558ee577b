import type { LinkView } from '@kivram/contract/views/link';
import { describe, expect, it } from 'vitest';
import { bodyOf, endDraft, type AboutDraft } from './aboutDraft';

const radio = {
  placeId: 'p',
  modelId: 'm',
  modelRevision: 1,
  serial: null,
  mac: '02:00:00:00:00:01',
  note: '',
  version: 4,
};
const end = { radio } as unknown as LinkView['near'];
const view = { link: { name: 'Ice works', version: 7 }, near: end, far: end } as unknown as LinkView;
const draft = (changes: Partial<AboutDraft> = {}): AboutDraft => ({
  name: 'Ice works',
  near: endDraft(end),
  far: endDraft(end),
  ...changes,
});

describe('a change of a link itself', () => {
  it('says nothing of what is as it was', () => {
    expect(bodyOf(view, draft(), '7,4,4')).toEqual({ version: 7 });
  });

  it('says what differs, each part with the version that it was looked at in', () => {
    const near = { ...endDraft(end), modelId: 'n', modelRevision: 3, serial: ' SN 1 ', mac: '' };
    expect(bodyOf(view, draft({ name: ' Ice works, north ', near }), '7,4,5')).toEqual({
      version: 7,
      name: 'Ice works, north',
      near: { version: 4, modelId: 'n', serial: 'SN 1', mac: null },
    });
  });

  it('follows a revision of the same model by its number, and other gear by its name alone', () => {
    const far = { ...endDraft(end), modelRevision: 2 };
    expect(bodyOf(view, draft({ far }), '7,4,5')).toEqual({ version: 7, far: { version: 5, modelRevision: 2 } });
  });
});
