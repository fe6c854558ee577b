import { hashKey, useQueryClient, type Query, type QueryClient, type QueryKey } from '@tanstack/react-query';
import { useEffect, useSyncExternalStore } from 'react';
import { isAffected, isOfStatesOnly, type SomeNews } from './affected';
import { JobNews } from './JobNews';

/** The news of the job that the page shows; null where it shows none. */
let current: JobNews | null = null;
const listeners = new Set<() => void>();

function setCurrent(news: JobNews | null): void {
  current = news;
  for (const listener of listeners) listener();
}

/** What the answer of a change said already: the key of what was read, by the change's id. */
const answered = new Map<string, string>();

/** Keeps what the page shows of a job as it is on the server, for as long as somebody looks. Used once, where every screen has it around it. */
export function useJobNews(jobId: string | undefined): void {
  const queries = useQueryClient();
  useEffect(() => {
    if (!jobId) return;
    const news = new JobNews(jobId, oldestShown(queries), showing(queries, jobId));
    const stop = news.subscribe(() => listeners.forEach((listener) => listener()));
    // A page that nobody sees holds no line: browsers give one server six in all.
    const follow = (): void => (document.visibilityState === 'hidden' ? news.rest() : news.listen());
    follow();
    document.addEventListener('visibilitychange', follow);
    setCurrent(news);
    return () => {
      document.removeEventListener('visibilitychange', follow);
      stop();
      news.rest();
      setCurrent(null);
    };
  }, [queries, jobId]);
}

/** Whether what others change does not come in now. */
export const useIsLate = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => current?.isLate ?? false,
  );

/** Says to the news that a change is sent from here: what is told of it waits for its answer. */
export const expectNews = (changeId: string): void => current?.expect(changeId);

/** Whether the answer of a change is the newest that there is: nobody has changed anything since it was sent. Where nobody tells, it counts as such. */
export const isNewest = (changeId: string): boolean => current?.isNewest(changeId) ?? true;

/** The change was refused, or got no answer. */
export const giveNewsUp = (changeId: string): void => current?.giveUp(changeId);

/**
 * The change was made.
 * @param key what was read under it is what the answer said
 * @returns whether all that it moved is shown; false where nobody tells of it
 */
export async function followNews(changeId: string, key?: QueryKey): Promise<boolean> {
  if (key) answered.set(changeId, hashKey(key));
  const isShown = (await current?.follow(changeId)) ?? false;
  answered.delete(changeId);
  return isShown;
}

/** What was read before the page was loaded is read again by itself. */
function oldestShown(queries: QueryClient): number {
  const shown = queries.getQueryCache().findAll({ type: 'active' });
  const times = shown.map(({ state }) => state.dataUpdatedAt).filter((time) => time > 0);
  return Math.max(performance.timeOrigin, Math.min(Date.now(), ...times));
}

/** Step states that move later than this after a change moved for another reason: a day that began, a spec sheet, another build, ms. */
const computedMs = 15_000;

function showing(queries: QueryClient, jobId: string): (news: readonly SomeNews[]) => Promise<void> {
  // A link that was read after the last change shows its step states as they are now: that they were computed is nothing new to it.
  let lastMovedAt = -Infinity;
  let unsure = new Set<string>();
  const isKnown = (news: SomeNews, query: Query): boolean => {
    if (news.changeId !== null && answered.get(news.changeId) === query.queryHash) return true;
    const { queryKey, queryHash, state } = query;
    const isLink = queryKey[0] === 'link' && queryKey.length === 2;
    const follows = Date.now() - lastMovedAt < computedMs;
    return isLink && isOfStatesOnly(news) && follows && state.dataUpdatedAt > lastMovedAt && !unsure.has(queryHash);
  };
  return async (news) => {
    if (!news.every(isOfStatesOnly)) {
      lastMovedAt = Date.now();
      unsure = new Set(
        queries
          .getQueryCache()
          .findAll({ fetchStatus: 'fetching' })
          .map(({ queryHash }) => queryHash),
      );
    }
    await queries.invalidateQueries({
      predicate: (query) => news.some((one) => isAffected(one, jobId, query.queryKey) && !isKnown(one, query)),
    });
  };
}
