import type { LinkPrediction } from '@kivram/core/budget/prediction';
import type { ReactNode } from 'react';
import { typeset } from '../parts/Figure';
import { rateText } from '../parts/channelText';
import { StateMark } from '../parts/StateMark';
import { Against } from './Against';
import type { TriedVerdict } from './triedVerdict';
import { Guessed } from './Guessed';
import { needTime } from './shortTime';

/** What a plan comes to, in one line that stays in sight while something is moved; with what it differs by from the plan in place. */
export function Now({
  prediction,
  before,
  verdict,
}: {
  prediction: LinkPrediction;
  before: LinkPrediction | null;
  /** of what is tried; null where nothing is */
  verdict: TriedVerdict | null;
}) {
  const { near, far, nearToFar, farToNear, need } = prediction;
  const was = (of: (of: LinkPrediction) => number): number | null => before && of(before);
  const fadeDb = need?.fadeDb ?? -Infinity;
  return (
    <dl className="radio-now" aria-label="What the plan comes to">
      {verdict && (
        <Part name="tried, not saved">
          <span role="status">
            <StateMark state={verdict.state} because={verdict.broken ?? shortly(verdict)} />
          </span>
        </Part>
      )}
      <Item name="near hears" className="near" now={near.rslDbm} was={was((p) => p.near.rslDbm)} unit="dBm" />
      <Item name="far hears" className="far" now={far.rslDbm} was={was((p) => p.far.rslDbm)} unit="dBm" />
      <RateItem
        name="near to far"
        now={nearToFar.aloneMbps}
        beside={farToNear.aloneMbps}
        was={was((p) => p.nearToFar.aloneMbps)}
      />
      <RateItem
        name="far to near"
        now={farToNear.aloneMbps}
        beside={nearToFar.aloneMbps}
        was={was((p) => p.farToNear.aloneMbps)}
      />
      {Number.isFinite(fadeDb) ? (
        <Item name="may fade by" now={fadeDb} was={was((p) => p.need?.fadeDb ?? NaN)} unit="dB" />
      ) : (
        <Part name="may fade by">
          <span className="radio-now-bad">the need does not cross</span>
        </Part>
      )}
      <Part name="need not met, a year">
        <span className="figure">{needTime(prediction)}</span>
        <Guessed climate={prediction.climate} />
        {before?.need && need && needTime(before) !== needTime(prediction) && (
          <span className="note"> was {needTime(before)}</span>
        )}
      </Part>
    </dl>
  );
}

/** What holds needs no reason here: its figures stand beside it. */
function shortly({ state, because }: TriedVerdict): string | undefined {
  return state === 'holds' ? undefined : because;
}

function Part({ name, className, children }: { name: string; className?: string; children: ReactNode }) {
  return (
    <div>
      <dt className={className}>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

function Item({
  name,
  className,
  now,
  was,
  unit,
  digits = 1,
}: {
  name: string;
  className?: string;
  now: number;
  was: number | null;
  unit: string;
  digits?: number;
}) {
  return (
    <Part name={name} className={className}>
      <span className="figure">
        {typeset(now, digits)} <span className="unit">{unit}</span>
      </span>
      <Against now={now} was={was} digits={digits} />
    </Part>
  );
}

function RateItem({ name, now, beside, was }: { name: string; now: number; beside: number; was: number | null }) {
  const { value, unit, digits } = rateText(now, beside);
  const per = now === 0 ? 1 : value / now;
  return <Item name={name} now={value} was={was === null ? null : was * per} unit={unit} digits={digits} />;
}
