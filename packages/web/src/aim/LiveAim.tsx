import type { MarkBody } from '@kivram/contract/requests/work';
import { routes } from '@kivram/contract/routes';
import { nothingHeardTitle, type AlignmentSummary } from '@kivram/contract/views/alignment';
import type { LinkView } from '@kivram/contract/views/link';
import { aimByEye } from '@kivram/core/aiming/eye';
import type { AngleSource, Turning } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { withMinus } from '@kivram/core/units/number';
import { Button } from '@mantine/core';
import { useState } from 'react';
import { ProblemError } from '../api';
import { newId } from '../changeId';
import { useLevelSources } from '../levels/SourceButton';
import { Working } from '../parts/Only';
import { Problem } from '../parts/Problem';
import { useKeys } from '../parts/useKeys';
import { useChange, useMay } from '../queries';
import { AimNow } from './AimNow';
import { AimTaps } from './AimTaps';
import { BreakOff } from './BreakOff';
import { CrewPanel } from './CrewPanel';
import { PasteTable } from './PasteTable';
import { PhoneSensor } from './PhoneSensor';
import { usePlace } from './place';
import { LobeTrace, MinuteTrace } from './Traces';
import { TypedKeys } from './TypedKeys';
import { useFeed } from './useFeed';
import { usePresence } from './usePresence';
import { canSpeak, useSpeech } from './useSpeech';
import { useTone } from './useTone';
import { useWakeLock } from './useWakeLock';
import { reason, spoken } from './words';

interface Props {
  view: LinkView;
  prediction: LinkPrediction;
  alignment: AlignmentSummary;
}

