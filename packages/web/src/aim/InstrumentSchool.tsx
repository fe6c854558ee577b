import { PathCheckBody } from '@kivram/contract/requests/pathCheck';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { LinkView } from '@kivram/contract/views/link';
import { sendingChannel } from '@kivram/core/air/air';
import { otherEnd, planOf, type End } from '@kivram/core/budget/plan';
import { instrumentSteps, judgeInstruments, predictInstruments } from '@kivram/core/instruments/school';
import { averageCounts, faultsOf, usualSetup, type InstrumentSetup } from '@kivram/core/instruments/setup';
import { withMinus } from '@kivram/core/units/number';
import { Button, Checkbox } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api';
import { useDraft } from '../drafts/useDraft';
import { Figure, typeset } from '../parts/Figure';
import { NumberField, numberIn, type TypedNumber } from '../parts/NumberField';
import { Working } from '../parts/Only';
import { PlainSelect } from '../parts/PlainSelect';
import { Problem } from '../parts/Problem';
import { sendThen, useChange } from '../queries';

type NumberKey = Exclude<keyof InstrumentSetup, 'generatorAt' | 'averages'>;

const fields: readonly [key: NumberKey, label: string, unit: string][] = [
  ['frequencyMHz', 'Frequency', 'MHz'],
  ['generatorDbm', 'Power of the generator', 'dBm'],
  ['generatorCableDb', 'Its cable', 'dB'],
  ['generatorGainDbi', 'Its antenna', 'dBi'],
  ['analyserGainDbi', 'Antenna of the analyser', 'dBi'],
  ['analyserCableDb', 'Its cable', 'dB'],
  ['spanMHz', 'Span', 'MHz'],
  ['bandMHz', 'Band that is read', 'MHz'],
  ['analyserNoiseDbmPerHz', 'Noise it shows of itself', 'dBm/Hz'],
  ['analyserMostDbm', 'Most its input bears', 'dBm'],
];

interface SchoolDraft {
  generatorAt: End;
  averages: InstrumentSetup['averages'];
  numbers: Record<NumberKey, TypedNumber>;
  ticked: boolean[];
  readings: TypedNumber[];
}

function firstDraft({ air, near }: LinkView): SchoolDraft {
  const frequencyMHz = sendingChannel(air, near.radio.role).centreMHz;
  const { generatorAt, averages, ...numbers } = usualSetup(frequencyMHz, near.model.antennaGainDbi);
  return { generatorAt, averages, numbers, ticked: Array<boolean>(12).fill(false), readings: [] };
}

const setupOf = ({ generatorAt, averages, numbers }: SchoolDraft): InstrumentSetup => ({
  generatorAt,
  averages,
  ...(Object.fromEntries(Object.entries(numbers).map(([key, typed]) => [key, numberIn(typed)])) as Record<
    NumberKey,
    number
  >),
});

