import { routes, type AlignmentSummary, type LinkView, type MarkBody } from '@kivram/contract';
import {
  aimByEye,
  aimPlanOf,
  withMinus,
  type AngleSource,
  type End,
  type LinkPrediction,
  type Turning,
} from '@kivram/core';
import { Button } from '@mantine/core';
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { Chart } from '../parts/Chart';
import { Figure, typeset } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { useKeys } from '../parts/useKeys';
import { newId } from '../changeId';
import { useChange, useRefresh } from '../queries';
import { AimFeed } from './AimFeed';
import { BreakOff } from './BreakOff';
import { lobeOption, traceOption } from './charts';
import { useTone } from './useTone';
import { reason, sentence, side, stepName } from './words';

interface Props {
  view: LinkView;
  prediction: LinkPrediction;
  alignment: AlignmentSummary;
}

/** The running alignment: one figure, one sentence, and the taps that go with the hands. */
export function LiveAim({ view, prediction, alignment }: Props) {
  const feed = useFeed(view, prediction, alignment);
  useSyncExternalStore(feed.subscribe, feed.snapshot);
  useLatency(feed);
  useEnd(feed);
  const params = { alignmentId: alignment.id };
  const mark = useChange(routes.markAlignment, params);
  const finish = useChange(routes.finishAlignment, params);
  const abandon = useChange(routes.abandonAlignment, params);
  const [toneOn, setToneOn] = useState(false);
  const [whyShown, setWhyShown] = useState(false);

  const { guide } = feed;
  const step = guide?.step;
  const advice = guide?.advice ?? null;
  const end: End = step?.end ?? 'far';
  const axis = step?.axis ?? 'azimuth';
  const expectedDbm = { near: prediction.near.rslDbm, far: prediction.far.rslDbm };
  const { silence } = feed;
  const level = silence ? null : (advice?.levelDbm ?? feed.latest[end]?.rslDbm ?? null);
  const shortDb = level === null ? null : expectedDbm[end] - level;
  const source: AngleSource = end === 'near' ? alignment.nearSource : alignment.farSource;
  useTone(toneOn && !silence, advice, shortDb);

  const send = (tap: Omit<MarkBody, 'id' | 'end'>): void => mark.mutate({ id: newId(), end, ...tap });
  const turn = (direction: Turning): void => {
    if (source === 'scale' && direction) send({ kind: 'notch', direction });
    else if (source === 'none') send({ kind: 'turning', direction });
  };
  useKeys({
    ArrowLeft: () => turn(-1),
    ArrowRight: () => turn(1),
    ' ': () => turn(0),
    l: () => send({ kind: 'locked' }),
  });

  if (feed.error && !guide) return <Problem error={feed.error} />;
  if (!guide || !advice) {
    return silence ? (
      <>
        <p className="problem" role="alert">
          {silence}
        </p>
        <BreakOff alignmentId={alignment.id} />
      </>
    ) : (
      <p className="soft">Waiting for the radios</p>
    );
  }
  const eye = aimByEye(view[end].model.beamWidth, prediction.distanceM);
  return (
    <section aria-label="Aim">
      <div className="aim">
        <div className={`aim-now ${end}`}>
          <p className="aim-step">{step ? stepName(step) : 'Both ends are done'}</p>
          <p
            className="aim-words"
            aria-live="polite"
            data-action={guide.finished ? 'finished' : advice.action}
            data-direction={advice.direction}
            data-end={end}
            data-axis={axis}
          >
            {guide.finished ? 'Both ends locked: end and store' : silence ? 'Wait: no reading' : sentence(advice, axis)}
          </p>
          <p className="aim-figure figure" data-testid="aim-level">
            {level === null ? '––' : typeset(level, 0)}
            <span className="unit">dBm</span>
          </p>
          <p className="aim-target">
            {silence ? 'not known now;' : shortDb === null ? 'nothing heard' : <Short db={shortDb} />}{' '}
            <span className="soft">predicted</span> <Figure value={expectedDbm[end]} unit="dBm" />
          </p>
          {silence ? (
            <p className="problem" role="alert">
              {silence}
            </p>
          ) : (
            <Other feed={feed} end={end} />
          )}
        </div>
        <div className="aim-taps">
          {source === 'scale' && step && (
            <div className="aim-pair">
              <button type="button" onClick={() => turn(-1)}>
                notch {side(axis, -1)}
              </button>
              <button type="button" onClick={() => turn(1)}>
                notch {side(axis, 1)}
              </button>
            </div>
          )}
          {source === 'none' && step && (
            <div className="aim-pair">
              <button type="button" onClick={() => turn(-1)}>
                turning {side(axis, -1)}
              </button>
              <button type="button" onClick={() => turn(0)}>
                still
              </button>
              <button type="button" onClick={() => turn(1)}>
                turning {side(axis, 1)}
              </button>
            </div>
          )}
          {step && advice.action === 'otherEnd' && alignment.ends.length > 1 && (
            <button type="button" className="aim-lock" onClick={() => send({ kind: 'otherEnd' })}>
              To the other end
            </button>
          )}
          {step && (
            <button type="button" className="aim-lock" onClick={() => send({ kind: 'locked' })}>
              Locked
            </button>
          )}
          <div className="aim-pair">
            <button type="button" aria-pressed={toneOn} onClick={() => setToneOn(!toneOn)}>
              tone {toneOn ? 'on' : 'off'}
            </button>
            <button type="button" aria-expanded={whyShown} onClick={() => setWhyShown(!whyShown)}>
              why?
            </button>
            {step && eye.enough && shortDb !== null && shortDb < 8 && (
              <button type="button" onClick={() => send({ kind: 'eye' })}>
                good by eye
              </button>
            )}
          </div>
          {whyShown && <p className="note">{withMinus(reason(advice, source))}</p>}
          <div className="row">
            <Button
              size="md"
              loading={finish.isPending}
              onClick={() => finish.mutate({})}
              variant={guide.finished ? 'filled' : 'default'}
            >
              End and store
            </Button>
            <Button size="md" variant="subtle" onClick={() => abandon.mutate({})}>
              Break off
            </Button>
          </div>
          <Problem error={mark.error ?? finish.error ?? abandon.error} />
          {!feed.connected && !silence && <p className="problem">The stream is interrupted; trying again.</p>}
        </div>
      </div>
      <Traces feed={feed} expectedDbm={expectedDbm} end={end} />
    </section>
  );
}

