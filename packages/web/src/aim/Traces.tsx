import type { End } from '@kivram/core';
import { useMemo } from 'react';
import { Chart } from '../parts/Chart';
import type { AimFeed } from './AimFeed';
import { lobeOption, traceOption } from './charts';

/** The last minute of both ends, and the level over the angle of the axis in hand. */
export function Traces({ feed, expectedDbm, end }: { feed: AimFeed; expectedDbm: Record<End, number>; end: End }) {
  const peak = feed.guide?.advice.estimate;
  // The figure above follows every reading; drawing costs, and a phone on a ladder has one battery.
  const [fifthSecond, halfSecond] = [Math.floor(feed.lastAtMs / 200), Math.floor(feed.lastAtMs / 500)];
  const trace = useMemo(
    () => traceOption(feed.trace, expectedDbm),
    [fifthSecond], // eslint-disable-line react-hooks/exhaustive-deps -- the feed changes in place, told by its last reading
  );
  const lobe = useMemo(
    () =>
      lobeOption(
        feed.guide?.points() ?? [],
        end,
        peak?.angleDeg == null ? null : { x: peak.angleDeg, dbm: peak.peakDbm },
      ),
    [halfSecond, end], // eslint-disable-line react-hooks/exhaustive-deps -- the feed changes in place, told by its last reading
  );
  return (
    <div className="columns aim-traces">
      <figure style={{ margin: 0 }}>
        <figcaption className="note">
          Level, last minute: <span className="near">near</span>, <span className="far">far</span>; dashed: predicted
        </figcaption>
        <Chart option={trace} heightPx={190} label="Level of both ends over the last minute" />
      </figure>
      <figure style={{ margin: 0 }}>
        <figcaption className="note">Level over the angle turned; upright line: the peak as fitted</figcaption>
        <Chart option={lobe} heightPx={190} label="Level over the angle turned" />
      </figure>
    </div>
  );
}
