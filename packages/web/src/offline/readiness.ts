import { useSyncExternalStore } from 'react';
import { pageCache } from './caches';

/**
 * Whether this device can go on where there is no network: its browser keeps the pages; is still fetching them; does not, since it does not trust the server's
 * certificate; or cannot keep any.
 */
export type Readiness = 'ready' | 'coming' | 'untrusted' | 'unable';

let now: Readiness = 'coming';
const listeners = new Set<() => void>();

function become(next: Readiness): void {
  now = next;
  for (const listener of listeners) listener();
}

/** Puts the page's worker to work, and finds out whether it can. */
export function startWorker(): void {
  if (!import.meta.env.PROD) return;
  if (!('serviceWorker' in navigator)) return become('unable');
  navigator.serviceWorker.register('/worker.js').then(
    async () => {
      await navigator.serviceWorker.ready;
      await keepPage();
      become('ready');
    },
    // Over HTTPS with a certificate that the browser does not trust every worker is refused.
    () => become(window.location.protocol === 'https:' ? 'untrusted' : 'unable'),
  );
}

/** The page that was there before its worker is kept by none: it is asked for once. */
async function keepPage(): Promise<void> {
  const cache = await caches.open(pageCache);
  if (await cache.match('/page')) return;
  const page = await fetch('/', { headers: { accept: 'text/html' } }).catch(() => null);
  if (page?.ok) await cache.put('/page', page);
}

export const useReadiness = (): Readiness =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => now,
  );

export const readinessWords: Record<Readiness, string> = {
  ready: 'Ready to work without the network: what you have opened can be read, and what you enter is sent later.',
  coming: 'Not ready yet to work without the network: the pages are still coming.',
  untrusted:
    'Not ready to work without the network: this browser does not trust the certificate of the computer with Kivram, and keeps no page of it. Install the certificate on this device, as its owner shows under People.',
  unable: 'Not ready to work without the network: this browser keeps no pages of this address.',
};
