import { photoSubjects, type PhotoSubject } from '@kivram/contract/entities/visit';
import { routes } from '@kivram/contract/routes';
import { photoLimits } from '@kivram/contract/views/visit';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { ApiProblem } from '../http/apiProblem';
import { isUuid, serve, serveRaw, versionOf } from '../http/serve';
import type { Uploads } from '../http/uploads';
import type { Intake } from '../intake/intake';
import { Removals } from '../services/removals';
import { Visits } from '../services/visits';

const longestCaption = 300;

export function visitRoutes(sequelize: Sequelize, intake: Intake, uploads: Uploads): Router {
  const router = Router();
  const visits = new Visits(sequelize);
  const removals = new Removals(sequelize);

  serve(router, routes.visits, ({ params }) => visits.list(params.jobId ?? ''));
  serve(router, routes.createVisit, ({ params, body, author }) => visits.create(params.jobId ?? '', body, author));
  serve(router, routes.changeVisit, ({ params, body, author }) => visits.change(params.visitId ?? '', body, author));
  serve(router, routes.removeVisit, async ({ params, query, author }) => {
    await removals.removeVisit(params.visitId ?? '', versionOf(query), author);
    return { removed: true as const };
  });

  serve(router, routes.addPhoto, async ({ params, query, request, author }) => {
    const jobId = params.jobId ?? '';
    const { of = '', id = '', caption = '', position } = query;
    if (!photoSubjects.includes(of as PhotoSubject) || !isUuid(id))
      throw new ApiProblem(
        400,
        'Bad request',
        `Say what the photo is of, as in ?of=radio&id=...: there is ${photoSubjects.join(', ')}.`,
      );
    if (caption.length > longestCaption)
      throw new ApiProblem(
        422,
        'Not valid',
        `The line about the photo is ${caption.length} characters long; ${longestCaption} at most.`,
      );
    const subject = of as PhotoSubject;
    await visits.refuseStray(jobId, subject, id);
    const scaled = await uploads.receive(request, photoLimits.megabytes, ({ path }, signal) =>
      intake.run('photo', { path }, { signal }),
    );
    return visits.addPhoto(jobId, { of: subject, id, caption, keepPosition: position === 'keep' }, scaled, author);
  });
  serve(router, routes.changePhoto, ({ params, body, author }) =>
    visits.changePhoto(params.photoId ?? '', body, author),
  );
  serve(router, routes.removePhoto, async ({ params, query, author }) => {
    await removals.removePhoto(params.photoId ?? '', versionOf(query), author);
    return { removed: true as const };
  });
  // A picture never changes, but who may see it does.
  serveRaw(router, routes.photo, async ({ params, response }) => {
    const picture = await visits.picture(params.photoId ?? '', params.size as 'small' | 'full');
    response.type('jpeg').set('cache-control', 'private, no-cache').send(picture);
  });
  return router;
}