/** The instrument school: the path is measured with a signal generator and an analyser, also before radios are bought. */
export function InstrumentSchool({ view }: { view: LinkView }) {
  const linkId = view.link.id;
  const kept = useDraft<SchoolDraft>(`link/${linkId}/aim/instruments`, firstDraft(view), '');
  const draft = kept.value;
  const set = (change: Partial<SchoolDraft>): void => kept.set((before) => ({ ...before, ...change }));
  const checks = useQuery({
    queryKey: ['link', linkId, 'path-checks'],
    queryFn: () => call(routes.pathChecks, { linkId }),
  });
  const store = useChange(routes.storePathCheck, { linkId });
  const [wrong, setWrong] = useState<Error | null>(null);
  const setup = setupOf(draft);
  const typed = draft.readings.slice(0, draft.averages);
  const readingsDbm = typed.map(numberIn).filter((dbm) => !Number.isNaN(dbm));
  const isWhole = fields.every(([key]) => !Number.isNaN(setup[key]));
  const prediction = isWhole ? tryInstruments(view, setup) : null;
  const judgement = prediction && judgeInstruments(readingsDbm, prediction, setup);
  const steps = prediction ? instrumentSteps(setup, prediction) : [];
  const body = { setup, ticked: draft.ticked, readingsDbm };
  const submit = (): void => {
    const error = check(PathCheckBody, body).errors?.[0];
    setWrong(error ? new Error(error.message) : null);
    if (!error) sendThen(store, body, () => set({ readings: [], ticked: Array<boolean>(12).fill(false) }));
  };
  return (
    <section aria-label="With a signal generator and an analyser">
      <p className="note">
        The same path with borrowed instruments: it shows before anything is bought whether radios would hear each
        other. Two places and a plan are enough; the radios of the plan need not exist.
      </p>
      <div className="levels-fields" style={{ display: 'flex', flexWrap: 'wrap', gap: '8px 16px', alignItems: 'end' }}>
        <label>
          Generator at the{' '}
          <PlainSelect
            options={[
              { value: 'near', label: `near end, ${view.near.place.name}` },
              { value: 'far', label: `far end, ${view.far.place.name}` },
            ]}
            value={draft.generatorAt}
            onChoose={(value) => set({ generatorAt: value as End })}
          />
        </label>
        <label>
          Readings averaged{' '}
          <PlainSelect
            options={averageCounts.map((count) => ({ value: String(count), label: String(count) }))}
            value={String(draft.averages)}
            onChoose={(value) => set({ averages: Number(value) as InstrumentSetup['averages'] })}
          />
        </label>
        {fields.map(([key, label, unit], i) => (
          <NumberField
            key={key}
            label={label}
            aria-label={
              i === 2
                ? 'Cable of the generator'
                : i === 5
                  ? 'Cable of the analyser'
                  : i === 3
                    ? 'Antenna of the generator'
                    : undefined
            }
            value={draft.numbers[key]}
            onChange={(value) => set({ numbers: { ...draft.numbers, [key]: value } })}
            unit={unit}
            w={180}
            size="sm"
          />
        ))}
      </div>
      {prediction && (
        <p>
          Predicted at the analyser, {otherEnd(draft.generatorAt)} end:{' '}
          <Figure value={prediction.levelDbm} unit="dBm" />; its own noise in the band{' '}
          <Figure value={prediction.noiseDbm} unit="dBm" />
          {prediction.raisedDb > 0.1 && (
            <>
              , which raises what it shows by <Figure value={prediction.raisedDb} unit="dB" />
            </>
          )}
          .
        </p>
      )}
      {!prediction && <p className="problem">Type every figure of the instruments, and repair the path, to predict.</p>}
      {faultsOf(setup).map((fault) => (
        <p key={fault} className="problem" role="alert">
          {fault}
        </p>
      ))}
      {prediction?.isTooStrong && (
        <p className="problem" role="alert">
          More arrives than the analyser’s input bears: less power, or an attenuator in front of it.
        </p>
      )}
      <p className="caution">
        A generator sends: only on frequencies and with power that you may use here, with its output off whenever an
        antenna is touched, and with nobody in front of it. Local codes and licensed practice come first.
      </p>
      <ol className="plain steps-to-tick" aria-label="The twelve steps">
        {steps.map((step, i) => (
          <li key={i}>
            <Checkbox
              label={`${i + 1}. ${withMinus(step)}`}
              checked={draft.ticked[i] ?? false}
              onChange={(event) => {
                const { checked } = event.currentTarget;
                set({ ticked: draft.ticked.map((was, n) => (n === i ? checked : was)) });
              }}
            />
          </li>
        ))}
      </ol>
      <Working jobId={view.link.jobId}>
        <div className="row" style={{ alignItems: 'end', marginTop: 8 }}>
          {Array.from({ length: draft.averages }, (_, i) => (
            <NumberField
              key={i}
              label={`Reading ${i + 1}`}
              value={typed[i] ?? null}
              onChange={(value) =>
                set({ readings: Array.from({ length: 4 }, (__, n) => (n === i ? value : (draft.readings[n] ?? null))) })
              }
              unit="dBm"
              w={120}
              size="sm"
            />
          ))}
          <Button
            size="sm"
            onClick={submit}
            loading={store.isPending}
            disabled={!prediction || readingsDbm.length < draft.averages}
          >
            Store the measurement
          </Button>
        </div>
      </Working>
      {judgement && (
        <p data-testid="path-verdict" data-verdict={judgement.verdict} role="status">
          {withMinus(judgement.words)}
        </p>
      )}
      <Problem error={wrong ?? store.error ?? checks.error} />
      {(checks.data ?? []).map(({ id, at, measuredDbm, predictedDbm, words, ticked }) => (
        <p key={id} className="note">
          {new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}:{' '}
          {measuredDbm === null ? '' : `${typeset(measuredDbm, 1)} dBm of ${typeset(predictedDbm, 1)} predicted. `}
          {withMinus(words)} {ticked.filter(Boolean).length} of 12 steps ticked.
        </p>
      ))}
    </section>
  );
}

function tryInstruments(view: LinkView, setup: InstrumentSetup) {
  try {
    return predictInstruments(planOf(view), setup);
  } catch {
    return null;
  }
}
