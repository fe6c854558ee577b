import type { JobMapView } from '@kivram/contract/views/job';
import { describe, expect, it } from 'vitest';
import type { Waiting } from '../outbox/outbox';
import { withWaiting } from './waitingMap';

const shed = {
  id: 'shed',
  name: 'Shed',
  latitudeDeg: 33.4,
  longitudeDeg: -37.8,
  groundHeightM: 12,
  kind: 'site' as const,
  note: '',
  version: 3,
};
const map = { places: [shed], obstacles: [], atZero: [], links: [], radios: [] } as JobMapView;

const waiting = (route: Waiting['route'], params: Record<string, string>, body: object, more: Partial<Waiting> = {}) =>
  ({
    id: `${route} waits`,
    order: 1,
    at: '',
    by: null,
    route,
    params,
    query: '',
    body,
    problem: null,
    ...more,
  }) as Waiting;
const newPlace = { name: 'Up here', latitudeDeg: 33.5, longitudeDeg: -37.9, kind: 'site' };

describe('the map of a job, with what waits on this device', () => {
  it('shows a place that the server does not know yet, in its own job only, and without a height', () => {
    const change = waiting('createPlace', { jobId: 'harbour' }, newPlace);
    const shown = withWaiting(map, 'harbour', [change]);
    expect(shown.places.map(({ name }) => name)).toEqual(['Shed', 'Up here']);
    expect(shown.places[1]?.groundHeightM).toBeNaN();
    expect([...shown.isNew]).toEqual([change.id]);
    expect(withWaiting(map, 'another', [change]).places).toEqual([shed]);
  });

  it('shows a place where it was moved to twice, at the version that was read', () => {
    const move = (latitudeDeg: number) =>
      waiting(
        'changePlace',
        { placeId: 'shed' },
        { version: 3, latitudeDeg, name: undefined, groundFromTerrain: true },
      );
    const shown = withWaiting(map, 'harbour', [move(33.41), move(33.42)]);
    expect(shown.places[0]).toMatchObject({ name: 'Shed', latitudeDeg: 33.42, version: 3, groundHeightM: 12 });
    expect([...shown.waits]).toEqual(['shed']);
    expect(shown.isNew.size).toBe(0);
    expect(map.places[0]?.latitudeDeg).toBe(33.4);
  });

  it('does not show what was refused, nor a change of what is gone', () => {
    const problem = { type: 'about:blank', title: 'Not valid', status: 422, detail: 'no' };
    const refused = waiting('createPlace', { jobId: 'harbour' }, newPlace, { problem });
    const gone = waiting('changePlace', { placeId: 'gone' }, { version: 1, name: 'Ghost' });
    expect(withWaiting(map, 'harbour', [refused, gone])).toMatchObject({ places: [shed], waits: new Set() });
  });

  it('shows something in the way that was put down, and what was changed of it', () => {
    const trees = { kind: 'trees', name: 'Willows', footprint: [], heightM: 9, version: 1, id: 'willows' };
    const withTrees = { ...map, obstacles: [trees] } as unknown as JobMapView;
    const shown = withWaiting(withTrees, 'harbour', [
      waiting('createObstacle', { jobId: 'harbour' }, { kind: 'building', name: 'Crane', heightM: 30 }),
      waiting('changeObstacle', { obstacleId: 'willows' }, { version: 1, heightM: 11 }),
    ]);
    expect(shown.obstacles).toMatchObject([{ name: 'Willows', heightM: 11, version: 1 }, { name: 'Crane' }]);
  });
});
