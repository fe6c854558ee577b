import { routes } from '@kivram/contract/routes';
import { useEffect, useState } from 'react';
import { call } from '../api';
import { newId } from '../changeId';
import type { Place } from './place';

/** It is said so often that somebody is still there, ms: the server forgets who has not been heard of for twice as long. */
const againMs = 5000;

/** Tells the others that this device has the alignment open, and where it is. @returns what this device is called there */
export function usePresence(alignmentId: string, place: Place): string {
  const [device] = useState(newId);
  useEffect(() => {
    const body = { device, end: place === 'both' ? null : place };
    // Who cannot be reached is asked again soon; the stream says what is wrong.
    const say = (): void => void call(routes.joinAlignment, { alignmentId }, body).catch(() => undefined);
    say();
    const timer = window.setInterval(say, againMs);
    return () => window.clearInterval(timer);
  }, [alignmentId, device, place]);
  return device;
}
