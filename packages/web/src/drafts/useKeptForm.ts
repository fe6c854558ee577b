import { useForm, type UseFormReturnType } from '@mantine/form';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { drafts, type Sending } from './drafts';

/** A form whose typing outlives its screen. */
export type KeptForm<Values> = UseFormReturnType<Values> & {
  /** the version that the typing began with */
  base: string;
  /** typed while somebody else saved */
  stale: boolean;
  /** it was sent, or given up */
  forget(): void;
  /** called when it is sent; `then` once it is saved, unless something was typed meanwhile */
  send(then?: () => void): Sending;
  /** gives up what was typed for what is saved now */
  takeSaved(): void;
  /** goes on: what was typed is to replace what is saved now */
  keepMine(): void;
};

/**
 * @param key where it is typed, like "job/ID/new-link"
 * @param saved what it changes, or what something new begins with
 * @param version of what it changes; empty for something new
 */
export function useKeptForm<Values extends Record<string, unknown>>(
  key: string,
  saved: Values,
  version = '',
): KeptForm<Values> {
  const kept = useSyncExternalStore(drafts.subscribe, drafts.all).get(key);
  const [keptBefore] = useState(kept);
  useEffect(() => {
    // What was saved has come: what was typed meanwhile goes on from it.
    if (kept?.after !== undefined && kept.after !== version) drafts.keep(key, { base: version, value: kept.value });
  }, [key, kept, version]);
  const base = kept && kept.after === undefined ? kept.base : version;
  const now = useRef({ saved, version });
  useEffect(() => {
    now.current = { saved, version };
  });
  const form = useForm<Values>({
    initialValues: saved,
    onValuesChange: (value) => {
      const before = drafts.get(key);
      if (before || JSON.stringify(value) !== JSON.stringify(now.current.saved))
        drafts.keep(key, { base: now.current.version, ...before, value });
    },
  });
  const { setValues, setInitialValues } = form;
  useEffect(() => {
    if (keptBefore) setValues(keptBefore.value as Partial<Values>);
  }, []); // oxlint-disable-line react/exhaustive-deps -- once: afterwards the form itself is what was typed
  // What is saved now is shown as long as nothing is typed.
  const shown = useRef(version);
  useEffect(() => {
    if (shown.current === version || drafts.get(key)) return;
    shown.current = version;
    setInitialValues(saved);
    setValues(saved);
  }, [version, kept]); // oxlint-disable-line react/exhaustive-deps -- the version stands for what is saved
  return {
    ...form,
    base,
    stale: kept !== undefined && base !== version && !drafts.isOnTheWay(key) && form.isDirty(),
    forget: () => drafts.drop(key),
    send: (then) => drafts.send(key, then),
    takeSaved: () => {
      form.setInitialValues(saved);
      form.setValues(saved);
      drafts.drop(key);
    },
    keepMine: () => {
      const before = drafts.get(key);
      if (before) drafts.keep(key, { base: version, value: before.value });
    },
  };
}
