import { routes, type Health, type Route } from '@kivram/contract';
import type { Position, TerrainProfile } from '@kivram/core';
import { keepPreviousData, useMutation, useQuery, useQueryClient, type UseMutationResult } from '@tanstack/react-query';
import { useState } from 'react';
import { call, ProblemError } from './api';
import { ChangeIds } from './changeId';

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

export const useSession = () => useQuery({ queryKey: ['session'], queryFn: () => call(routes.getSession) });

export const useRuleSets = () =>
  useQuery({ queryKey: ['models', 'law'], queryFn: () => call(routes.listRuleSets), staleTime: Infinity });

export const useModels = () =>
  useQuery({ queryKey: ['models'], queryFn: () => call(routes.listModels), staleTime: Infinity });

export const useCatalogue = () =>
  useQuery({ queryKey: ['models', 'catalogue'], queryFn: () => call(routes.catalogue), staleTime: 0 });

export const useLink = (linkId: string) =>
  useQuery({ queryKey: ['link', linkId], queryFn: () => call(routes.getLink, { linkId }), enabled: linkId !== '' });

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

/** Why the server cannot work now; null while it can. It is asked every few seconds. */
export function useTrouble(): string | null {
  const { data, error } = useQuery({
    queryKey: ['health'],
    queryFn: readHealth,
    refetchInterval: 3000,
    // Once may be a page that loads much: a browser asks one server for six things at a time, and this may wait behind them.
    retry: 1,
    retryDelay: 1000,
  });
  if (error) return 'The Kivram server does not answer. Is it still running? What you have entered stays here.';
  return data?.trouble ?? null;
}

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

/**
 * Sends a change and calls `then` once it is stored, also where reading everything again has meanwhile put a fresh
 * form in place of the one that sent it. What went wrong stands in the change's `error`.
 */
export function sendThen<Body, Answer>(
  change: UseMutationResult<Answer, Error, Body>,
  body: Body,
  then: (answer: Answer) => void,
): void {
  void change.mutateAsync(body).then(then, () => undefined);
}

/**
 * A change on the server; afterwards everything shown is read again, and of what is kept for long what it says.
 * A change that got no answer can be tried again without being made twice.
 * @param also what else is to be read again: the key of what seldom changes
 */
export function useChange<Body, Response>(
  route: Route<Body, Response>,
  params: Record<string, string>,
  query = '',
  also?: string[],
): UseMutationResult<Response, Error, unknown> {
  const refresh = useRefresh();
  const queries = useQueryClient();
  const [ids] = useState(() => new ChangeIds());
  return useMutation({
    mutationFn: (body: unknown) => call(route, params, body, query, ids.idFor(body)),
    onSuccess: () => {
      ids.settled();
      if (also) void queries.invalidateQueries({ queryKey: also });
      return refresh();
    },
    onError: (error) => {
      // A refusal is an answer; silence is none.
      if (error instanceof ProblemError && error.problem.status > 0) ids.settled();
      // Somebody else was faster: what they saved is shown beside what was typed here.
      if (error instanceof ProblemError && error.problem.status === 409) void refresh();
    },
  });
}
