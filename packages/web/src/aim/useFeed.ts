import type { AlignmentSummary } from '@kivram/contract/views/alignment';
import type { LinkView } from '@kivram/contract/views/link';
import { aimPlanOf } from '@kivram/core/aiming/alignment';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { useRefresh } from '../queries';
import { AimFeed } from './AimFeed';

/** One feed for this alignment, followed while the view is open. */
export function useFeed(view: LinkView, prediction: LinkPrediction, alignment: AlignmentSummary): AimFeed {
  const [feed] = useState(() => {
    const expectedDbm = { near: prediction.near.rslDbm, far: prediction.far.rslDbm };
    const models = { near: view.near.model, far: view.far.model };
    return new AimFeed(alignment.id, ({ levelsFrom }) => aimPlanOf(models, { ...alignment, expectedDbm, levelsFrom }));
  });
  useEffect(() => feed.start(), [feed]);
  useSyncExternalStore(feed.subscribe, feed.snapshot);
  useLatency(feed);
  useEnd(feed);
  return feed;
}

/** An alignment that was ended elsewhere shows its result here too. */
function useEnd(feed: AimFeed): void {
  const refresh = useRefresh();
  const { ended } = feed;
  useEffect(() => {
    if (ended) void refresh();
  }, [ended]); // oxlint-disable-line react/exhaustive-deps -- once, when it ends
}

/** Measures from the moment a reading was taken to the frame after it was drawn; the browser's performance entries hold it. */
function useLatency(feed: AimFeed): void {
  const { lastAtMs } = feed;
  useEffect(() => {
    if (!lastAtMs) return;
    const frame = requestAnimationFrame(() => {
      // The time of day on both sides: where it is set, the page's own clock goes on by itself.
      const end = performance.now();
      const start = end - (Date.now() - lastAtMs);
      if (start > 0) performance.measure('kivram-sample-to-screen', { start, end });
    });
    return () => cancelAnimationFrame(frame);
  }, [lastAtMs]);
}
