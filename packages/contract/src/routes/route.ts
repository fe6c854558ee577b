import type { Answers } from '../answers';
import type { JobRole } from '../entities/crewMember';

type Method = 'get' | 'post' | 'patch' | 'put' | 'delete';

/**
 * Who may ask a route. A role is that in the job which the path names; at the computer itself everybody reads, and what a role is needed for is done as whoever was chosen.
 * `anyone`: nobody needs to be known. `signedIn`: over the network, whoever has signed in. `worker`: over the network, who leads or works on any job. `here`: at the computer itself only.
 */
export type Access = 'anyone' | 'signedIn' | 'worker' | 'here' | JobRole;

/** One route of the API: where it is, what it takes and what it gives. Server and interface both go by this table. */
export interface Route<Body, Response> extends RouteParts {
  method: Method;
  path: string;
  access: Access;
  summary: string;
  /** carry the types only: the classes that bodies are checked by stand in bodies.ts, so that a page loads those it uses */
  readonly body?: Body;
  readonly response?: Response;
}

interface RouteParts {
  /** what may stand after the question mark, in words */
  query?: Record<string, string>;
  /** parameters of the path that are words, with those there are, or any; all others are identifiers */
  words?: Record<string, readonly string[] | 'any'>;
  /** the media type of a body that is a file; it is read as it comes */
  takes?: string;
  /** what this change is called where it waits on a device until there is a network again; without it, it does not wait */
  later?: string;
  /** what it does is shown by a stream, or nowhere: nothing is read again for it */
  showsItself?: true;
  /** the media type of an answer that is no JSON */
  gives?: string;
}

/** A route whose answer stands under its name among the answers. */
export function route<Name extends keyof Answers>() {
  return <Body = undefined>(
    method: Method,
    path: string,
    access: Access,
    summary: string,
    parts: RouteParts = {},
  ): Route<Body, Answers[Name]> => ({ method, path, access, summary, ...parts });
}

/**
 * The header with the id that a client made for a change: repeating a request with it changes nothing and gives the first answer again (the name is that of
 * the IETF draft "The Idempotency-Key HTTP Header Field").
 */
export const changeIdHeader = 'idempotency-key';

/** The header with the token of a session, which every change over the network carries: a page of another origin does not know it. */
export const tokenHeader = 'kivram-token';

/** The header of an answer to a change that the stream of its job tells of, with the change's id. */
export const toldHeader = 'kivram-told';

/** Fills a path's parameters in. */
export function fillPath(path: string, params: Record<string, string>): string {
  return path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
}
