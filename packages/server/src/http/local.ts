import type { RequestHandler } from 'express';
import { ApiProblem } from './problem';

const localHost = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/**
 * Lets nothing in but this program's own pages. Other sites reach a server on this machine through the browser, by its name or by its address, and so do
 * pages that another program of this machine serves; some requests a browser sends without asking first. So the host must be this machine, and where the browser
 * says where a request comes from (Origin; Sec-Fetch-Site, W3C Fetch Metadata), that must be here. Opening a page by a link from elsewhere is allowed.
 */
export const onlyLocal: RequestHandler = (request, _response, next) => {
  const { host, origin } = request.headers;
  const site = request.get('sec-fetch-site');
  const opensPage = request.method === 'GET' && request.get('sec-fetch-mode') === 'navigate';
  const fromHere =
    (origin === undefined || origin === `http://${host ?? ''}`) && (!site || ['same-origin', 'none'].includes(site));
  if (!localHost.test(host ?? '') || !(fromHere || opensPage)) {
    throw new ApiProblem(
      403,
      'Not from here',
      'Kivram answers to this machine only. Open it by its 127.0.0.1 address.',
    );
  }
  next();
};
