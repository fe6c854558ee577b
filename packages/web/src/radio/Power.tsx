import { benchPower, benchPowerWords, usualBenchM } from '@kivram/core/budget/benchPower';
import { ends, type End, type LinkPlan } from '@kivram/core/budget/plan';
import { choosePower, type EndPower, type PowerBound, type PowerSharer } from '@kivram/core/budget/power';
import { metresFrom } from '@kivram/core/units';
import { Button } from '@mantine/core';
import { useDeferredValue, useMemo, useState } from 'react';
import { Facing } from '../parts/Facing';
import { Figure, typeset } from '../parts/Figure';
import { KeepOut } from '../parts/KeepOut';
import { NumberField, numberIn, type TypedNumber } from '../parts/NumberField';
import { useSettings } from '../settings';

const boundWords: Record<PowerBound, string> = {
  model: 'its most',
  law: 'the law, antenna taken off',
  overload: 'what the other receiver bears',
  sharer: 'what the receiver there bears',
};

/** The least power that does it, what keeps it from being more, what to set on the bench, and how far to stay out of the beam. */
export function Power({
  plan,
  wantedDb,
  sharers,
  take,
}: {
  plan: LinkPlan;
  wantedDb: number;
  /** links that go through the same radio: its power must do for them, too */
  sharers: readonly PowerSharer[];
  /** left out where nothing may be changed */
  take?: (powers: Record<End, number>) => void;
}) {
  const { units } = useSettings();
  const [apartM, setApartM] = useState<TypedNumber>(usualBenchM);
  // A hub with many stations takes a while: what is being moved does not wait for it.
  const asked = useDeferredValue(useMemo(() => ({ plan, wantedDb, sharers }), [plan, wantedDb, sharers]));
  const choice = useMemo(() => choosePower(asked.plan, asked.wantedDb, asked.sharers), [asked]);
  const distanceM = numberIn(apartM);
  const bench = distanceM > 0 ? benchPower(plan, distanceM) : null;
  const both = <T,>(of: (end: End) => T) => ({ near: of('near'), far: of('far') });
  const isSet = ends.every((end) => Math.abs(plan[end].conductedDbm - choice[end].conductedDbm) < 0.01);
  const impossible = ends.find((end) => choice[end].mostDbm < choice[end].leastDbm - 0.05);
  return (
    <section className="power">
      <h2>Power to set</h2>
      <p>
        {impossible
          ? whyImpossible(choice[impossible], impossible)
          : choice.enough
            ? `The least with which the need is met and both levels may still fade by ${typeset(wantedDb, 0)} dB.`
            : `The most that is allowed, and it is not enough: the levels may fade by ${Number.isFinite(choice.fadeDb) ? `${typeset(choice.fadeDb, 1)} dB` : 'nothing'}, ${typeset(wantedDb, 0)} dB are asked for.`}{' '}
        {take && !impossible && (
          <Button
            size="compact-sm"
            variant="default"
            disabled={isSet}
            onClick={() => take({ near: choice.near.conductedDbm, far: choice.far.conductedDbm })}
          >
            {isSet ? 'Taken' : 'Take these powers'}
          </Button>
        )}
      </p>
      <Facing
        near="Near end"
        far="Far end"
        air="power"
        rows={[
          {
            key: 'least',
            name: <strong>Set</strong>,
            ...both((end) => (
              <strong>
                <Figure value={choice[end].conductedDbm} unit="dBm" />
                {choice[end].askedBy && <span className="note"> for {choice[end].askedBy}</span>}
              </strong>
            )),
            wrong: !!impossible,
          },
          {
            key: 'most',
            name: 'No more than',
            ...both((end) => (
              <span>
                <Figure value={choice[end].mostDbm} unit="dBm" />{' '}
                <span className="note">
                  {boundWords[choice[end].bound]}
                  {choice[end].boundBy && `: ${choice[end].boundBy}`}
                </span>
              </span>
            )),
          },
          {
            key: 'bench',
            name: (
              <span className="radio-bench">
                On a bench, at
                <NumberField
                  aria-label="Distance between the radios on the bench"
                  value={apartM}
                  onChange={setApartM}
                  {...(units === 'imperial' ? { unit: 'ft', perUnit: metresFrom(units, 1) } : { unit: 'm' })}
                  digits={2}
                  w={78}
                  size="xs"
                />
              </span>
            ),
            ...both((end) => (bench ? benchPowerWords(plan, end, bench) : 'how far apart?')),
          },
          { key: 'keepOut', name: 'Keep out of the beam', ...both((end) => <KeepOut plan={plan} end={end} />) },
        ]}
      />
    </section>
  );
}

function whyImpossible({ bound, mostDbm, leastDbm, askedBy, boundBy }: EndPower, end: End): string {
  if (!Number.isFinite(mostDbm)) return 'No power is allowed: this channel is not, for this use.';
  const by = `${typeset(leastDbm - mostDbm, 1)} dB`;
  if (askedBy || boundBy)
    return `No power at the ${end} end does for all that go through this radio: ${askedBy ?? 'its least'} takes ${by} more than ${boundBy ?? 'this link'} bears. Give one of them smaller antennas, or a radio of its own.`;
  return bound === 'overload'
    ? `The least power at the ${end} end is ${by} too strong for the other receiver: take smaller antennas, or turn them away from each other.`
    : `The least power at the ${end} end is ${by} over the legal limit: take a smaller antenna or another channel.`;
}
