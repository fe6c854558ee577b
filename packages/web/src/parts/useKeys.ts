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
      const field = target?.closest('input, textarea, select, [contenteditable], [role=listbox], [role=combobox]');
      if (field && !letsThrough(field, event.key)) return;
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

/** A field for one figure, marked by `data-lets-arrows`, has no use for arrows and space while it is empty. */
function letsThrough(field: Element, key: string): boolean {
  return field.matches('input[data-lets-arrows]') && !(field as HTMLInputElement).value && /^(Arrow.*| )$/.test(key);
}
