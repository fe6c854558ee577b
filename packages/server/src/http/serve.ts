import { changeIdHeader, check, type Route } from '@kivram/contract';
import type { Request, Response, Router } from 'express';
import { randomUUID } from 'node:crypto';
import { authorOf, type Author } from './author';
import { ApiProblem } from './problem';

export interface Call<Body> {
  params: Record<string, string>;
  query: Record<string, string>;
  body: Body;
  /** who asks for a change, and under which id */
  author: Author;
  request: Request;
  response: Response;
}

const uuidPattern = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

/** Puts a handler behind a route of the contract: checks ids and body first, answers with JSON. */
export function serve<Body, Result>(
  router: Router,
  route: Route<Body, Result>,
  handler: (call: Call<Body>) => Promise<Result> | Result,
): void {
  router[route.method](route.path, async (request, response) => {
    const params = request.params as Record<string, string>;
    for (const [name, value] of Object.entries(params)) {
      if (!uuidPattern.test(value))
        throw new ApiProblem(400, 'Bad request', `${name} is "${value}", which is no identifier of Kivram's.`);
    }
    let body = undefined as Body;
    if (route.body) {
      const checked = check(route.body, request.body ?? {});
      if (checked.errors) {
        throw new ApiProblem(422, 'Not valid', checked.errors.map((e) => e.message).join('. '), checked.errors);
      }
      body = checked.value as Body;
    }
    const query = Object.fromEntries(Object.entries(request.query).map(([k, v]) => [k, String(v)]));
    const result = await handler({ params, query, body, author: authorFor(request), request, response });
    response.json(result);
  });
}

/** The author of a request: the session's crew member, and the id that the client gave the change. Without one it gets an id, and cannot be repeated safely. */
function authorFor(request: Request): Author {
  const id = request.get(changeIdHeader);
  if (id !== undefined && !uuidPattern.test(id)) {
    throw new ApiProblem(
      400,
      'Bad request',
      `The header ${changeIdHeader} is "${id.slice(0, 60)}": it must be a UUID.`,
    );
  }
  return authorOf(id ?? randomUUID(), request.session?.crewMemberIds);
}
