import type { Problem } from '@kivram/contract/problem';
import { changeIdHeader, fillPath, toldHeader, tokenHeader, type Route } from '@kivram/contract/routes/route';
import { newId } from './changeId';

/** What the server refused, with its problem document. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** Said where nothing answers: at the computer itself its program may have ended; on a roof the network ends first. */
export const noAnswer = ['localhost', '127.0.0.1', '[::1]'].includes(globalThis.location?.hostname ?? 'localhost')
  ? 'The Kivram server does not answer. Is it still running?'
  : 'The computer with Kivram is out of reach from here.';

/** What every change over the network must carry; this page alone knows it. */
let sessionToken: string | null = null;

/** From now on changes carry this token: that of the session, or none at the computer itself. */
export function carryToken(token: string | null): void {
  sessionToken = token;
  tokenKnown = true;
}

let tokenKnown = false;

/** Whether the server has said to this page what changes must carry. */
export const isTokenKnown = (): boolean => tokenKnown;

/** The header that every change carries. */
export const tokenHeaders = (): Record<string, string> => (sessionToken ? { [tokenHeader]: sessionToken } : {});

/** Changes that the server tells the viewers of their job of. */
const told = new Set<string>();

/** Whether what a change moved is told by the stream of its job. It is asked once. */
export const wasTold = (changeId: string): boolean => told.delete(changeId);

/**
 * Calls a route of the contract. A change goes under an id; whoever tries one again gives the id of the first try.
 * @throws ProblemError, also when the server cannot be reached
 */
export function call<Body, Response>(
  route: Route<Body, Response>,
  params: Record<string, string> = {},
  body?: unknown,
  query = '',
  changeId: string = newId(),
): Promise<Response> {
  return ask(fillPath(route.path, params) + query, {
    method: route.method.toUpperCase(),
    headers: {
      ...(body !== undefined && { 'content-type': 'application/json' }),
      ...(route.method !== 'get' && { [changeIdHeader]: changeId, ...tokenHeaders() }),
    },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
}

/** Sends a file as it is to a route that takes one. @throws ProblemError, also when the server cannot be reached */
export function sendFile<Response>(
  route: Route<undefined, Response>,
  file: Blob,
  query = '',
  params: Record<string, string> = {},
  changeId: string = newId(),
): Promise<Response> {
  return ask(fillPath(route.path, params) + query, {
    method: 'POST',
    headers: {
      'content-type': route.takes ?? 'application/octet-stream',
      [changeIdHeader]: changeId,
      ...tokenHeaders(),
    },
    body: file,
  });
}

async function ask<Response>(address: string, request: RequestInit): Promise<Response> {
  let response: globalThis.Response;
  try {
    response = await fetch(address, request);
  } catch {
    throw new ProblemError({
      type: 'about:blank',
      title: 'No answer',
      status: 0,
      detail: `${noAnswer} What you have entered stays here; try again.`,
    });
  }
  const toldAs = response.headers.get(toldHeader);
  if (toldAs) told.add(toldAs);
  const data: unknown = await response.json().catch(() => null);
  if (!response.ok) {
    const problem = data as Problem | null;
    throw new ProblemError(
      problem?.detail
        ? problem
        : {
            type: 'about:blank',
            title: 'Failed',
            status: response.status,
            detail: 'The server answered with something unreadable.',
          },
    );
  }
  return data as Response;
}
