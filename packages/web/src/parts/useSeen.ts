import { useEffect, useRef, useState, type RefObject } from 'react';

/** Whether an element has come into view, so that what is large to load is loaded when somebody looks at it. */
export function useSeen(): [RefObject<HTMLDivElement | null>, boolean] {
  const element = useRef<HTMLDivElement>(null);
  const [isSeen, setSeen] = useState(false);
  useEffect(() => {
    if (!element.current) return;
    const observer = new IntersectionObserver((entries) => {
      if (entries.some((entry) => entry.isIntersecting)) setSeen(true);
    });
    observer.observe(element.current);
    return () => observer.disconnect();
  }, []);
  return [element, isSeen];
}
