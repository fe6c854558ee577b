import { atLeast } from '@kivram/contract/entities/crewMember';
import { routes } from '@kivram/contract/routes';
import type { Route } from '@kivram/contract/routes/route';
import type { LinkView } from '@kivram/contract/views/link';
import type { SessionView } from '@kivram/contract/views/people';
import type { Health } from '@kivram/contract/views/terrain';
import type { VisitsView } from '@kivram/contract/views/visit';
import type { Position } from '@kivram/core/geodesy/coordinates';
import type { TerrainProfile } from '@kivram/core/terrain/profile';
import {
  keepPreviousData,
  useMutation,
  useQuery,
  useQueryClient,
  type QueryClient,
  type UseMutationResult,
} from '@tanstack/react-query';
import { useState } from 'react';
import { expectNews, followNews, giveNewsUp, isNewest } from './alive/useJobNews';
import { call, carryToken, ProblemError, noAnswer, wasTold } from './api';
import { ChangeIds } from './changeId';
import type { Sending } from './drafts/drafts';
import { KeptError, sendOrKeep, type Made, type RouteName, type Waiting } from './outbox/outbox';
import { withMade } from './visits/madeVisits';

export const useJobs = () => useQuery({ queryKey: ['jobs'], queryFn: () => call(routes.listJobs) });

export const useJob = (jobId: string | undefined) =>
  useQuery({ queryKey: ['job', jobId], queryFn: () => call(routes.getJob, { jobId: jobId ?? '' }), enabled: !!jobId });

/** How many links the job's list shows at a time. */
export const linksShown = 50;

export const useJobLinks = (jobId: string, offset: number, find: string) =>
  useQuery({
    queryKey: ['job', jobId, 'links', offset, find],
    queryFn: () =>
      call(
        routes.jobLinks,
        { jobId },
        undefined,
        `?offset=${offset}&limit=${linksShown}&find=${encodeURIComponent(find)}`,
      ),
    placeholderData: keepPreviousData,
  });

export const useJobMap = (jobId: string) =>
  useQuery({ queryKey: ['job', jobId, 'map'], queryFn: () => call(routes.jobMap, { jobId }) });

export const useJobTimeline = (jobId: string) =>
  useQuery({ queryKey: ['job', jobId, 'timeline'], queryFn: () => call(routes.jobTimeline, { jobId }) });

export const useSession = () => useQuery({ queryKey: ['session'], queryFn: readSession });

async function readSession(): Promise<SessionView> {
  const session = await call(routes.getSession);
  carryToken(session.token);
  return session;
}

/** Takes over what the server says of the session after it changed. */
export function useTakeSession(): (session: SessionView) => void {
  const queries = useQueryClient();
  return (session) => {
    carryToken(session.token);
    queries.setQueryData(['session'], session);
  };
}

/** What whoever works in this browser may do. What they may not is not offered. */
export interface May {
  /** change what belongs to a job, or to none */
  work: boolean;
  /** change the job itself and its people */
  lead: boolean;
  /** it is known that they may change nothing; before it is, ways to where something is changed stay open */
  onlyReads: boolean;
}

/** @param jobId left out, what belongs to no job */
export function useMay(jobId?: string): May {
  const { data } = useSession();
  const job = useJob(jobId || undefined).data;
  if (!data) return { work: false, lead: false, onlyReads: false };
  const parts = jobId === undefined ? Object.values(data.members) : [data.members[jobId]].filter((m) => !!m);
  // At the computer itself a job without a crew asks who works there; one with a crew has somebody chosen in a moment.
  const nobodyYet = job !== undefined && job.crew.every((member) => member.leftAt !== null);
  if (data.isHere && (jobId === undefined || (nobodyYet && !parts.length)))
    return { work: true, lead: true, onlyReads: false };
  const work = parts.some((m) => atLeast(m.role, 'installer'));
  return { work, lead: parts.some((m) => m.role === 'lead'), onlyReads: !work && (parts.length > 0 || !data.isHere) };
}

export const useRuleSets = () =>
  useQuery({ queryKey: ['models', 'law'], queryFn: () => call(routes.listRuleSets), staleTime: Infinity });

/** The rules of a country; null where they are not known, undefined until they are read. */
export const useRuleSet = (country: string | undefined) =>
  useQuery({
    queryKey: ['models', 'law', country],
    queryFn: () => call(routes.ruleSet, { country: country ?? '' }),
    staleTime: Infinity,
    enabled: !!country,
  });

