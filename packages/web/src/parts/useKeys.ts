import { useEffect, useRef } from 'react';

export type Keys = Record<string, () => void>;

/** Runs an action per key while nothing is being typed. */
export function useKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement | null;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (target?.closest('input, textarea, select, [contenteditable], [role=listbox], [role=combobox]')) return;
      if (event.key === ' ' && target?.closest('button, a')) return;
      const action = current.current[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
