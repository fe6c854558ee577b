import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, precacheAndRoute, type PrecacheEntry } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst } from 'workbox-strategies';
import { keptMs, pageCache, photoCache } from './caches';

// The page's own worker: it hands out the page and its files where there is no network. What the server says is kept by the page itself, but for pictures.

/** A worker's own world, as far as it is used here: the compiler knows either that of pages or this one. */
declare const self: {
  __WB_MANIFEST: (PrecacheEntry | string)[];
  skipWaiting(): Promise<void>;
  clients: { claim(): Promise<void> };
  addEventListener(
    type: 'install' | 'activate',
    listener: (event: { waitUntil(work: Promise<unknown>): void }) => void,
  ): void;
};

self.addEventListener('install', () => void self.skipWaiting());
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));

cleanupOutdatedCaches();
precacheAndRoute(self.__WB_MANIFEST);

/** Every screen is the one page. It is kept as it came, with the policy in its headers that its own nonce belongs to. */
const pageKey = '/page';

/** A server that takes longer than this for the page does not answer, ms. */
const patienceMs = 4000;

registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      const cache = await caches.open(pageCache);
      try {
        const page = await fetch(request.url, {
          signal: AbortSignal.timeout(patienceMs),
          credentials: 'same-origin',
          headers: { accept: 'text/html' },
        });
        if (page.ok) await cache.put(pageKey, page.clone());
        return page;
      } catch (error) {
        const kept = await cache.match(pageKey);
        if (kept) return kept;
        throw error;
      }
    },
    { denylist: [/^\/api\//, /\.\w+$/] },
  ),
);

/** A picture never changes; who may see it may have seen it. */
registerRoute(
  ({ url }) => /^\/api\/photos\/[^/]+\/(small|full)\.jpg$/.test(url.pathname),
  new CacheFirst({
    cacheName: photoCache,
    plugins: [new ExpirationPlugin({ maxEntries: 300, maxAgeSeconds: keptMs / 1000 })],
  }),
);
