import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import { ApiProblem } from '../http/apiProblem';
import { EventStream } from '../http/eventStream';
import { serveRaw } from '../http/serve';
import type { NewsDesk, Since } from '../news/newsDesk';

/** Who reads on after so long reads everything anew, s. */
const longestAgoS = 86_400;

export function newsRoutes(news: NewsDesk): Router {
  const router = Router();
  serveRaw(router, routes.jobStream, async ({ params, query, response }) => {
    await news.watch(params.jobId ?? '', sinceOf(query), new EventStream(response));
  });
  return router;
}

/** @throws ApiProblem for what is no number */
function sinceOf({ after, secondsAgo = '0' }: Record<string, string>): Since {
  if (after !== undefined && /^\d{1,15}$/.test(after)) return { number: Number(after) };
  if (after === undefined && /^\d{1,9}(\.\d{1,3})?$/.test(secondsAgo))
    return { secondsAgo: Math.min(Number(secondsAgo), longestAgoS) };
  throw new ApiProblem(
    400,
    'Bad request',
    'Say from where on, as in ?after=17 (the last number that was heard of) or ?secondsAgo=4.',
  );
}
