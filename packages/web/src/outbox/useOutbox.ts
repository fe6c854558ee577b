import { useEffect, useSyncExternalStore } from 'react';
import { useFollow, useSession, useTrouble } from '../queries';
import { outbox, type Waiting } from './outbox';

/** What waits on this device. */
export function useWaiting(): readonly Waiting[] {
  return useSyncExternalStore(outbox.subscribe, outbox.all);
}

/** Whose changes this browser sends. */
export function useSender(): string | null | undefined {
  const { data } = useSession();
  return data && (data.person?.name ?? null);
}

/** How long until what could not be sent is tried again, ms. */
const againMs = 4000;

/** Sends what waits as soon as the server answers, and what is shown follows. Used once, where every screen has it around it. */
export function useSending(): void {
  const waiting = useWaiting();
  const trouble = useTrouble();
  const by = useSender();
  const follow = useFollow();
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
