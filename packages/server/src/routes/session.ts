import { routes, type SessionView } from '@kivram/contract';
import { Router, type Request } from 'express';
import { CrewMemberRow } from '../database/models';
import { notFound } from '../http/problem';
import { serve } from '../http/serve';

/** Who works in this browser: chosen once for each job, until people sign in. */
export function sessionRoutes(): Router {
  const router = Router();
  const view = (request: Request): SessionView => ({ crewMemberIds: request.session.crewMemberIds ?? {} });

  serve(router, routes.getSession, ({ request }) => view(request));
  serve(router, routes.chooseMember, async ({ request, body }) => {
    const member = await CrewMemberRow.findByPk(body.crewMemberId);
    if (!member) throw notFound('crew member');
    request.session.crewMemberIds = { ...request.session.crewMemberIds, [member.jobId]: member.id };
    return view(request);
  });
  return router;
}
