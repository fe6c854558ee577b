import { routes } from '@kivram/contract/routes';
import type { RequestHandler } from 'express';
import { setTimeout } from 'node:timers/promises';
import { Turns } from './turns';

/** Questions that are worked on at one time. */
const readsAtOnce = 4;

/** After so long the next one has its turn anyway: whoever takes an answer slowly keeps nobody waiting, ms. */
const patienceMs = 3000;

/** What costs nothing, and waits for nobody. */
const cheap = new Set<string>([routes.health.path, routes.getSettings.path, routes.getSession.path]);
/** What lasts, or has turns of its own. */
const lasting = /\/stream$|\/export$|\.pdf$/;

/** Answers many who ask at once a few at a time, so that radios are read and taps are taken in between. What changes something does not wait. */
export function fewAtOnce(): RequestHandler {
  const turns = new Turns(readsAtOnce);
  return (request, response, next) => {
    const path = request.baseUrl + request.path;
    if (request.method !== 'GET' || cheap.has(path) || lasting.test(path)) return next();
    void turns.run(async () => {
      if (response.closed) return; // given up while it waited
      const over = new Promise((resolve) => response.once('close', resolve));
      next();
      const gone = new AbortController();
      await Promise.race([over, setTimeout(patienceMs, undefined, { signal: gone.signal }).catch(() => undefined)]);
      gone.abort();
    });
  };
}
