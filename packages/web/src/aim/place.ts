import type { End } from '@kivram/core/budget/plan';
import { useState } from 'react';

/** Where whoever holds this device is; `both` for somebody who is alone and goes from one end to the other. */
export type Place = End | 'both';

const key = (alignmentId: string): string => `kivram-aim-at-${alignmentId}`;

/** Where this device is in an alignment. A reload does not move anybody. */
export function usePlace(alignmentId: string): [Place, (place: Place) => void] {
  const [place, setPlace] = useState<Place>(() => {
    const kept = sessionStorage.getItem(key(alignmentId));
    return kept === 'near' || kept === 'far' ? kept : 'both';
  });
  return [
    place,
    (next) => {
      sessionStorage.setItem(key(alignmentId), next);
      setPlace(next);
    },
  ];
}