/** The running alignment: one figure, one sentence, and the taps that go with the hands. */
export function LiveAim({ view, prediction, alignment }: Props) {
  const feed = useFeed(view, prediction, alignment);
  const staysOn = useWakeLock();
  const [place, setPlace] = usePlace(alignment.id);
  const device = usePresence(alignment.id, place);
  const levels = useLevelSources(view.link.id).data;
  const params = { alignmentId: alignment.id };
  const mark = useChange(routes.markAlignment, params);
  const finish = useChange(routes.finishAlignment, params);
  const abandon = useChange(routes.abandonAlignment, params);
  const [toneOn, setToneOn] = useState(false);
  const [voiceOn, setVoiceOn] = useState(false);
  const [whyShown, setWhyShown] = useState(false);

  const { guide, silence } = feed;
  const step = guide?.step;
  const advice = guide?.advice ?? null;
  const end: End = step?.end ?? 'far';
  const isTurn = place === 'both' || place === end;
  const expectedDbm = { near: prediction.near.rslDbm, far: prediction.far.rslDbm };
  const level = silence ? null : (advice?.levelDbm ?? null);
  const shortDb = level === null ? null : expectedDbm[end] - level;
  const source: AngleSource = end === 'near' ? alignment.nearSource : alignment.farSource;
  useTone(toneOn, feed, expectedDbm);
  // A level that was typed stands until the next one.
  const standing = advice && { ...advice, levelDbm: advice.levelDbm ?? feed.latest[end]?.rslDbm ?? null };
  useSpeech(voiceOn, guide && standing ? spoken(guide, standing, isTurn, silence) : null);

  const may = useMay(view.link.jobId);
  const send = (tap: Omit<MarkBody, 'id' | 'end'> & { end?: End }): void => {
    if (may.work) mark.mutate({ id: newId(), end, ...tap });
  };
  const turn = (direction: Turning): void => {
    if (!isTurn) return;
    if (advice?.byTime ?? source === 'none') send({ kind: 'turning', direction });
    else if (source === 'scale' && direction) send({ kind: 'notch', direction });
  };
  useKeys({
    ArrowLeft: () => turn(-1),
    ArrowRight: () => turn(1),
    ' ': () => turn(0),
    l: () => isTurn && send({ kind: 'locked' }),
  });

  if (feed.error && !guide) return <Problem error={feed.error} />;
  if (!guide || !advice) {
    return silence ? (
      <>
        <p className="problem" role="alert">
          {silence}
        </p>
        <Working jobId={view.link.jobId}>
          {feed.isNotReadOn && <ReadOn alignmentId={alignment.id} />}
          <BreakOff alignmentId={alignment.id} />
        </Working>
      </>
    ) : (
      <p className="soft">Waiting for the radios</p>
    );
  }
  const eye = aimByEye(view[end].model.beamWidth, prediction.distanceM);
  const here: End = place === 'both' ? end : place;
  const way = levels?.[here].way;
  return (
    <section aria-label="Aim">
      <div className="aim">
        <AimNow
          view={view}
          feed={feed}
          guide={guide}
          advice={advice}
          place={place}
          angleBy={{ near: alignment.nearSource, far: alignment.farSource }}
          expectedDbm={expectedDbm}
        />
        <LobeTrace feed={feed} guide={guide} end={end} />
        <div className="aim-taps">
          {may.work && step && isTurn && (
            <AimTaps step={step} advice={advice} source={source} hasOtherEnd={alignment.ends.length > 1} send={send} />
          )}
          {may.work && way === 'typed' && (
            <TypedKeys key={here} alignmentId={alignment.id} end={here} lightsDbm={levels?.[here].lightsDbm ?? []} />
          )}
          {may.work && way === 'table' && <PasteTable linkId={view.link.id} alignmentId={alignment.id} end={here} />}
          <div className="aim-pair">
            <button type="button" aria-pressed={toneOn} onClick={() => setToneOn(!toneOn)}>
              tone {toneOn ? 'on' : 'off'}
            </button>
            {canSpeak() && (
              <button type="button" aria-pressed={voiceOn} onClick={() => setVoiceOn(!voiceOn)}>
                voice {voiceOn ? 'on' : 'off'}
              </button>
            )}
            <button type="button" aria-expanded={whyShown} onClick={() => setWhyShown(!whyShown)}>
              why?
            </button>
            {may.work && step && isTurn && eye.enough && shortDb !== null && shortDb < 8 && (
              <button type="button" onClick={() => send({ kind: 'eye' })}>
                good by eye
              </button>
            )}
          </div>
          {whyShown && <p className="note">{withMinus(reason(advice, source))}</p>}
          {may.work && step && isTurn && source === 'phone' && (
            <PhoneSensor
              alignmentId={alignment.id}
              end={end}
              way={way}
              hasAngle={feed.latest[end]?.phoneAzimuthDeg != null}
            />
          )}
          <Working jobId={view.link.jobId}>
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
              {step && isTurn && advice.direction !== 0 && (
                <Button size="md" variant="subtle" onClick={() => send({ kind: 'endStop' })}>
                  It turns no further
                </Button>
              )}
            </div>
          </Working>
          {isNothingHeard(finish.error) ? (
            <div className="caution" role="alert">
              <p>{finish.error.message}</p>
              <Working jobId={view.link.jobId}>
                <div className="row">
                  <Button size="sm" variant="default" onClick={() => finish.reset()}>
                    Read it once more
                  </Button>
                  <Button size="sm" variant="subtle" onClick={() => finish.mutate({ silent: true })}>
                    Store &ldquo;nothing heard&rdquo;
                  </Button>
                </div>
              </Working>
            </div>
          ) : (
            <Problem error={mark.error ?? finish.error ?? abandon.error} />
          )}
          <CrewPanel
            feed={feed}
            device={device}
            place={place}
            onPlace={setPlace}
            send={may.work ? (tap) => send(tap) : null}
          />
          <p className="note" data-testid="screen">
            {staysOn
              ? 'The screen stays on.'
              : 'This browser lets the screen go dark: set the phone so that it does not.'}
          </p>
          {silence && feed.isNotReadOn && may.work && <ReadOn alignmentId={alignment.id} />}
          {!feed.connected && !silence && <p className="problem">The stream is interrupted; trying again.</p>}
        </div>
        <MinuteTrace feed={feed} expectedDbm={expectedDbm} />
      </div>
    </section>
  );
}

/** Whether the server asks if it is meant that an end heard nothing. */
function isNothingHeard(error: unknown): error is ProblemError {
  return error instanceof ProblemError && error.problem.title === nothingHeardTitle;
}

/** Asks the radios on, which the server does not do by itself after it died of them. */
function ReadOn({ alignmentId }: { alignmentId: string }) {
  const readOn = useChange(routes.readOn, { alignmentId });
  return (
    <>
      <Button loading={readOn.isPending} onClick={() => readOn.mutate(undefined)}>
        Ask these radios all the same
      </Button>
      <Problem error={readOn.error} />
    </>
  );
}
