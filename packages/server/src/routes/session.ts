import { routes } from '@kivram/contract/routes';
import type { SessionView } from '@kivram/contract/views/people';
import bowser from 'bowser';
import { randomUUID } from 'node:crypto';
import { Router, type Request } from 'express';
import type { Sequelize } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { PersonRow } from '../database/models/person';
import { ApiProblem, notFound } from '../http/apiProblem';
import { serve } from '../http/serve';
import { beginSession, keepSession, sessionToken, type Sessions } from '../http/session';
import { Tries } from '../http/tries';
import { whoAsks } from '../http/who';
import { hashPassword, isPassword } from '../secrets/password';
import { People } from '../services/people';

/** Who works in this browser: chosen at the computer itself, signed in over the network. */
export function sessionRoutes(sequelize: Sequelize, sessions: Sessions): Router {
  const router = Router();
  const people = new People(sequelize);
  const tries = new Tries(sessions.pool);

  serve(router, routes.getSession, ({ request }) => viewSession(request));
  serve(router, routes.chooseMember, async ({ request, body }) => {
    const member = await CrewMemberRow.findOne({ where: { id: body.crewMemberId, leftAt: null } });
    if (!member) throw notFound('crew member');
    await workAs(request, member);
    return viewSession(request);
  });
  serve(router, routes.joinCrew, async ({ params, request, body }) => {
    await workAs(request, await people.joinEmpty(params.jobId ?? '', body.name));
    return viewSession(request);
  });

  serve(router, routes.acceptInvitation, async ({ request, body }) => {
    await countTry(request);
    const person = await people.takeInvitation(body.code, {
      personId: request.who.personId,
      sessionId: request.sessionID,
    });
    if (person) await signIn(request, person, 'invitation');
    return viewSession(request);
  });
  serve(router, routes.signIn, async ({ request, body }) => {
    await countTry(request);
    const name = body.name.trim().toLowerCase();
    await tries.count('person', name);
    const person = await PersonRow.findOne({
      where: sequelize.where(sequelize.fn('lower', sequelize.col('name')), name),
    });
    if (!(await isPassword(body.password, person?.passwordHash ?? null)) || !person)
      throw new ApiProblem(
        403,
        'Not signed in',
        'Name and password do not belong together. Who has no password comes in by an invitation.',
      );
    await tries.forget('person', name);
    await signIn(request, person, 'password');
    return viewSession(request);
  });
  serve(router, routes.setPassword, async ({ request, who, body }) => {
    const person = who.personId ? await PersonRow.findByPk(who.personId) : null;
    if (!person)
      throw new ApiProblem(
        409,
        'Not signed in',
        'At the computer itself nobody needs a password: set it on your phone.',
      );
    // Whoever finds a phone that is signed in must not lock its owner out; one that was just invited may, for passwords are forgotten.
    if (person.passwordHash && !mayReset(request)) {
      await tries.count('person', person.name.toLowerCase());
      if (!(await isPassword(body.before ?? '', person.passwordHash)))
        throw new ApiProblem(
          403,
          'Not the password',
          'The password until now is another one. Who has forgotten it comes in by an invitation.',
        );
    }
    await person.update({ passwordHash: await hashPassword(body.password) });
    // Once is enough: from now on it is asked for.
    request.session.by = 'password';
    await keepSession(request);
    return viewSession(request);
  });
  serve(router, routes.signOut, async ({ request }) => {
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((error) => (error ? reject(error as Error) : resolve())),
    );
    return { isHere: request.who.isHere, person: null, token: null, members: {} };
  });
  serve(router, routes.endSession, async ({ params, who }) => {
    await people.endSession(params.sessionId ?? '', who);
    return { ended: true as const };
  });

  serve(router, routes.people, ({ params, who, request }) =>
    people.list(params.jobId ?? '', who, request.session.shownId),
  );
  serve(router, routes.addPerson, async ({ params, body, author, who, request }) => {
    await people.add(params.jobId ?? '', body, author);
    return people.list(params.jobId ?? '', who, request.session.shownId);
  });
  serve(router, routes.changePerson, async ({ params, body, author, who, request }) => {
    const jobId = await people.change(params.memberId ?? '', body, author);
    return people.list(jobId, who, request.session.shownId);
  });
  serve(router, routes.invite, ({ params, body, who }) => people.invite(params.memberId ?? '', body, who));
  return router;

  async function countTry({ socket }: Request): Promise<void> {
    // The address first: what one address tries too often takes nothing from the others.
    await tries.count('address', socket.remoteAddress ?? 'unknown');
    await tries.count('all', 'all');
  }
}

async function signIn(request: Request, person: PersonRow, by: 'invitation' | 'password'): Promise<void> {
  if (request.who.isHere)
    throw new ApiProblem(
      409,
      'Nobody needs to',
      'At the computer itself nobody signs in: choose who you are at the top of the page.',
    );
  await beginSession(request, {
    shownId: randomUUID(),
    personId: person.id,
    by,
    begunAt: Date.now(),
    device: deviceOf(request.get('user-agent')),
  });
}

/** How long after an invitation a password may be replaced without the one until now, ms. */
const resetMs = 15 * 60_000;

/** Whether a forgotten password may be replaced: by whoever was invited just now. */
function mayReset({ session: { by, begunAt = 0 } }: Request): boolean {
  return by === 'invitation' && Date.now() - begunAt < resetMs;
}

/** Browser and system, as a browser says of itself. */
function deviceOf(userAgent: string | undefined): string {
  if (!userAgent) return 'unknown';
  const { browser, os, platform } = bowser.parse(userAgent.slice(0, 400));
  return [browser.name ?? 'a browser', 'on', platform.model ?? os.name ?? 'something unknown'].join(' ').slice(0, 80);
}

async function viewSession(request: Request): Promise<SessionView> {
  const { isHere, personId, members } = await whoAsks(request);
  const person = personId ? await PersonRow.findByPk(personId) : null;
  return {
    isHere,
    person: person && {
      name: person.name,
      hasPassword: person.passwordHash !== null,
      mayReset: mayReset(request),
    },
    token: person && sessionToken(request),
    members: Object.fromEntries(members),
  };
}

/** From now on a crew member works on their job in this browser, at the computer itself. */
export async function workAs(request: Request, { id, jobId }: Pick<CrewMemberRow, 'id' | 'jobId'>): Promise<void> {
  request.session.crewMemberIds = { ...request.session.crewMemberIds, [jobId]: id };
  await keepSession(request);
}
