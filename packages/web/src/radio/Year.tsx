import type { Outage } from '@kivram/core/budget/availability';
import type { LinkPlan } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { yearOf, type YearStep } from '@kivram/core/budget/year';
import { wallShiftDb } from '@kivram/core/budget/shaft';
import { directions, type Direction } from '@kivram/core/verdict/throughputVerdict';
import { lazy, Suspense, useMemo } from 'react';
import { typeset } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { useSeen } from '../parts/useSeen';
import { Guessed } from './Guessed';
import { shortTime } from './shortTime';

const YearChart = lazy(async () => ({ default: (await import('./YearChart')).YearChart }));

export const directionWords: Record<Direction, string> = { nearToFar: 'near to far', farToNear: 'far to near' };

/** What crosses over an average year: step by step, with the time for which each is not reached, and by what. */
export function Year({ plan, prediction }: { plan: LinkPlan; prediction: LinkPrediction }) {
  const [chart, isSeen] = useSeen();
  const years = useMemo(
    () => ({
      nearToFar: yearOf(plan, prediction, 'nearToFar'),
      farToNear: yearOf(plan, prediction, 'farToNear'),
    }),
    [plan, prediction],
  );
  return (
    <section className="year">
      <h2>An average year</h2>
      <NeedOfYear prediction={prediction} />
      <div ref={chart} style={prediction.ride ? {} : { minHeight: 220 }}>
        {isSeen && !prediction.ride && (
          <Suspense>
            <YearChart years={years} need={plan.need ?? null} />
          </Suspense>
        )}
      </div>
      <div className="columns">
        {directions.map((direction) => (
          <LadderTable key={direction} direction={direction} year={years[direction]} prediction={prediction} />
        ))}
      </div>
    </section>
  );
}

/** The sentence that all of it comes to. */
function NeedOfYear({ prediction: { need, climate, ride } }: { prediction: LinkPrediction }) {
  if (ride)
    return (
      <p>
        In a shaft there is no weather, but its walls shift levels by {wallShiftDb.least} to {wallShiftDb.most} dB along
        the ride (common practice, no source). How long that lasts nobody can reckon: what has less than{' '}
        {wallShiftDb.most} dB to spare may drop somewhere. Ride once and watch the level.
      </p>
    );
  if (!need) return null;
  const { below, fadeDb } = need;
  return (
    <p>
      {fadeDb === -Infinity ? (
        <>The need does not cross even on a clear day.</>
      ) : (
        <>
          Less crosses than is needed for <strong>{shortTime(below.totalMin)}</strong> a year
          <Guessed climate={climate} />: rain {shortTime(below.rainMin)}, several rays {shortTime(below.multipathMin)}.
          It takes a fade of <span className="figure">{typeset(fadeDb, 1)} dB</span> on both levels.
        </>
      )}{' '}
      <span className="note">
        Rain {climate.rainMmPerH} mm/h for 53 minutes a year
        {climate.isGuessed && ' (a guess by the latitude: About the job has the climate)'}, ITU-R P.838-3 and P.530-17;
        both are averages over many years and paths.
      </span>
    </p>
  );
}

function LadderTable({
  direction,
  year,
  prediction,
}: {
  direction: Direction;
  year: readonly YearStep[];
  prediction: LinkPrediction;
}) {
  const reached = (direction === 'nearToFar' ? prediction.far : prediction.near).step;
  const margins = year.map(({ ladder }) => ladder.marginDb);
  const scale = { low: Math.min(0, ...margins), high: Math.max(1, ...margins) };
  return (
    <div>
      <h3 className={direction === 'nearToFar' ? 'far' : 'near'}>{directionWords[direction]}: the ladder of steps</h3>
      <div
        className="ladder-scroll"
        tabIndex={0}
        role="region"
        aria-label={`The ladder of steps ${directionWords[direction]}`}
      >
        <table className="ruled ladder">
          <thead>
            <tr>
              <th>Step</th>
              <th className="right">TCP</th>
              <th className="right">From</th>
              <th>Margin</th>
              <th className="right">
                Not reached, a year
                <Guessed climate={prediction.climate} />
              </th>
            </tr>
          </thead>
          <tbody>
            {year.map(({ ladder, mbps, below }) => (
              <tr key={ladder.step.mcs} className={ladder.step === reached ? 'ladder-now' : ''}>
                <th scope="row">
                  {ladder.step.name}
                  {ladder.step === reached && <span className="visually-hidden">, reached on a clear day</span>}
                </th>
                <td className="right">
                  <Rate mbps={mbps} />
                </td>
                <td className="right figure">{typeset(ladder.fromDbm, 0)} dBm</td>
                <td>
                  <Margin db={ladder.marginDb} scale={scale} />
                </td>
                <td className="right">
                  {prediction.ride ? (
                    <span className="note">{ladder.marginDb < wallShiftDb.most ? 'may drop' : 'not reckoned'}</span>
                  ) : (
                    <span className="figure">{shortTime(below.totalMin)}</span>
                  )}
                  {below.totalMin >= 1 && <span className="ladder-causes">{causesOf(below)}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function causesOf({ clearMin, rainMin, multipathMin }: Outage): string {
  if (clearMin > 0) return 'also on a clear day';
  return `rain ${shortTime(rainMin)}, several rays ${shortTime(multipathMin)}`;
}

/** A margin as a bar from nothing to the right, what is missing to the left; all of a ladder on one scale. */
function Margin({ db, scale: { low, high } }: { db: number; scale: { low: number; high: number } }) {
  const percent = (value: number): number => (100 * (value - low)) / (high - low);
  return (
    <span className="margin">
      <span className="margin-track" aria-hidden="true">
        <span
          className={`margin-bar ${db < 0 ? 'margin-short' : ''}`}
          style={{ left: `${percent(Math.min(0, db))}%`, width: `${percent(Math.abs(db) + low)}%` }}
        />
        <span className="margin-zero" style={{ left: `${percent(0)}%` }} />
      </span>
      <span className="figure">{typeset(db, 0, true)} dB</span>
    </span>
  );
}
