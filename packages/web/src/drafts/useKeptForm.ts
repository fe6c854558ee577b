import { useForm, type UseFormReturnType } from '@mantine/form';
import { useEffect, useRef } from 'react';
import { drafts } from './drafts';

/**
 * A form whose typing outlives its screen.
 * @param key where it is typed, like "job/ID/new-link"
 * @param base the version of what it changes; empty for something new
 */
export function useKeptForm<Values extends Record<string, unknown>>(
  key: string,
  initialValues: Values,
  base = '',
): UseFormReturnType<Values> & { base: string; forget(): void } {
  const kept = useRef(drafts.get(key));
  const form = useForm<Values>({
    initialValues,
    onValuesChange: (value) => {
      const before = drafts.get(key);
      if (before || JSON.stringify(value) !== JSON.stringify(initialValues))
        drafts.keep(key, { base: before?.base ?? base, value });
    },
  });
  const { setValues } = form;
  useEffect(() => {
    if (kept.current) setValues(kept.current.value as Partial<Values>);
  }, []); // eslint-disable-line react-hooks/exhaustive-deps -- once: afterwards the form itself is what was typed
  return {
    ...form,
    base: kept.current?.base ?? base, // eslint-disable-line react-hooks/refs -- read once, before anything was typed here
    forget: () => drafts.drop(key),
  };
}
