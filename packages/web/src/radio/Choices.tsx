import type { LinkView } from '@kivram/contract/views/link';
import type { End } from '@kivram/core/budget/plan';
import { cables, cableKinds } from '@kivram/core/gear/cable';
import type { Model } from '@kivram/core/gear/model';
import { polarisations, polarisationWords } from '@kivram/core/path/polarisation';
import { metresFrom } from '@kivram/core/units';
import { Button } from '@mantine/core';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { Choice } from '../parts/Choice';
import { Facing, type FacingRow } from '../parts/Facing';
import { NumberField, numberIn, type TypedNumber } from '../parts/NumberField';
import { Range } from '../parts/Range';
import { useSettings } from '../settings';
import { modelFor, type DraftErrors, type PlanDraft } from './planDraft';

const GearChoice = lazy(async () => ({ default: (await import('./GearChoice')).GearChoice }));

export interface ChoicesProps {
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: DraftErrors;
  view: LinkView;
  models: readonly Model[];
}

type NumberKey =
  | 'ConductedDbm'
  | 'CableLossDb'
  | 'CableLengthM'
  | 'Connectors'
  | 'AimOffDeg'
  | 'InterferenceDb'
  | 'MountHeightM';

/** Antennas are slid up to here; higher ones are typed, m. */
const mostSlidM = 40;

/** What is chosen for each radio; it stays where it is while nothing can be computed. */
export function Choices({ draft, set, errors, view, models }: ChoicesProps) {
  const [all, showAll] = useState(() => hasMore(draft));
  const { units } = useSettings();
  const length = units === 'imperial' ? { unit: 'ft', perUnit: metresFrom(units, 1) } : { unit: 'm', perUnit: 1 };
  const number = (side: End, key: NumberKey, label: string, unit: string, perUnit = 1) => (
    <NumberField
      aria-label={`${label} at the ${side} end`}
      value={draft[`${side}${key}`]}
      onChange={(value: TypedNumber) => set(`${side}${key}`)(value)}
      error={errors[`${side}${key}`]}
      unit={unit}
      perUnit={perUnit}
      digits={perUnit === 1 ? 5 : 1}
      step={key === 'ConductedDbm' ? 0.5 : 1}
      w={130}
      size="sm"
    />
  );
  /** Moved by hand, with everything following. */
  const slider = (side: End, key: 'ConductedDbm' | 'MountHeightM', label: string) => {
    const model = modelFor(view[side], draft[`${side}ModelId`], models) ?? view[side].model;
    const typed = numberIn(draft[`${side}${key}`]);
    const [least, most] =
      key === 'ConductedDbm'
        ? [model.leastConductedDbm, model.mostConductedDbm]
        : [0, Math.max(mostSlidM, Math.ceil(view[side].radio.mountHeightM / 10) * 10)];
    return (
      <Range
        className="radio-slider"
        min={least}
        max={most}
        step={0.5}
        value={Math.min(most, Math.max(least, Number.isNaN(typed) ? least : typed))}
        onMove={(value) => set(`${side}${key}`)(value)}
        aria-label={`${label} at the ${side} end, by hand`}
      />
    );
  };
  const both = (of: (side: End) => ReactNode) => ({ near: of('near'), far: of('far') });
  const numbers = (key: NumberKey, name: string, unit: string, perUnit?: number): FacingRow => ({
    key,
    name,
    ...both((side) => number(side, key, name, unit, perUnit)),
  });
  const slid = (key: 'ConductedDbm' | 'MountHeightM', name: string, unit: string, perUnit?: number): FacingRow => ({
    key,
    name,
    ...both((side) => (
      <div className={`radio-slid radio-slid-${side}`}>
        {number(side, key, name, unit, perUnit)}
        {slider(side, key, name)}
      </div>
    )),
  });
  const rows: FacingRow[] = [
    slid('ConductedDbm', 'Conducted power', 'dBm'),
    numbers('CableLossDb', 'Cable loss', 'dB'),
    slid('MountHeightM', 'Height over the ground', length.unit, length.perUnit),
    {
      key: 'polarisation',
      name: 'Polarisation',
      ...both((side) => (
        <Choice
          aria-label={`Polarisation at the ${side} end`}
          data={polarisations.map((value) => ({ value, label: polarisationWords[value] }))}
          value={draft[`${side}Polarisation`]}
          onChoose={(value) => set(`${side}Polarisation`)(value as PlanDraft['nearPolarisation'])}
          w={150}
          size="sm"
        />
      )),
      rule: 'match',
      broken: draft.nearPolarisation !== draft.farPolarisation,
    },
  ];
  const more: FacingRow[] = [
    {
      key: 'gear',
      name: 'Gear',
      ...both((side) => (
        <Suspense>
          <GearChoice
            side={side}
            end={view[side]}
            models={models}
            modelId={draft[`${side}ModelId`]}
            choose={set(`${side}ModelId`)}
          />
        </Suspense>
      )),
    },
    {
      key: 'cable',
      name: 'Cable by its kind, on top',
      ...both((side) => (
        <Choice
          aria-label={`Cable at the ${side} end`}
          data={[
            { value: 'none', label: 'none' },
            ...cableKinds.map((kind) => ({ value: kind, label: cables[kind].words })),
          ]}
          value={draft[`${side}CableKind`]}
          onChoose={(value) => set(`${side}CableKind`)(value as PlanDraft['nearCableKind'])}
          w={190}
          size="sm"
        />
      )),
    },
    ...(draft.nearCableKind === 'none' && draft.farCableKind === 'none'
      ? []
      : [
          {
            key: 'cableLength',
            name: 'Its length, pairs of plugs',
            ...both((side) =>
              draft[`${side}CableKind`] === 'none' ? (
                <span className="note">no cable</span>
              ) : (
                <div className="radio-pair">
                  {number(side, 'CableLengthM', 'Length of the cable', length.unit, length.perUnit)}
                  {number(side, 'Connectors', 'Pairs of plugs', '')}
                </div>
              ),
            ),
          },
        ]),
    numbers('AimOffDeg', 'Aim may be off by', '°'),
    numbers('InterferenceDb', 'Noise that others add', 'dB'),
  ];
  return (
    <>
      <Facing near="Near" far="Far" rows={all ? [...rows, ...more] : rows} />
      <Button variant="subtle" size="compact-sm" onClick={() => showAll(!all)} mt={6} aria-expanded={all}>
        {all ? 'Fewer' : 'Gear, cables, aim and noise'}
      </Button>
    </>
  );
}

/** Whether something is chosen among what is put away. */
function hasMore(draft: PlanDraft): boolean {
  return (['near', 'far'] as const).some(
    (side) =>
      draft[`${side}CableKind`] !== 'none' || draft[`${side}AimOffDeg`] !== 0 || draft[`${side}InterferenceDb`] !== 0,
  );
}
