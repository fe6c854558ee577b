import type { QueryClient } from '@tanstack/react-query';

const dayMs = 86_400_000;

/** How long what was read, and a photo that was looked at, can be read again without a network. */
export const keptMs = 14 * dayMs;

/** What the page's worker keeps, by its names in the browser. */
export const pageCache = 'kivram-page';
export const photoCache = 'kivram-photos';

/** Forgets what was read here: the next person on this device sees their own. */
export async function forgetReading(queries: QueryClient): Promise<void> {
  queries.clear();
  if ('caches' in window) await caches.delete(photoCache);
}
