import type { RequestHandler } from 'express';
import type { Opening } from '../lan/opening';
import { ApiProblem } from './apiProblem';
import { isHere } from './who';

const localHost = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/**
 * Lets nothing in but this program's own pages. Other sites reach a server on this machine through the browser, by its name or by its address, and so do
 * pages that another program of this machine serves; some requests a browser sends without asking first. So the host must be this machine, and where the browser
 * says where a request comes from (Origin; Sec-Fetch-Site, W3C Fetch Metadata), that must be here. Over the network a change must say so. Opening a page by a link from elsewhere is allowed.
 */
export function onlyOwnPages(opening: Opening | undefined): RequestHandler {
  return (request, _response, next) => {
    const { host = '', origin } = request.headers;
    const here = isHere(request);
    const site = request.get('sec-fetch-site');
    const reads = request.method === 'GET' || request.method === 'HEAD';
    const opensPage = request.method === 'GET' && request.get('sec-fetch-mode') === 'navigate';
    const own = `${here ? 'http' : 'https'}://${host}`;
    const fromHere =
      (origin === own || (origin === undefined && (here || reads))) &&
      (!site || ['same-origin', 'none'].includes(site));
    const isOurs = here ? localHost.test(host) : (opening?.isHost(host) ?? false);
    if (!isOurs || !(fromHere || opensPage)) {
      throw new ApiProblem(
        403,
        'Not from here',
        here
          ? 'Kivram answers to this machine only. Open it by its 127.0.0.1 address.'
          : 'Open Kivram by the address that the computer shows.',
      );
    }
    next();
  };
}
