import { usualNeed } from '@kivram/core/need/activity';
import type { Place } from '@kivram/contract/entities/place';
import type { Model } from '@kivram/core/gear/model';
import { Button, Select, TextInput } from '@mantine/core';
import type { UseFormReturnType } from '@mantine/form';
import type { ReactNode } from 'react';
import { NumberField } from '../parts/NumberField';
import { EndFields, EndHeading } from './EndFields';
import { hasOwnAirs, type LinkForm } from './linkForm';

interface Props {
  index: number;
  form: UseFormReturnType<LinkForm>;
  places: readonly Place[];
  models: readonly Model[];
  /** channels to choose from, where each hop has its own */
  channels: { value: string; label: string }[];
  /** the power if none is typed */
  usualDbm: number | undefined;
  /** what is to be expected of it */
  preview: ReactNode;
  onRemove(): void;
}

/** One station of a hub, or one hop of a chain. */
export function HopFields({ index, form, places, models, channels, usualDbm, preview, onRemove }: Props) {
  const { values } = form;
  const hop = values.hops[index];
  if (!hop) return null;
  const what = values.shape === 'hub' ? `Station ${index + 1}` : `Hop ${index + 1}`;
  // Hubs and chains are never licensed pairs.
  const usual = usualNeed(false);
  return (
    <fieldset className="end-fields hop-fields">
      <EndHeading end="far" words={what} />
      <TextInput label="Name of the link" maxLength={80} {...form.getInputProps(`hops.${index}.name`)} />
      <EndFields
        path={`hops.${index}.far`}
        values={hop.far}
        form={form}
        places={places}
        models={models}
        joinable={[]}
        usualDbm={usualDbm}
      />
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <NumberField
          label={values.shape === 'hub' ? 'Needed to the station' : 'Needed outwards'}
          unit="Mbit/s"
          flex={1}
          placeholder={`empty: ${usual.nearToFarMbps}`}
          {...form.getInputProps(`hops.${index}.needNearToFarMbps`)}
        />
        <NumberField
          label="Needed back"
          unit="Mbit/s"
          flex={1}
          placeholder={`empty: ${usual.farToNearMbps}`}
          {...form.getInputProps(`hops.${index}.needFarToNearMbps`)}
        />
      </div>
      {hasOwnAirs(values) && (
        <Select
          label="Channel of this hop"
          description="another one than of the hops beside it"
          data={channels}
          disabled={!channels.length}
          {...form.getInputProps(`hops.${index}.centreMHz`)}
        />
      )}
      {preview}
      {values.hops.length > 1 && (
        <Button size="sm" variant="default" onClick={onRemove} aria-label={`Leave out ${what.toLowerCase()}`}>
          Leave it out
        </Button>
      )}
    </fieldset>
  );
}
