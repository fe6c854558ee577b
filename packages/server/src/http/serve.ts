import { bodyOf } from '@kivram/contract/bodies';
import { refuseText } from '@kivram/contract/plain';
import { changeIdHeader, toldHeader, type Route } from '@kivram/contract/routes/route';
import { check } from '@kivram/contract/validate';
import type { Request, Response, Router } from 'express';
import { randomUUID } from 'node:crypto';
import { authorOf, type Author } from './author';
import { ApiProblem } from './apiProblem';
import type { Who } from './who';

export interface Call<Body> {
  params: Record<string, string>;
  query: Record<string, string>;
  body: Body;
  /** who asks for a change, and under which id */
  author: Author;
  who: Who;
  request: Request;
  response: Response;
}

const uuidPattern = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;
export const isUuid = (text: string): boolean => uuidPattern.test(text);

/** Puts a handler behind a route of the contract: checks identifiers, words and body first, answers with JSON. A route that takes a file leaves it to the handler. */
export function serve<Body, Result>(
  router: Router,
  route: Route<Body, Result>,
  handler: (call: Call<Body>) => Promise<Result> | Result,
): void {
  attach(router, route, async (call) => {
    const answer = await handler(call);
    if (call.author.isTold) call.response.set(toldHeader, call.author.changeId);
    call.response.json(answer);
  });
}

/** The same for a route whose answer is no JSON: the handler writes it. */
export function serveRaw<Body, Result>(
  router: Router,
  route: Route<Body, Result>,
  handler: (call: Call<Body>) => Promise<void> | void,
): void {
  attach(router, route, handler);
}

function attach<Body, Result>(
  router: Router,
  route: Route<Body, Result>,
  handler: (call: Call<Body>) => Promise<void> | void,
): void {
  router[route.method](route.path, async (request, response) => {
    const params = request.params as Record<string, string>;
    for (const [name, value] of Object.entries(params)) checkParameter(route, name, value);
    let body = undefined as Body;
    const bodyClass = bodyOf(route);
    if (bodyClass) {
      const checked = check(bodyClass, request.body ?? {});
      if (checked.errors) {
        throw new ApiProblem(422, 'Not valid', checked.errors.map((e) => e.message).join('. '), checked.errors);
      }
      body = checked.value as Body;
    }
    const query = Object.fromEntries(Object.entries(request.query).map(([k, v]) => [k, wordsOf(v)]));
    await handler({ params, query, body, author: authorFor(request), who: request.who, request, response });
  });
}

function checkParameter(route: Route<unknown, unknown>, name: string, value: string): void {
  const words = route.words?.[name];
  if (words === 'any' ? isShortText(value) : words ? words.includes(value) : isUuid(value)) return;
  throw words && words !== 'any'
    ? new ApiProblem(404, 'Not found', `${name} is "${shorten(value)}": there is ${words.join(' and ')}.`)
    : new ApiProblem(400, 'Bad request', `${name} is "${shorten(value)}", which is no identifier of Kivram's.`);
}

/** What may be a name of something: no longer than names are, and nothing that no text holds. */
function isShortText(value: string): boolean {
  return value.length <= 60 && !refuseText(value);
}

/** Of several values of one name the last counts. @throws ApiProblem for what is no text */
function wordsOf(value: unknown): string {
  const last: unknown = Array.isArray(value) ? value.at(-1) : value;
  if (typeof last === 'string' && !refuseText(last)) return last;
  throw new ApiProblem(400, 'Bad request', 'What stands after the question mark is no plain text.');
}

/** The version of an entry that was looked at before it is removed. @throws ApiProblem when it is not said */
export function versionOf({ version }: Record<string, string>): number {
  if (/^\d{1,9}$/.test(version ?? '')) return Number(version);
  throw new ApiProblem(
    400,
    'Bad request',
    'Say which version was looked at, as in ?version=3: somebody may have changed it since.',
  );
}

const shorten = (text: string): string => (text.length > 60 ? `${text.slice(0, 60)}...` : text);

/** The author of a request: the session's crew member, and the id that the client gave the change. Without one it gets an id, and cannot be repeated safely. */
function authorFor(request: Request): Author {
  const id = request.get(changeIdHeader);
  if (id !== undefined && !isUuid(id)) {
    throw new ApiProblem(400, 'Bad request', `The header ${changeIdHeader} is "${shorten(id)}": it must be a UUID.`);
  }
  const members = [...request.who.members].map(([jobId, member]) => [jobId, member.id]);
  const madeBy = `${request.method} ${request.path} ${request.who.personId ?? 'here'}`;
  return authorOf(id ?? randomUUID(), Object.fromEntries(members) as Record<string, string>, madeBy);
}
