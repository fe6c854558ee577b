import { useEffect, useRef, useState, type RefObject } from 'react';

/**
 * Whether an element has come into view, so that what lies below is loaded after what is seen first.
 * @param patienceMs after which it counts as seen all the same, so that a page which is read aloud or searched has all of it; left out: never
 */
export function useSeen(patienceMs?: number): [RefObject<HTMLDivElement | null>, boolean] {
  const element = useRef<HTMLDivElement>(null);
  const [isSeen, setSeen] = useState(false);
  useEffect(() => {
    if (!element.current) return;
    const observer = new IntersectionObserver((entries) => {
      if (entries.some((entry) => entry.isIntersecting)) setSeen(true);
    });
    observer.observe(element.current);
    const waiting = patienceMs === undefined ? undefined : setTimeout(() => setSeen(true), patienceMs);
    return () => {
      observer.disconnect();
      clearTimeout(waiting);
    };
  }, [patienceMs]);
  return [element, isSeen];
}
