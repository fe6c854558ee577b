import { LinkPlanBody } from '@kivram/contract/requests/plan';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { LinkView } from '@kivram/contract/views/link';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { shaftAdvice } from '@kivram/core/budget/shaft';
import { useMemo } from 'react';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { axisFigure, Chart, chartFont, themeColour } from '../parts/Chart';
import { Figure, Height, typeset } from '../parts/Figure';
import { NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { sendDraft, useChange } from '../queries';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';
import { Working } from '../parts/Only';

/** A shaft: a fixed end, a car that comes and goes, the levels over its ride, and what that changes. */
export function ShaftView({ view, prediction }: { view: LinkView; prediction: LinkPrediction }) {
  const ride = useMemo(() => prediction.ride ?? [], [prediction]);
  const { units } = useSettings();
  const first = ride[0];
  const last = ride.at(-1);
  const option = useMemo(() => {
    const perUnit = metresPerUnit(units);
    const line = (end: 'near' | 'far', dash: boolean) => ({
      type: 'line',
      name: end,
      showSymbol: false,
      data: ride.map((p) => [p.distanceM / perUnit, p[end].rslDbm]),
      lineStyle: { width: 2, color: themeColour(end), type: dash ? 'dashed' : 'solid' },
      itemStyle: { color: themeColour(end) },
      markLine: {
        silent: true,
        symbol: 'none',
        label: { formatter: 'overload', color: themeColour('soft'), fontFamily: chartFont },
        lineStyle: { color: themeColour('soft') },
        data: end === 'near' ? [{ yAxis: view.near.model.overloadDbm }] : [],
      },
    });
    const axis = {
      axisLabel: { color: themeColour('soft'), fontFamily: chartFont, formatter: axisFigure },
      nameTextStyle: { color: themeColour('soft') },
    };
    return {
      animation: false,
      grid: { left: 60, right: 70, top: 24, bottom: 44 },
      tooltip: { trigger: 'axis' },
      xAxis: {
        type: 'value',
        name: units === 'metric' ? 'm apart' : 'ft apart',
        nameLocation: 'middle',
        nameGap: 28,
        ...axis,
      },
      yAxis: { type: 'value', name: 'dBm', scale: true, ...axis },
      series: [line('near', false), line('far', true)],
    };
  }, [ride, units, view]);
  if (!first || !last) return null;
  const overloaded = ride.filter((p) => p.near.overloaded || p.far.overloaded);
  return (
    <>
      <p style={{ fontSize: 18 }}>
        From <Height metres={first.distanceM} /> to <Height metres={last.distanceM} /> apart the level falls from{' '}
        <Figure value={first.near.rslDbm} unit="dBm" /> to <Figure value={last.near.rslDbm} unit="dBm" />.
        {overloaded.length > 0 && (
          <strong style={{ color: 'var(--fails)' }}>
            {' '}
            Closer than <Height metres={overloaded.at(-1)?.distanceM ?? 0} /> a receiver is overloaded.
          </strong>
        )}
      </p>
      <div className="columns">
        <section>
          <h2>Levels over the ride</h2>
          <Chart
            option={option}
            heightPx={280}
            label={`Received level over distance: ${typeset(first.near.rslDbm, 1)} dBm at ${first.distanceM} m, ${typeset(last.near.rslDbm, 1)} dBm at ${last.distanceM} m.`}
          />
          <Working jobId={view.link.jobId}>
            <RideEditor view={view} />
          </Working>
        </section>
        <section>
          <h2>What a moving car changes</h2>
          <ul style={{ paddingLeft: 20, margin: 0 }}>
            {shaftAdvice.map((line) => (
              <li key={line} style={{ marginBottom: 6 }}>
                {line}
              </li>
            ))}
          </ul>
        </section>
      </div>
    </>
  );
}

function RideEditor({ view }: { view: LinkView }) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const change = useChange(routes.changePlan, { linkId: view.link.id });
  const { shaftLeastM, shaftMostM, version } = view.link;
  const draft = useDraft<{ shaftLeastM: TypedNumber; shaftMostM: TypedNumber }>(
    `link/${view.link.id}/path-ride`,
    { shaftLeastM: shaftLeastM ?? 1, shaftMostM: shaftMostM ?? 30 },
    String(version),
  );
  const errors = check(LinkPlanBody, { version, ...draft.value }).errors ?? [];
  const save = (): void => {
    if (draft.changed && !draft.stale && !errors.length) sendDraft(change, { version, ...draft.value }, draft.send());
  };
  const field = (key: 'shaftLeastM' | 'shaftMostM', label: string) => (
    <NumberField
      label={label}
      size="sm"
      w={200}
      unit={unitSuffix(units)}
      perUnit={perUnit}
      digits={2}
      value={draft.value[key]}
      onChange={(value) => draft.set((d) => ({ ...d, [key]: value }))}
      error={errors.find((e) => e.field === key)?.message}
      onBlur={save}
      onKeyDown={(event) => event.key === 'Enter' && save()}
    />
  );
  return (
    <div className="row">
      {field('shaftLeastM', 'Antennas closest')}
      {field('shaftMostM', 'Antennas farthest')}
      <Clash draft={draft} what="The ride" />
      <Problem error={change.error} />
    </div>
  );
}
