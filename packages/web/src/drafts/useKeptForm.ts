import { useForm, type UseFormReturnType } from '@mantine/form';
import { useEffect, useState } from 'react';
import { drafts } from './drafts';

/** A form whose typing outlives its screen. */
export type KeptForm<Values> = UseFormReturnType<Values> & {
  /** the version that the typing began with */
  base: string;
  /** typed while somebody else saved */
  stale: boolean;
  /** it was sent, or given up */
  forget(): void;
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
  const [kept] = useState(() => drafts.get(key));
  const [base, setBase] = useState(kept?.base ?? version);
  const form = useForm<Values>({
    initialValues: saved,
    onValuesChange: (value) => {
      const before = drafts.get(key);
      if (before || JSON.stringify(value) !== JSON.stringify(saved))
        drafts.keep(key, { base: before?.base ?? base, value });
    },
  });
  const { setValues } = form;
  useEffect(() => {
    if (kept) setValues(kept.value as Partial<Values>);
  }, []); // eslint-disable-line react-hooks/exhaustive-deps -- once: afterwards the form itself is what was typed
  return {
    ...form,
    base,
    stale: base !== version && form.isDirty(),
    forget: () => drafts.drop(key),
    takeSaved: () => {
      form.setInitialValues(saved);
      form.setValues(saved);
      drafts.drop(key);
      setBase(version);
    },
    keepMine: () => {
      const before = drafts.get(key);
      if (before) drafts.keep(key, { ...before, base: version });
      setBase(version);
    },
  };
}
