import type { AimGuide } from '@kivram/core/aiming/aimGuide';
import type { End } from '@kivram/core/budget/plan';
import { useMemo } from 'react';
import { Chart } from '../parts/Chart';
import type { AimFeed } from './AimFeed';
import { lobeOption, traceOption, type FittedLobe } from './charts';

/** The last minute of both ends. */
export function MinuteTrace({ feed, expectedDbm }: { feed: AimFeed; expectedDbm: Record<End, number> }) {
  // The figure above follows every reading; drawing costs, and a phone on a ladder has one battery.
  const fifthSecond = Math.floor(feed.lastAtMs / 200);
  const trace = useMemo(
    () => traceOption(feed.trace, expectedDbm),
    [fifthSecond], // oxlint-disable-line react/exhaustive-deps -- the feed changes in place, told by its last reading
  );
  return (
    <figure className="aim-minute">
      <figcaption className="note">
        Level, last minute: <span className="near">near</span>, <span className="far">far</span>; dashed: predicted
      </figcaption>
      <Chart option={trace} heightPx={160} label="Level of both ends over the last minute" />
    </figure>
  );
}

/** The level over the angle of the axis in hand, the lobe that was fitted through it, and where the mount is now. */
export function LobeTrace({ feed, guide, end }: { feed: AimFeed; guide: AimGuide; end: End }) {
  const thirdSecond = Math.floor(feed.lastAtMs / 300);
  const lobe = useMemo(
    () => lobeOption(guide.points(), end, fittedLobe(guide), guide.hereDeg, guide.widthDeg ?? 1),
    [thirdSecond, end], // oxlint-disable-line react/exhaustive-deps -- the feed changes in place, told by its last reading
  );
  return (
    <figure className="aim-lobe">
      <figcaption className="note">Level over the angle turned; the curve: the lobe as fitted</figcaption>
      <Chart option={lobe} heightPx={225} label="Level over the angle turned" />
    </figure>
  );
}

function fittedLobe({ advice, widthDeg }: AimGuide): FittedLobe | null {
  const { estimate } = advice;
  if (estimate?.angleDeg == null || widthDeg === null) return null;
  return { deg: estimate.angleDeg, dbm: estimate.peakDbm, widthDeg: estimate.widthRatio * widthDeg };
}
