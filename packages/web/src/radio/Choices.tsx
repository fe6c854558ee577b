import type { LinkView } from '@kivram/contract';
import { polarisations, polarisationWords, type End, type Polarisation } from '@kivram/core';
import { Select } from '@mantine/core';
import type { ReactNode } from 'react';
import { Facing } from '../parts/Facing';
import { NumberField, type TypedNumber } from '../parts/NumberField';
import type { DraftErrors, PlanDraft } from './planDraft';

interface ChoicesProps {
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: DraftErrors;
  view: LinkView;
}

/** What is chosen for each radio; it stays where it is while nothing can be computed. */
export function Choices({ draft, set, errors, view }: ChoicesProps) {
  const number = (side: End, key: 'ConductedDbm' | 'CableLossDb', unit: string, label: string) => (
    <NumberField
      aria-label={`${label} at the ${side} end`}
      value={draft[`${side}${key}`]}
      onChange={(value: TypedNumber) => set(`${side}${key}`)(value)}
      error={errors[`${side}${key}`]}
      unit={unit}
      w={130}
      size="sm"
    />
  );
  const both = (of: (side: End) => ReactNode) => ({ near: of('near'), far: of('far') });
  return (
    <Facing
      near={`Near: ${view.near.model.maker} ${view.near.model.name}`}
      far={`Far: ${view.far.model.maker} ${view.far.model.name}`}
      rows={[
        {
          key: 'power',
          name: 'Conducted power',
          ...both((side) => number(side, 'ConductedDbm', 'dBm', 'Conducted power')),
        },
        { key: 'cable', name: 'Cable loss', ...both((side) => number(side, 'CableLossDb', 'dB', 'Cable loss')) },
        {
          key: 'polarisation',
          name: 'Polarisation',
          ...both((side) => (
            <Select
              aria-label={`Polarisation at the ${side} end`}
              data={polarisationChoices}
              value={draft[`${side}Polarisation`]}
              onChange={(value) => value && set(`${side}Polarisation`)(value as Polarisation)}
              allowDeselect={false}
              w={150}
              size="sm"
            />
          )),
          rule: 'match',
          broken: draft.nearPolarisation !== draft.farPolarisation,
        },
      ]}
    />
  );
}

const polarisationChoices = polarisations.map((value) => ({ value, label: polarisationWords[value] }));
