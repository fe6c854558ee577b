import { describe, expect, it } from 'vitest';
import type { Waiting } from '../outbox/outbox';
import { withWaiting } from './useVisits';

const base = { order: 1, at: '2026-05-04T08:00:00.000Z', by: null, query: '', problem: null, file: undefined };
const visit = {
  id: 'v',
  startedAt: '2026-05-03T08:00:00.000Z',
  endedAt: null,
  purpose: 'Before',
  company: '',
  note: 'old',
  crewMemberId: null,
  version: 2,
};
const view = { visits: [visit], photos: [], crew: [] };

describe('visits with what waits on top', () => {
  it('hold a visit and a photo that the server has not heard of, and a change that it has not made', () => {
    const body = { purpose: 'New', company: '', note: '', startedAt: '2026-05-04T08:00:00.000Z' };
    const waiting: Waiting[] = [
      { ...base, id: 'n', route: 'createVisit', params: { jobId: 'j' }, body },
      { ...base, id: 'c', route: 'changeVisit', params: { visitId: 'v' }, body: { version: 2, note: 'newer' } },
      {
        ...base,
        id: 'p',
        route: 'addPhoto',
        params: { jobId: 'j' },
        query: '?of=visit&id=n&caption=Lug',
        body: undefined,
        file: new Blob(['x']),
      },
      { ...base, id: 'other', route: 'createVisit', params: { jobId: 'another job' }, body },
    ];
    const { visits, photos } = withWaiting(view, 'j', waiting);
    expect(visits.map(({ id, note, version, waits }) => [id, note, version, waits])).toEqual([
      ['n', '', 0, true],
      ['v', 'newer', 2, true],
    ]);
    expect(photos).toMatchObject([{ id: 'p', visitId: 'n', radioId: null, caption: 'Lug' }]);
  });

  it('do not hold twice what has just arrived, and are there without a server', () => {
    const waiting: Waiting[] = [{ ...base, id: 'v', route: 'createVisit', params: { jobId: 'j' }, body: { ...visit } }];
    expect(withWaiting(view, 'j', waiting).visits).toHaveLength(1);
    expect(withWaiting(null, 'j', waiting).visits).toHaveLength(1);
  });
});
