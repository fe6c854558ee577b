import type { QueryClient } from '@tanstack/react-query';

const dayMs = 86_400_000;

/** How long what was read, and a photo that was looked at, can be read again without a network. */
export const keptMs = 14 * dayMs;

/** What the page's worker keeps, by its names in the browser. */
export const pageCache = 'kivram-page';
export const photoCache = 'kivram-photos';

/** Puts the page's worker to work. A browser that does not trust the server's certificate lets none work; then Kivram needs its network. */
export function startWorker(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  navigator.serviceWorker.register('/worker.js').catch(() => undefined);
}

/** Forgets what was read here: the next person on this device sees their own. */
export async function forgetReading(queries: QueryClient): Promise<void> {
  queries.clear();
  if ('caches' in window) await caches.delete(photoCache);
}
