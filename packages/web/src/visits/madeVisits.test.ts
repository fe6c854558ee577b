import type { Photo, Visit } from '@kivram/contract/entities/visit';
import type { VisitsView } from '@kivram/contract/views/visit';
import { describe, expect, it } from 'vitest';
import { withMade } from './madeVisits';

const visit = (id: string, note = ''): Visit => ({
  id,
  startedAt: '2026-05-03T08:00:00.000Z',
  endedAt: null,
  purpose: 'Look',
  company: '',
  note,
  crewMemberId: null,
  version: 0,
});
const photo = (id: string, caption = ''): Photo => ({ id, caption }) as Photo;
const view: VisitsView = { visits: [visit('a')], photos: [photo('p')], crew: [] };

describe('visits with what the server has just made', () => {
  it('hold a new one once, however often it is told of, and only in its own job', () => {
    const made = { route: 'createVisit' as const, params: { jobId: 'j' }, answer: visit('b') };
    const once = withMade(view, 'j', made);
    expect(once.visits.map(({ id }) => id)).toEqual(['b', 'a']);
    expect(withMade(once, 'j', made)).toEqual(once);
    expect(withMade(view, 'other', made)).toBe(view);
    const added = { route: 'addPhoto' as const, params: { jobId: 'j' }, answer: photo('q') };
    expect(withMade(view, 'j', added).photos.map(({ id }) => id)).toEqual(['q', 'p']);
  });

  it('hold what was changed as it is now', () => {
    const changed = withMade(view, 'j', {
      route: 'changeVisit',
      params: { visitId: 'a' },
      answer: visit('a', 'wet lugs'),
    });
    expect(changed.visits[0]?.note).toBe('wet lugs');
    const lined = withMade(view, 'j', { route: 'changePhoto', params: { photoId: 'p' }, answer: photo('p', 'Lug') });
    expect(lined.photos[0]?.caption).toBe('Lug');
    expect(withMade(view, 'j', { route: 'changePlace', params: {}, answer: {} })).toBe(view);
  });
});
