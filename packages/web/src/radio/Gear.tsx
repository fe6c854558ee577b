import type { LinkView } from '@kivram/contract/views/link';
import { planWithGear, rankGear, type GearOption, type RankingTerms } from '@kivram/core/budget/gearRanking';
import { ends, type LinkPlan, type End } from '@kivram/core/budget/plan';
import { tryPredict } from '@kivram/core/budget/prediction';
import { bandWords, type Model } from '@kivram/core/gear/model';
import { channelNumber } from '@kivram/core/spectrum/channel';
import { Button } from '@mantine/core';
import { lazy, Suspense, useMemo, useState } from 'react';
import { widthText } from '../parts/channelText';
import { Figure, typeset } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { availabilityText, shortTime } from './shortTime';

const Ledger = lazy(async () => ({ default: (await import('./Ledger')).Ledger }));

/** Models shown before more are asked for. */
const usual = 12;

/** The catalogue, ranked for this path and need: what each would give, or what rules it out and by how much. */
export function Gear({
  view,
  plan,
  models,
  terms,
  take,
}: {
  view: LinkView;
  plan: LinkPlan;
  models: readonly Model[];
  terms: RankingTerms;
  take?: (option: GearOption) => void;
}) {
  const [all, showAll] = useState(false);
  const ranked = useMemo(() => rankGear(plan, models, terms), [plan, models, terms]);
  const able = ranked.filter((option) => !option.ruledOut);
  const least = able.length ? Math.min(...able.map((o) => o.model.antennaGainDbi)) : null;
  const shown = all ? ranked : ranked.slice(0, usual);
  return (
    <section className="gear">
      <h2>Which gear?</h2>
      <p>
        {able.length === 0
          ? `None of ${ranked.length} models does it: the last column says what is missing.`
          : `${able.length} of ${ranked.length} models do it, the cheapest first. The smallest antenna among them has ${typeset(least ?? 0, 0)} dBi.`}{' '}
        <span className="note">
          {terms.onlyEnd
            ? `Each at the ${terms.onlyEnd} end only: others share this air, so channel, width and the other radio stay.`
            : 'Each at both ends, on its narrowest sufficient width.'}{' '}
          At heights and weather of the plan, at the most power that model, law and receivers bear.
        </span>
      </p>
      <div className="scroll" tabIndex={0} role="region" aria-label="The ranked models as a table">
        <table className="ruled gear-table">
          <thead>
            <tr>
              <th>Model</th>
              <th>Verdict</th>
              <th>Channel</th>
              <th className="right">TCP</th>
              <th className="right">May fade</th>
              <th className="right">Of a year</th>
              <th className="right">
                Not, a year{plan.climate?.class === null && <span className="note"> guessed</span>}
              </th>
              <th className="right">Antenna</th>
              <th className="right">{terms.onlyEnd ? 'Costs' : 'Pair costs'}</th>
              <th className="right">Draws</th>
              {take && (
                <th>
                  <span className="visually-hidden">Try it</span>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {shown.map((option) => (
              <GearRow key={option.model.id} option={option} plan={plan} terms={terms} view={view} take={take} />
            ))}
          </tbody>
        </table>
      </div>
      {ranked.length > usual && (
        <Button variant="subtle" size="compact-sm" onClick={() => showAll(!all)}>
          {all ? 'Fewer' : `All ${ranked.length} models`}
        </Button>
      )}
    </section>
  );
}

function GearRow({
  option,
  plan,
  terms,
  view,
  take,
}: {
  option: GearOption;
  plan: LinkPlan;
  terms: RankingTerms;
  view: LinkView;
  take?: (option: GearOption) => void;
}) {
  const [open, setOpen] = useState(false);
  const { model, channel, aloneMbps, fadeDb, belowMin, price, watts, ruledOut } = option;
  const changed = terms.onlyEnd ? [terms.onlyEnd] : ends;
  const inPlace = changed.every((end) => view[end].model.id === model.id);
  return (
    <>
      <tr className={ruledOut ? 'gear-out' : ''}>
        <th scope="row">
          <button type="button" className="ledger-line" aria-expanded={open} onClick={() => setOpen(!open)}>
            {model.maker} {model.name}
          </button>
          {inPlace && <span className="note"> in the plan</span>}
        </th>
        <td>
          <StateMark state={ruledOut ? 'fails' : 'holds'} because={ruledOut?.words ?? 'does it'} />
        </td>
        <td>
          {channel ? (
            <>
              {bandWords[model.band]}
              {model.band !== 'licensed' && `, ${channelNumber(channel)}`}
              <span className="note"> {widthText(channel.widthMHz)}</span>
            </>
          ) : (
            '–'
          )}
        </td>
        <td className="right">{channel ? <Rate mbps={aloneMbps} /> : '–'}</td>
        <td className="right">{Number.isFinite(fadeDb) ? <Figure value={fadeDb} unit="dB" /> : '–'}</td>
        <td className="right figure">{Number.isFinite(fadeDb) && !plan.shaft ? availabilityText(belowMin) : '–'}</td>
        <td className="right figure">{Number.isFinite(fadeDb) && !plan.shaft ? shortTime(belowMin) : '–'}</td>
        <td className="right">
          <Figure value={model.antennaGainDbi} unit="dBi" digits={0} />
        </td>
        <td className="right figure">{price ? `${price.amount} ${price.currency}` : 'not known'}</td>
        <td className="right figure">{watts === null ? 'not known' : `${typeset(watts, 1)} W`}</td>
        {take && (
          <td>
            {channel && !inPlace && (
              <Button size="compact-sm" variant="default" onClick={() => take(option)}>
                Try it
              </Button>
            )}
          </td>
        )}
      </tr>
      {open && (
        <tr>
          <td colSpan={take ? 11 : 10} className="gear-terms">
            <Terms option={option} plan={plan} onlyEnd={terms.onlyEnd} />
          </td>
        </tr>
      )}
    </>
  );
}

/** Both ledgers of a model, from power to level. */
function Terms({ option, plan, onlyEnd }: { option: GearOption; plan: LinkPlan; onlyEnd: End | undefined }) {
  const withGear = planWithGear(plan, option, onlyEnd);
  const prediction = withGear && tryPredict(withGear).prediction;
  if (!prediction) return <p>{option.ruledOut?.words ?? 'It cannot be computed.'}</p>;
  return (
    <Suspense>
      <div className="columns">
        <Ledger title="What arrives at the near end" end="near" prediction={prediction} />
        <Ledger title="What arrives at the far end" end="far" prediction={prediction} />
      </div>
    </Suspense>
  );
}
