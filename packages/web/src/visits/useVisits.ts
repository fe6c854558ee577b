import type { Photo, Visit } from '@kivram/contract/entities/visit';
import { routes } from '@kivram/contract/routes';
import type { VisitsView } from '@kivram/contract/views/visit';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { call } from '../api';
import type { Waiting } from '../outbox/outbox';
import { useWaiting } from '../outbox/useOutbox';

/** A photo that is with the server, or waits on this device as the file that was taken. */
export type ShownPhoto = Photo & { file?: Blob };
export type ShownVisit = Visit & { waits: boolean };

export interface ShownVisits extends Omit<VisitsView, 'visits' | 'photos'> {
  visits: ShownVisit[];
  photos: ShownPhoto[];
}

/** Visits and photos of a job, with those that wait on this device to be sent. */
export function useVisits(jobId: string) {
  const query = useQuery({
    queryKey: ['job', jobId, 'visits'],
    queryFn: () => call(routes.visits, { jobId }),
    enabled: !!jobId,
  });
  const waiting = useWaiting();
  const { data } = query;
  const shown = useMemo(() => withWaiting(data ?? null, jobId, waiting), [data, jobId, waiting]);
  return { ...query, shown };
}

/** What the server said, with what it has not heard yet on top. */
export function withWaiting(view: VisitsView | null, jobId: string, waiting: readonly Waiting[]): ShownVisits {
  let visits: ShownVisit[] = (view?.visits ?? []).map((visit) => ({ ...visit, waits: false }));
  const photos: ShownPhoto[] = [...(view?.photos ?? [])];
  for (const change of waiting) {
    const { id, route, params, body, query, at } = change;
    if (route === 'createVisit' && params.jobId === jobId && !visits.some((visit) => visit.id === id)) {
      const fresh = {
        ...(body as Pick<Visit, 'startedAt' | 'purpose' | 'company' | 'note'>),
        id,
        endedAt: null,
        crewMemberId: null,
        version: 0,
      };
      visits = [{ ...fresh, waits: true }, ...visits];
    } else if (route === 'changeVisit') {
      const { version, ...fields } = body as Partial<Visit>;
      visits = visits.map((visit) => (visit.id === params.visitId ? { ...visit, ...fields, waits: true } : visit));
    } else if (route === 'addPhoto' && params.jobId === jobId && !photos.some((photo) => photo.id === id)) {
      const asked = new URLSearchParams(query);
      const of = (subject: string): string | null => (asked.get('of') === subject ? asked.get('id') : null);
      photos.unshift({
        id,
        radioId: of('radio'),
        placeId: of('place'),
        visitId: of('visit'),
        crewMemberId: null,
        addedAt: at,
        takenAt: null,
        caption: asked.get('caption') ?? '',
        widthPx: 1,
        heightPx: 1,
        latitudeDeg: null,
        longitudeDeg: null,
        version: 0,
        file: change.file,
      });
    }
  }
  return { visits, photos, crew: view?.crew ?? [] };
}
