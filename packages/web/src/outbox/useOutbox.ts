import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useSyncExternalStore } from 'react';
import { isTokenKnown } from '../api';
import { useFollow, useSession, useTrouble } from '../queries';
import { outbox, type Waiting } from './outbox';

/** What waits on this device. */
export function useWaiting(): readonly Waiting[] {
  return useSyncExternalStore(outbox.subscribe, outbox.all);
}

/** Whose changes this browser sends; undefined until the server has said so to this page: what was kept of an earlier session says neither who is signed in now nor what their changes must carry. */
export function useSender(): string | null | undefined {
  const { data, dataUpdatedAt } = useSession();
  // The time is read with it: the same answer again is an answer, too.
  return data && dataUpdatedAt && isTokenKnown() ? (data.person?.name ?? null) : undefined;
}

/** How long until what could not be sent is tried again, ms. */
const againMs = 4000;

/** Sends what waits as soon as the server answers, and what is shown follows. Used once, where every screen has it around it. */
export function useSending(): void {
  const waiting = useWaiting();
  const trouble = useTrouble();
  const by = useSender();
  const follow = useFollow();
  const queries = useQueryClient();
  const isUnknown = by === undefined && waiting.length > 0;
  useEffect(() => {
    if (!isUnknown || trouble) return;
    const again = setInterval(
      () => void queries.refetchQueries({ queryKey: ['session'] }, { cancelRefetch: false }),
      againMs,
    );
    return () => clearInterval(again);
  }, [isUnknown, trouble, queries]);
  const ready = waiting.some((change) => !change.problem && change.by === by);
  useEffect(() => {
    if (by === undefined || trouble || !ready) return;
    const send = (): void => void outbox.flush(by).then((made) => (made.length ? follow(made) : undefined));
    send();
    // A server that was away for less than it takes to notice is tried again by itself.
    const again = setInterval(send, againMs);
    return () => clearInterval(again);
  }, [by, trouble, ready, waiting.length]); // oxlint-disable-line react/exhaustive-deps -- follow is another function every time
}
