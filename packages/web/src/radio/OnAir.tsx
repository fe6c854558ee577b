import type { LinksOnAirView } from '@kivram/contract/views/link';
import { predictAir, type MemberPrediction, type AirPrediction } from '@kivram/core/budget/airPrediction';
import { planOf } from '@kivram/core/budget/plan';
import { airRoom } from '@kivram/core/need/sum';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { Figure, typeset } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { Against } from './Against';
import { Guessed } from './Guessed';
import { needTime } from './shortTime';

const roomStates = { room: 'holds', hardly: 'thin', none: 'fails' } as const;

/** All links of a shared air as they are while something is tried on one of them, and how they fit together. */
export function OnAir({
  linkId,
  onAir,
  air,
  isTrying,
}: {
  linkId: string;
  onAir: LinksOnAirView;
  air: AirPrediction;
  isTrying: boolean;
}) {
  const inPlace = useMemo(() => (isTrying ? predictAir(onAir.links.map(planOf)) : null), [isTrying, onAir]);
  // What cannot cross takes no time, and would look like room.
  const stuck = onAir.links.flatMap(({ link }, i) =>
    Number.isFinite(air.members[i]?.prediction?.need?.fadeDb ?? -Infinity) ? [] : [link.name],
  );
  return (
    <section>
      <h2>Everything on this air</h2>
      <p>
        <StateMark
          state={stuck.length ? 'fails' : roomStates[airRoom(air.load)]}
          because={`${stuck.length ? `the need of ${stuck.join(', ')} does not cross; ` : ''}all that is needed takes ${percent(air.load)} of the time${
            inPlace && percent(inPlace.load) !== percent(air.load) ? `, ${percent(inPlace.load)} as it is planned` : ''
          }`}
        />
      </p>
      <div className="scroll" tabIndex={0} role="region" aria-label="Everything on this air, as a table">
        <table className="ruled on-air">
          <thead>
            <tr>
              <th>Link</th>
              <th className="right">Near hears</th>
              <th className="right">Far hears</th>
              <th className="right">Near to far</th>
              <th className="right">Far to near</th>
              <th className="right">Of the time</th>
              <th className="right">May fade by</th>
              <th className="right">Not met, a year</th>
            </tr>
          </thead>
          <tbody>
            {onAir.links.map(({ link }, i) => (
              <tr key={link.id}>
                <th scope="row">
                  {link.id === linkId ? link.name : <Link to={`/links/${link.id}/radio`}>{link.name}</Link>}
                </th>
                <Cells now={air.members[i]} was={inPlace?.members[i]} />
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="note">
        An air is a channel with all who share it. Rates are TCP with all of its time for one direction; each link may
        fade by so much while the others carry what they need.
      </p>
    </section>
  );
}

function Cells({ now, was }: { now: MemberPrediction | undefined; was: MemberPrediction | undefined }) {
  const prediction = now?.prediction;
  if (!prediction) return <td colSpan={7}>cannot be computed: look at its places and heights</td>;
  const { near, far, nearToFar, farToNear, need } = prediction;
  const before = was?.prediction;
  return (
    <>
      <td className="right">
        <Figure value={near.rslDbm} unit="dBm" />
        <Against now={near.rslDbm} was={before?.near.rslDbm} />
      </td>
      <td className="right">
        <Figure value={far.rslDbm} unit="dBm" />
        <Against now={far.rslDbm} was={before?.far.rslDbm} />
      </td>
      <td className="right">
        <Rate mbps={nearToFar.aloneMbps} beside={[farToNear.aloneMbps]} />
        <Against now={nearToFar.aloneMbps} was={before?.nearToFar.aloneMbps} />
      </td>
      <td className="right">
        <Rate mbps={farToNear.aloneMbps} beside={[nearToFar.aloneMbps]} />
        <Against now={farToNear.aloneMbps} was={before?.farToNear.aloneMbps} />
      </td>
      <td className="right figure">{percent(now.load)}</td>
      <td className="right">
        {need && Number.isFinite(need.fadeDb) ? <Figure value={need.fadeDb} unit="dB" /> : 'does not cross'}
        <Against now={need?.fadeDb} was={before?.need?.fadeDb} />
      </td>
      <td className="right">
        <span className="figure">{needTime(prediction)}</span>
        <Guessed climate={prediction.climate} />
      </td>
    </>
  );
}

function percent(load: number): string {
  return `${typeset(100 * load, load < 0.1 ? 1 : 0)} %`;
}
