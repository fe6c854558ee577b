import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import type { NewPlaceBody } from '@kivram/contract/requests/place';
import type { JobMapView } from '@kivram/contract/views/job';
import type { Waiting } from '../outbox/outbox';

/** What the map shows of a job: what was read, with what waits on this device laid over it. */
export interface ShownMap extends Pick<JobMapView, 'places' | 'obstacles'> {
  /** what was changed here and the server has not heard of */
  waits: ReadonlySet<string>;
  /** of these, what the server does not know at all: nothing more can be done to it before it does. Its ground has no height yet */
  isNew: ReadonlySet<string>;
}

/** Lays what waits over what was read of a job's map. What the server has refused is not shown: it stands under "waiting" with the reason. */
export function withWaiting(map: JobMapView, jobId: string, waiting: readonly Waiting[]): ShownMap {
  const waits = new Set<string>();
  const isNew = new Set<string>();
  let { places, obstacles } = map;
  const added = (id: string): string => {
    waits.add(id);
    isNew.add(id);
    return id;
  };
  const changed = <Row extends { id: string }>(rows: Row[], id: string | undefined, body: object): Row[] =>
    rows.map((row) => {
      if (row.id !== id) return row;
      waits.add(id);
      // The version is that of what was read: it is what the next change was made on.
      const given = Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined));
      return { ...row, ...given, version: (row as unknown as Place).version };
    });
  for (const { id, route, params, body = {}, problem } of waiting) {
    if (problem) continue;
    if (route === 'createPlace' && params.jobId === jobId) {
      const place = { note: '', groundHeightM: NaN, ...(body as unknown as NewPlaceBody), id: added(id), version: 0 };
      places = [...places, place].sort((a, b) => a.name.localeCompare(b.name));
    } else if (route === 'changePlace') {
      places = changed(places, params.placeId, body);
    } else if (route === 'createObstacle' && params.jobId === jobId) {
      obstacles = [...obstacles, { ...(body as unknown as Obstacle), id: added(id), version: 0 }];
    } else if (route === 'changeObstacle') {
      obstacles = changed(obstacles, params.obstacleId, body);
    }
  }
  return { places, obstacles, waits, isNew };
}