export const useJobLaw = (jobId: string) =>
  useQuery({ queryKey: ['job', jobId, 'law'], queryFn: () => call(routes.jobLaw, { jobId }), enabled: !!jobId });

export const useNeeds = (jobId: string) =>
  useQuery({ queryKey: ['job', jobId, 'needs'], queryFn: () => call(routes.needs, { jobId }), enabled: !!jobId });

export const useModels = () =>
  useQuery({ queryKey: ['models'], queryFn: () => call(routes.listModels), staleTime: Infinity });

export const useCatalogue = () =>
  useQuery({ queryKey: ['models', 'catalogue'], queryFn: () => call(routes.catalogue), staleTime: 0 });

export const useLink = (linkId: string) =>
  useQuery({ queryKey: ['link', linkId], queryFn: () => call(routes.getLink, { linkId }), enabled: linkId !== '' });

/** All links on the air of a link; of use only where there are others. */
export const useAir = (linkId: string, enabled: boolean) =>
  useQuery({ queryKey: ['link', linkId, 'air'], queryFn: () => call(routes.getAir, { linkId }), enabled });

export const useTimeline = (linkId: string) =>
  useQuery({ queryKey: ['link', linkId, 'timeline'], queryFn: () => call(routes.timeline, { linkId }) });

export const useAlignments = (linkId: string) =>
  useQuery({ queryKey: ['link', linkId, 'alignments'], queryFn: () => call(routes.listAlignments, { linkId }) });

export const useTerrain = () => useQuery({ queryKey: ['terrain'], queryFn: () => call(routes.listTerrain) });

/** The ground between two positions; null until it is known, or where it is not. */
export function useProfile(near: Position | null, far: Position | null): TerrainProfile | null {
  const at = ({ latitudeDeg, longitudeDeg }: Position): Position => ({ latitudeDeg, longitudeDeg });
  const body = near && far && { near: at(near), far: at(far) };
  const { data } = useQuery({
    queryKey: ['terrain', 'profile', body],
    queryFn: () => call(routes.terrainProfile, {}, body),
    enabled: !!body,
  });
  return data?.groundM.some((h) => h !== null) ? data : null;
}

export const useServerSettings = () =>
  useQuery({ queryKey: ['settings'], queryFn: () => call(routes.getSettings), staleTime: Infinity });

/** How the server is; it is asked every few seconds. */
const useHealth = () =>
  useQuery({
    queryKey: ['health'],
    queryFn: readHealth,
    refetchInterval: 3000,
    // Once may be a page that loads much: a browser asks one server for six things at a time, and this may wait behind them.
    retry: 1,
    retryDelay: 1000,
  });

/** Why the server cannot work now; null while it can. */
export function useTrouble(): string | null {
  const { data, error } = useHealth();
  if (error) return `${noAnswer} What you have entered stays here, and what can wait is sent when it answers.`;
  return data?.trouble ?? null;
}

/** What will be in the server's way soon; null where nothing is. */
export const useWarning = (): string | null => useHealth().data?.warning ?? null;

/** A server that takes longer to say how it is does not answer, ms. */
const patienceMs = 6000;

/** A server that cannot work says so in words, with a status of failure. */
async function readHealth(): Promise<Health> {
  const answer = await fetch(routes.health.path, { signal: AbortSignal.timeout(patienceMs) });
  return (await answer.json()) as Health;
}

/** Reads everything shown again. */
export function useRefresh(): () => Promise<void> {
  const queries = useQueryClient();
  return () => queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== 'models' });
}

/** Shows what the server has just made, as it answered: it may be gone before it can be asked again, and what it has acknowledged stands on the page all the same. @returns the key of what an answer says whole */
function showMade(queries: QueryClient, { route, params, answer }: Made, isLast = true): string[] | undefined {
  for (const [queryKey] of queries.getQueriesData<VisitsView>({ queryKey: ['job'] })) {
    const [, jobId, of] = queryKey as string[];
    if (!jobId || of !== 'visits') continue;
    queries.setQueryData<VisitsView>(queryKey, (view) => view && withMade(view, jobId, { route, params, answer }));
  }
  if (!isLast || !isLinkView(answer)) return undefined;
  const key = ['link', answer.link.id];
  queries.setQueryData(key, answer);
  return key;
}

/** Whether an answer is a link with everything that its page shows. */
function isLinkView(answer: unknown): answer is LinkView {
  const { link, near, state } = Object(answer) as Partial<LinkView>;
  return !!(link && near && state);
}

