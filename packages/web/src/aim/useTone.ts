import type { End } from '@kivram/core/budget/plan';
import { useEffect } from 'react';
import type { AimFeed } from './AimFeed';
import { pitchHz, soundOf } from './sound';
import { ToneSequence } from './ToneSequence';

/** Where no reading comes, the last advice goes on being heard, but not as if it were known. */
const idleMs = 300;

/**
 * Sounds the advice, so that the eyes can stay on the bolt. It goes by the readings as they come, not by the page being drawn: in a pocket, or behind another page, it
 * sounds on.
 */
export function useTone(on: boolean, feed: AimFeed, expectedDbm: Record<End, number>): void {
  useEffect(() => {
    if (!on) return;
    const audio = new AudioContext();
    const sequence = new ToneSequence(audio);
    const sound = (): void => {
      const { guide, silence } = feed;
      if (!guide || silence) return;
      const advice = guide.advice;
      const { end, axis } = guide.step ?? { end: 'far' as const, axis: 'azimuth' as const };
      const shortDb = advice.levelDbm === null ? null : expectedDbm[end] - advice.levelDbm;
      const heard = soundOf(advice, axis, guide.widthDeg ?? 1);
      sequence.feed(heard, pitchHz(shortDb), `${end} ${axis} ${advice.action} ${advice.direction}`);
    };
    const stop = feed.subscribe(sound);
    const timer = window.setInterval(sound, idleMs);
    return () => {
      stop();
      window.clearInterval(timer);
      void audio.close();
    };
  }, [on, feed]); // oxlint-disable-line react/exhaustive-deps -- what is expected does not change while an alignment runs
}
