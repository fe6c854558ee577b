import type { NewVisitBody, PhotoBody, VisitBody } from '../requests/visit';
import { route } from './route';

/** Visits to a site, and photos. */
export const visitsRoutes = {
  visits: route<'visits'>()(
    'get',
    '/api/jobs/:jobId/visits',
    'reader',
    'Visits of a job, newest first, and all its photos',
  ),
  createVisit: route<'createVisit'>()<NewVisitBody>('post', '/api/jobs/:jobId/visits', 'installer', 'A visit begins', {
    later: 'a visit',
  }),
  changeVisit: route<'changeVisit'>()<VisitBody>('patch', '/api/visits/:visitId', 'installer', 'Changes a visit', {
    later: 'a change of a visit',
  }),
  removeVisit: route<'removeVisit'>()(
    'delete',
    '/api/visits/:visitId',
    'installer',
    'Removes a visit with its photos; it can be brought back',
    { query: { version: 'the version that was looked at' } },
  ),
  addPhoto: route<'addPhoto'>()(
    'post',
    '/api/jobs/:jobId/photos',
    'installer',
    'Adds a photo, as the body: JPEG, PNG or WebP, made smaller here',
    {
      later: 'a photo',
      takes: 'application/octet-stream',
      query: {
        of: 'what it is of: radio, place or visit',
        id: 'the identifier of that',
        caption: 'a line about it',
        position: '"keep": where it was taken is kept; else it is removed',
      },
    },
  ),
  changePhoto: route<'changePhoto'>()<PhotoBody>(
    'patch',
    '/api/photos/:photoId',
    'installer',
    "Changes a photo's line",
    { later: 'a line under a photo' },
  ),
  removePhoto: route<'removePhoto'>()(
    'delete',
    '/api/photos/:photoId',
    'installer',
    'Removes a photo; it can be brought back',
    { query: { version: 'the version that was looked at' } },
  ),
  photo: route<'photo'>()('get', '/api/photos/:photoId/:size.jpg', 'reader', 'The picture of a photo', {
    words: { size: ['small', 'full'] },
    gives: 'image/jpeg',
  }),
} as const;
