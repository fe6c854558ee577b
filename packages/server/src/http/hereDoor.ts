import { routes } from '@kivram/contract/routes';
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { Router, type Request } from 'express';
import { vault } from '../secrets/vault';
import { ApiProblem } from './apiProblem';
import { isHere } from './who';

/** What stands after the question mark of the address that the start command prints. */
const parameter = 'here';

/** A browser that has been let in stays so, s. */
const keptS = 400 * 86_400;

/** Tell nothing of anybody's work: how the server is, and what a made-up radio shows, which is asked for by this server itself. */
const open = [routes.health.path, routes.standinPage.path];

/**
 * At the computer itself a browser shows, too, that it is its owner's: other accounts of this computer reach the same address. The start command prints a token that it makes anew each time; who
 * comes with it gets a cookie, which says nothing but that it was given here.
 * @param token what lets a browser in; without it every browser of this computer is
 */
export function hereDoor(token: string | undefined): Router {
  const router = Router();
  if (!token) return router;
  const secret = vault().derive('here cookies');
  const name = `kivram-here-${secret.slice(0, 8)}`;
  const sign = (id: string): string => createHmac('sha256', secret).update(id).digest('base64url');
  const isGiven = (request: Request): boolean => {
    const [id = '', signature = ''] = cookieOf(request, name).split('.');
    return id !== '' && isSame(signature, sign(id));
  };
  router.get('/', (request, response, next) => {
    const shown = request.query[parameter];
    if (!isHere(request) || typeof shown !== 'string') return next();
    if (isSame(shown, token)) {
      const id = randomBytes(16).toString('base64url');
      response.cookie(name, `${id}.${sign(id)}`, { httpOnly: true, sameSite: 'strict', maxAge: 1000 * keptS });
    }
    // Out of the address, and so out of what a browser remembers.
    response.redirect(303, '/');
  });
  for (const path of open) router.get(path, (_request, _response, next) => next('router'));
  // Found as the routes behind it are, capitals and all: what was compared by hand let "/API" pass.
  router.use('/api', (request, _response, next) => {
    if (!isHere(request) || isGiven(request)) return next();
    throw new ApiProblem(
      401,
      'Not let in yet',
      'Open Kivram by the address that its start command printed last: it ends in a long word, which shows that this browser is yours.',
    );
  });
  return router;
}

function cookieOf(request: Request, name: string): string {
  const cookies = (request.headers.cookie ?? '').split(/; */);
  return cookies.find((cookie) => cookie.startsWith(`${name}=`))?.slice(name.length + 1) ?? '';
}

function isSame(shown: string, wanted: string): boolean {
  const [a, b] = [Buffer.from(shown), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}
