import { radioKinds } from '@kivram/core/radio/kinds';
import { Button, Switch } from '@mantine/core';
import { useState } from 'react';
import { widthText } from '../parts/channelText';
import { numberIn, NumberField } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { cellKey, emptyCell, standardSteps, type SpecForm, type StepCell } from './specForm';

interface Props {
  form: SpecForm;
  error: string | undefined;
  onChange(changes: Partial<SpecForm>): void;
}

/** From which level on each step works in each width, and with how much power it is sent where that differs. */
export function StepTable({ form, error, onChange }: Props) {
  const [byStep, setByStep] = useState(() => Object.values(form.steps).some((cell) => cell.mostConductedDbm !== null));
  const [better, setBetter] = useState<number | string | null>(null);
  const kind = radioKinds[form.phy];
  const corrections = form.phy === 'NB' ? [false, true] : [false];
  const set = (key: string, changes: Partial<StepCell>): void =>
    onChange({ steps: { ...form.steps, [key]: { ...(form.steps[key] ?? emptyCell), ...changes } } });
  const fill = (): void => {
    const byDb = better === null ? 0 : numberIn(better);
    if (Number.isNaN(byDb)) return;
    const standard = Object.entries(standardSteps(form.phy, form.widthsMHz)).map(([key, cell]): [string, StepCell] => [
      key,
      { ...(form.steps[key] ?? emptyCell), rslDbm: numberIn(cell.rslDbm) - byDb },
    ]);
    onChange({ steps: { ...form.steps, ...Object.fromEntries(standard) } });
  };
  return (
    <>
      <p className="note">
        From which level on a step works (its sensitivity), as the maker prints it. Where nothing is printed, what the
        standard asks of every radio is a careful guess.
      </p>
      <div className="row" style={{ alignItems: 'flex-end', marginBottom: 8 }}>
        <NumberField label="Better than the standard by" unit="dB" w={210} value={better} onChange={setBetter} />
        <Button variant="default" onClick={fill}>
          Fill in from the standard
        </Button>
        <Switch
          label="Fast steps are sent with less power"
          checked={byStep}
          onChange={(event) => setByStep(event.currentTarget.checked)}
        />
      </div>
      <div className="scroll" tabIndex={0} role="region" aria-label="Steps, as a table">
        <table className="ruled spec-steps">
          <thead>
            <tr>
              <th>Step</th>
              {form.widthsMHz.flatMap((width) =>
                corrections.map((corrected) => (
                  <th key={cellKey(0, width, corrected)}>
                    {widthText(width)}
                    {corrected && ', corrected'}, dBm
                  </th>
                )),
              )}
            </tr>
          </thead>
          <tbody>
            {kind.steps.map((mcs) => (
              <tr key={mcs}>
                <th scope="row">{kind.stepName(mcs)}</th>
                {form.widthsMHz.flatMap((width) =>
                  corrections.map((corrected) => {
                    const key = cellKey(mcs, width, corrected);
                    const cell = form.steps[key] ?? emptyCell;
                    const label = `${kind.stepName(mcs)} in ${widthText(width)}${corrected ? ' corrected' : ''}`;
                    return (
                      <td key={key}>
                        <NumberField
                          size="xs"
                          aria-label={`${label}: works from, dBm`}
                          value={cell.rslDbm}
                          onChange={(rslDbm) => set(key, { rslDbm })}
                        />
                        {byStep && (
                          <NumberField
                            size="xs"
                            aria-label={`${label}: sent with at most, dBm`}
                            placeholder="full power"
                            value={cell.mostConductedDbm}
                            onChange={(mostConductedDbm) => set(key, { mostConductedDbm })}
                          />
                        )}
                      </td>
                    );
                  }),
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Problem error={error ? new Error(error) : null} />
    </>
  );
}
