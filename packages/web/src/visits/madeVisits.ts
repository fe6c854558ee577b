import type { Photo, Visit } from '@kivram/contract/entities/visit';
import type { VisitsView } from '@kivram/contract/views/visit';
import type { Made } from '../outbox/outbox';

/** What was read of a job's visits and photos, with what the server has made since: as it answered. */
export function withMade(view: VisitsView, jobId: string, { route, params, answer }: Made): VisitsView {
  const visit = answer as Visit;
  const photo = answer as Photo;
  if (route === 'createVisit' && params.jobId === jobId)
    return { ...view, visits: [visit, ...view.visits.filter(({ id }) => id !== visit.id)] };
  if (route === 'addPhoto' && params.jobId === jobId)
    return { ...view, photos: [photo, ...view.photos.filter(({ id }) => id !== photo.id)] };
  if (route === 'changeVisit')
    return { ...view, visits: view.visits.map((old) => (old.id === visit.id ? visit : old)) };
  if (route === 'changePhoto')
    return { ...view, photos: view.photos.map((old) => (old.id === photo.id ? photo : old)) };
  return view;
}
