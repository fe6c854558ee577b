import { routes, type SessionView } from '@kivram/contract';
import { Router, type Request } from 'express';
import { CrewMemberRow, JobRow } from '../database/models';
import { notFound } from '../http/problem';
import { serve } from '../http/serve';
import { workAs } from '../http/author';

/** Who works in this browser: chosen once for each job, until people sign in. */
export function sessionRoutes(): Router {
  const router = Router();
  const view = (request: Request): SessionView => ({ crewMemberIds: request.session.crewMemberIds ?? {} });

  serve(router, routes.getSession, ({ request }) => view(request));
  serve(router, routes.chooseMember, async ({ request, body }) => {
    const member = await CrewMemberRow.findByPk(body.crewMemberId);
    if (!member) throw notFound('crew member');
    workAs(request, member);
    return view(request);
  });
  serve(router, routes.joinCrew, async ({ params, request, body }) => {
    const jobId = params.jobId ?? '';
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const [member] = await CrewMemberRow.findOrCreate({ where: { jobId, name: body.name.trim() } });
    workAs(request, member);
    return view(request);
  });
  return router;
}
