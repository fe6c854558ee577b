import type { LinkView } from '@kivram/contract/views/link';
import type { Advice } from '@kivram/core/aiming/advice';
import type { AimGuide } from '@kivram/core/aiming/aimGuide';
import type { AngleSource } from '@kivram/core/aiming/reading';
import { otherEnd, type End } from '@kivram/core/budget/plan';
import { Figure, typeset } from '../parts/Figure';
import { SourceButton } from '../levels/SourceButton';
import type { AimFeed } from './AimFeed';
import { Called } from './CrewPanel';
import type { Place } from './place';
import { missingWords, sentence, stepName } from './words';

interface Props {
  view: LinkView;
  feed: AimFeed;
  guide: AimGuide;
  advice: Advice;
  place: Place;
  angleBy: Record<End, AngleSource>;
  expectedDbm: Record<End, number>;
}

/** What to do now, and the figure by which it is done. Whoever stands at the other end is told to hold, and what is done there. */
export function AimNow({ view, feed, guide, advice, place, angleBy, expectedDbm }: Props) {
  const { step } = guide;
  const turnsAt: End = step?.end ?? 'far';
  const axis = step?.axis ?? 'azimuth';
  const isTurn = place === 'both' || place === turnsAt;
  const end = isTurn ? turnsAt : place;
  const { silence } = feed;
  const trouble = feed.sources[end]?.trouble ?? null;
  const level =
    silence || trouble
      ? null
      : isTurn
        ? (advice.levelDbm ?? feed.latest[end]?.rslDbm ?? null)
        : (feed.latest[end]?.rslDbm ?? null);
  const shortDb = level === null ? null : expectedDbm[end] - level;
  const told = feed.latest[end]?.told;
  const missing = isTurn ? missingWords(feed.latest[end], feed.sources[end]?.way, angleBy[end]) : null;
  return (
    <div className={`aim-now ${end}`}>
      <p className="aim-step">
        {step ? stepName(step) : 'Both ends are done'}
        {step && advice.direction !== 0 && guide.speedDegPerS !== null && (
          <span className="soft">, about {typeset(guide.speedDegPerS, guide.speedDegPerS < 2 ? 1 : 0)}° a second</span>
        )}
      </p>
      <Called feed={feed} place={place} />
      <p
        className="aim-words"
        aria-live="polite"
        data-action={guide.finished ? 'finished' : advice.action}
        data-direction={advice.direction}
        data-end={turnsAt}
        data-axis={axis}
      >
        {guide.finished
          ? 'Both ends locked: end and store'
          : silence || (isTurn && trouble)
            ? 'Wait: no reading'
            : isTurn
              ? (missing ?? sentence({ ...advice, levelDbm: level }, axis))
              : 'Hold still: the other end turns'}
      </p>
      {!isTurn && !guide.finished && !silence && (
        <p className="soft">
          At the {turnsAt} end: {sentence(advice, axis)}
        </p>
      )}
      <p className="aim-figure figure" data-testid="aim-level">
        {level === null ? '––' : typeset(level, 0)}
        <span className="unit">dBm</span>
      </p>
      <p className="aim-target">
        {silence ? 'not known now;' : shortDb === null ? 'nothing heard' : <Short db={shortDb} />}{' '}
        <span className="soft">predicted</span> <Figure value={expectedDbm[end]} unit="dBm" />
      </p>
      {silence || trouble ? (
        <p className="problem" role="alert">
          {silence ?? trouble}
        </p>
      ) : (
        <Other feed={feed} end={end} />
      )}
      <p className="note">
        Level of the {end} end: <SourceButton view={view} end={end} />
        {told?.noiseDbm !== undefined && <>, noise {typeset(told.noiseDbm, 0)} dBm</>}
        {told?.rxMbps !== undefined && (
          <>
            , rates {typeset(told.rxMbps, 0)} in and {typeset(told.txMbps ?? 0, 0)} out, Mbit/s
          </>
        )}
      </p>
    </div>
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
  const other = otherEnd(end);
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