function Short({ db }: { db: number }) {
  if (db > 0.5) {
    return (
      <>
        <Figure value={db} unit="dB" /> short of
      </>
    );
  }
  return <>{db < -0.5 ? 'over the' : 'at the'}</>;
}

/** The other end's level, small: it moves with this one. */
function Other({ feed, end }: { feed: AimFeed; end: End }) {
  const other = end === 'near' ? 'far' : 'near';
  const chains = feed.latest[end]?.chainsDbm ?? [];
  return (
    <p className="note">
      <span className={other}>
        {other} end hears <Figure value={feed.latest[other]?.rslDbm} unit="dBm" digits={0} />
      </span>
      {chains.length > 1 && <>; chains here {chains.map((c) => typeset(c, 0)).join(' and ')} dBm</>}
    </p>
  );
}

function Traces({ feed, expectedDbm, end }: { feed: AimFeed; expectedDbm: Record<End, number>; end: End }) {
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
    <div className="columns" style={{ marginTop: 16 }}>
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

/** One feed for this alignment, followed while the view is open. */
function useFeed(view: LinkView, prediction: LinkPrediction, alignment: AlignmentSummary): AimFeed {
  const [feed] = useState(() => {
    const expectedDbm = { near: prediction.near.rslDbm, far: prediction.far.rslDbm };
    const models = { near: view.near.model, far: view.far.model };
    return new AimFeed(alignment.id, aimPlanOf(models, { ...alignment, expectedDbm }));
  });
  useEffect(() => feed.start(), [feed]);
  return feed;
}

/** An alignment that was ended elsewhere shows its result here too. */
function useEnd(feed: AimFeed): void {
  const refresh = useRefresh();
  const { ended } = feed;
  useEffect(() => {
    if (ended) void refresh();
  }, [ended]); // eslint-disable-line react-hooks/exhaustive-deps -- once, when it ends
}

/** Measures from the moment a reading was taken to the frame after it was drawn; the browser's performance entries hold it. */
function useLatency(feed: AimFeed): void {
  const { lastAtMs } = feed;
  useEffect(() => {
    if (!lastAtMs) return;
    const frame = requestAnimationFrame(() => {
      const start = lastAtMs - performance.timeOrigin;
      if (start > 0) performance.measure('kivram-sample-to-screen', { start, end: performance.now() });
    });
    return () => cancelAnimationFrame(frame);
  }, [lastAtMs]);
}
