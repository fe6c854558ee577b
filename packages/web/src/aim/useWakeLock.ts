import { useEffect, useState } from 'react';

/**
 * Keeps the screen on while something is followed on it (W3C Screen Wake Lock): gloves cannot wake a phone. A browser lets go of it whenever the page is hidden; it is asked for again when the page
 * comes back. @returns whether the screen stays on; a browser without it, or with little battery, says no
 */
export function useWakeLock(): boolean {
  const [isHeld, setHeld] = useState(false);
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    let isOver = false;
    const ask = async (): Promise<void> => {
      if (isOver || document.visibilityState !== 'visible' || (lock && !lock.released)) return;
      try {
        // Only pages that came over HTTPS, or from this computer, have it.
        const held = await (navigator as { wakeLock?: WakeLock }).wakeLock?.request('screen');
        if (isOver) return void held?.release();
        lock = held;
        setHeld(!!held);
        held?.addEventListener('release', () => setHeld(false));
      } catch {
        setHeld(false);
      }
    };
    const askAgain = (): void => void ask();
    document.addEventListener('visibilitychange', askAgain);
    askAgain();
    return () => {
      isOver = true;
      document.removeEventListener('visibilitychange', askAgain);
      void lock?.release();
    };
  }, []);
  return isHeld;
}
