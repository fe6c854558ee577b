import { check, NewPlaceBody, PlaceBody, routes, type Place } from '@kivram/contract';
import { CoordinateError, formatDms, formatUtm, parsePosition, type Position } from '@kivram/core';
import { Button, NumberInput, SegmentedControl, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { Problem } from '../parts/Problem';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { sendThen, useChange } from '../queries';
import { useSettings } from '../settings';

interface FormProps {
  jobId: string;
  /** the place to change, or where to put a new one */
  place: Place | null;
  at: Position | null;
  removable?: boolean;
  done(): void;
}

/** A place by name, position in any form, and ground height, which the terrain knows too. */
export function PlaceForm({ jobId, place, at, removable = false, done }: FormProps) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const create = useChange(routes.createPlace, { jobId });
  const change = useChange(routes.changePlace, { placeId: place?.id ?? '' });
  const remove = useChange(routes.removePlace, { placeId: place?.id ?? '' }, `?version=${place?.version ?? ''}`);
  const position = place ?? at;
  const form = useForm<{ name: string; position: string; ground: number | string; kind: Place['kind'] }>({
    initialValues: {
      name: place?.name ?? '',
      position: position ? `${position.latitudeDeg.toFixed(6)}, ${position.longitudeDeg.toFixed(6)}` : '',
      ground: place ? Number((place.groundHeightM / perUnit).toFixed(2)) : '',
      kind: place?.kind ?? 'site',
    },
  });
  const submit = form.onSubmit((values) => {
    const errors: Record<string, string> = {};
    let to: Position = { latitudeDeg: NaN, longitudeDeg: NaN };
    try {
      // What was not touched stays exact.
      to = position && !form.isDirty('position') ? position : parsePosition(values.position);
    } catch (error) {
      if (!(error instanceof CoordinateError)) throw error;
      errors.position = error.message;
    }
    const { latitudeDeg, longitudeDeg } = to;
    const typed = values.ground === '' ? undefined : Number(values.ground) * perUnit;
    const moved = place && (latitudeDeg !== place.latitudeDeg || longitudeDeg !== place.longitudeDeg);
    const common = { name: values.name.trim(), latitudeDeg, longitudeDeg, kind: values.kind };
    const body = place
      ? {
          ...common,
          version: place.version,
          ...(typed === undefined || (moved && !form.isDirty('ground'))
            ? { groundFromTerrain: true }
            : { groundHeightM: form.isDirty('ground') ? typed : place.groundHeightM }),
        }
      : { ...common, ...(typed !== undefined && { groundHeightM: typed }) };
    const { errors: found = [] } = place ? check(PlaceBody, body) : check(NewPlaceBody, body);
    for (const { field, message } of found) {
      const key = field.startsWith('latitude') || field.startsWith('longitude') ? 'position' : field;
      errors[key === 'groundHeightM' ? 'ground' : key] ??= message;
    }
    form.setErrors(errors);
    if (!Object.keys(errors).length) sendThen(place ? change : create, body, done);
  });
  return (
    <form onSubmit={submit} noValidate>
      <TextInput label="Name" data-autofocus {...form.getInputProps('name')} />
      <TextInput
        label="Position"
        description="degrees, degrees and minutes, or UTM like 24 north 607803 3697563"
        {...form.getInputProps('position')}
      />
      {position && !form.errors.position && (
        <p className="note" style={{ margin: '2px 0' }}>
          {formatDms(position.latitudeDeg, 'latitude')} {formatDms(position.longitudeDeg, 'longitude')}, UTM{' '}
          {formatUtm(position)}
        </p>
      )}
      <NumberInput
        label="Ground above sea level"
        description="empty: as the terrain says"
        suffix={unitSuffix(units)}
        {...form.getInputProps('ground')}
      />
      <SegmentedControl
        mt="xs"
        aria-label="What it is"
        data={[
          { value: 'site', label: 'site for radios' },
          { value: 'landmark', label: 'landmark to aim by' },
        ]}
        {...form.getInputProps('kind')}
      />
      <Problem error={create.error ?? change.error ?? remove.error} />
      <div className="row" style={{ marginTop: 10 }}>
        <Button type="submit" loading={create.isPending || change.isPending}>
          {place ? 'Save' : 'Put it there'}
        </Button>
        <Button variant="default" onClick={done}>
          Close
        </Button>
        {place && removable && (
          <Button
            color="red"
            variant="subtle"
            loading={remove.isPending}
            onClick={() => sendThen(remove, undefined, done)}
          >
            Remove
          </Button>
        )}
      </div>
    </form>
  );
}
