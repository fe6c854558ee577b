import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { drafts, type Sending } from './drafts';

/** Something being edited: what is shown, and how it stands to what is saved. */
export interface Draft<Value> {
  value: Value;
  set(change: (before: Value) => Value): void;
  /** typed, and not what is saved */
  changed: boolean;
  /** what is saved has changed since the typing began */
  stale: boolean;
  /** shows what is saved now, while nothing can be typed */
  peeking: boolean;
  peek(on: boolean): void;
  /** goes on from what is saved now: what was typed replaces it when it is saved */
  rebase(): void;
  /** gives up what was typed */
  drop(): void;
  /** called when it is sent */
  send(): Sending;
  /** the version that the typing began with */
  base: string;
}

/**
 * A draft that outlives its screen.
 * @param key where it is typed, like "link/ID/radio"
 * @param base the version of what is saved
 */
export function useDraft<Value>(key: string, saved: Value, base: string): Draft<Value> {
  const kept = useSyncExternalStore(drafts.subscribe, drafts.all).get(key);
  const [peeking, peek] = useState(false);
  useEffect(() => {
    // What was saved has come: what was typed meanwhile goes on from it.
    if (kept?.after !== undefined && kept.after !== base) drafts.keep(key, { base, value: kept.value });
  }, [key, kept, base]);
  const savedText = useMemo(() => JSON.stringify(saved), [saved]);
  const changed = kept !== undefined && JSON.stringify(kept.value) !== savedText;
  const value = changed && !peeking ? (kept.value as Value) : saved;
  return {
    value,
    changed,
    stale: changed && kept.after === undefined && kept.base !== base && !drafts.isOnTheWay(key),
    peeking: changed && peeking,
    base: changed && kept.after === undefined ? kept.base : base,
    peek,
    set: (change) => {
      const before = drafts.get(key);
      const next = change(before ? (before.value as Value) : saved);
      if (JSON.stringify(next) === savedText) drafts.drop(key);
      else drafts.keep(key, { base, ...before, value: next });
    },
    rebase: () => {
      const before = drafts.get(key);
      if (before) drafts.keep(key, { base, value: before.value });
      peek(false);
    },
    drop: () => {
      drafts.drop(key);
      peek(false);
    },
    send: () => drafts.send(key, () => peek(false)),
  };
}