/** Shows what the server has just made, and reads everything shown again. */
export function useFollow(): (made: readonly Made[]) => Promise<void> {
  const queries = useQueryClient();
  const refresh = useRefresh();
  return (made) => {
    for (const one of made) showMade(queries, one);
    return refresh();
  };
}

/**
 * Sends a change and calls `then` once it is stored, also where reading everything again has meanwhile put a fresh
 * form in place of the one that sent it. What went wrong stands in the change's `error`.
 * @param whenKept called where it waits on this device: what was typed is in safe hands, though the server has not heard of it
 */
export function sendThen<Body, Answer>(
  change: UseMutationResult<Answer, Error, Body>,
  body: Body,
  then: (answer: Answer) => void,
  whenKept?: () => void,
): void {
  void change.mutateAsync(body).then(then, (error) => void (error instanceof KeptError && whenKept?.()));
}

/**
 * Sends what was typed, and says to it what came of that.
 * @param isKeptEnough it is forgotten as well where it waits on this device
 */
export function sendDraft<Body, Answer>(
  change: UseMutationResult<Answer, Error, Body>,
  body: Body,
  { saved, failed }: Sending,
  isKeptEnough = false,
): void {
  void change
    .mutateAsync(body)
    .then(saved, (error) => (isKeptEnough && error instanceof KeptError ? saved() : failed()));
}

const names = new Map<object, RouteName>(Object.entries(routes).map(([name, route]) => [route, name as RouteName]));

/** A route by the name it has in the table, under which a change of it can wait. */
function nameOfRoute(route: object): RouteName {
  return names.get(route) as RouteName;
}

/** Shows what a change of this page has made: what its answer says, and what is told of it; where nobody tells of it, everything shown is read again. */
function useShow(): (changeId: string, made: Made) => Promise<void> {
  const queries = useQueryClient();
  const refresh = useRefresh();
  return async (changeId, made) => {
    // Somebody else may have changed more, and the page have read that already: an older answer does not take its place.
    const key = showMade(queries, made, isNewest(changeId));
    const { showsItself } = routes[made.route] as Route<unknown, unknown>;
    const isTold = wasTold(changeId);
    if (!isTold) giveNewsUp(changeId);
    if (showsItself || (isTold && (await followNews(changeId, key)))) return;
    await refresh();
  };
}

/** What is to be made, as it may wait on this device. */
type Change<Body, Answer> = {
  route: Route<Body, Answer>;
  params: Record<string, string>;
  query?: string;
  body: unknown;
};

/**
 * Makes changes on the server, each under the id that it is given; what a change moved is shown before it is through. One that may wait is kept on this device where there is no answer.
 * @throws KeptError, ProblemError
 */
export function useMake(): <Body, Answer>(id: string, change: Change<Body, Answer>) => Promise<Answer> {
  const show = useShow();
  const by = useSession().data?.person?.name ?? null;
  return async (id, { route, params, query = '', body }) => {
    const kept = { id, by, route: nameOfRoute(route), params, query, body: body as Waiting['body'], file: undefined };
    expectNews(id);
    try {
      const answer = await sendOrKeep(kept, () => call(route, params, body, query, id));
      await show(id, { route: nameOfRoute(route), params, answer });
      return answer;
    } catch (error) {
      giveNewsUp(id);
      throw error;
    }
  };
}

/**
 * A change on the server; afterwards what it moved is shown, and of what is kept for long what it says.
 * A change that got no answer can be tried again without being made twice; one that may wait is kept on this device and sent when there is an answer.
 * @param also what else is to be read again: the key of what seldom changes
 */
export function useChange<Body, Response>(
  route: Route<Body, Response>,
  params: Record<string, string>,
  query = '',
  also?: string[],
): UseMutationResult<Response, Error, unknown> {
  const refresh = useRefresh();
  const make = useMake();
  const queries = useQueryClient();
  const [ids] = useState(() => new ChangeIds());
  return useMutation({
    mutationFn: (body: unknown) => make(ids.idFor(body), { route, params, query, body }),
    onSuccess: () => {
      ids.settled();
      if (also) void queries.invalidateQueries({ queryKey: also });
    },
    onError: (error) => {
      // A refusal is an answer, and what waits goes its own way; silence is neither.
      if (error instanceof KeptError || (error instanceof ProblemError && error.problem.status > 0)) ids.settled();
      // Somebody else was faster: what they saved is shown beside what was typed here.
      if (error instanceof ProblemError && error.problem.status === 409) void refresh();
    },
  });
}
