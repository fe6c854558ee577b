import { check, PlaceBody, routes, type Place } from '@kivram/contract';
import { CoordinateError, formatDms, parseCoordinate, type Axis } from '@kivram/core';
import { Button, Modal, NumberInput, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';

/** Corrects where a place is; every link that stands on it follows. */
export function PlaceEditor({ place }: { place: Place }) {
  const [opened, { open, close }] = useDisclosure(false);
  return (
    <>
      <Button size="xs" variant="default" onClick={open} aria-label={`Correct the position of ${place.name}`}>
        Correct
      </Button>
      <Modal opened={opened} onClose={close} title={`Where is ${place.name}?`}>
        <PlaceForm place={place} done={close} />
      </Modal>
    </>
  );
}

function PlaceForm({ place, done }: { place: Place; done(): void }) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const change = useChange(routes.changePlace, { placeId: place.id });
  const form = useForm<{ latitude: string; longitude: string; groundHeightM: number | string }>({
    initialValues: {
      latitude: formatDms(place.latitudeDeg, 'latitude'),
      longitude: formatDms(place.longitudeDeg, 'longitude'),
      groundHeightM: Number((place.groundHeightM / perUnit).toFixed(2)),
    },
  });
  const submit = form.onSubmit((values) => {
    const errors: Record<string, string> = {};
    const read = (axis: Axis): number => {
      // What was not touched stays exact: degrees, minutes and seconds round to 3 m.
      if (!form.isDirty(axis)) return place[`${axis}Deg`];
      try {
        return parseCoordinate(values[axis], axis);
      } catch (error) {
        if (!(error instanceof CoordinateError)) throw error;
        errors[axis] = error.message;
        return NaN;
      }
    };
    const body = {
      version: place.version,
      latitudeDeg: read('latitude'),
      longitudeDeg: read('longitude'),
      // What was not touched stays exact; an empty field takes the terrain's height.
      ...(values.groundHeightM === ''
        ? { groundFromTerrain: true }
        : {
            groundHeightM: form.isDirty('groundHeightM') ? Number(values.groundHeightM) * perUnit : place.groundHeightM,
          }),
    };
    for (const { field, message } of check(PlaceBody, body).errors ?? []) errors[field.replace(/Deg$/, '')] ??= message;
    form.setErrors(errors);
    if (!Object.keys(errors).length) change.mutate(body, { onSuccess: done });
  });
  return (
    <form onSubmit={submit} noValidate>
      <TextInput label="Latitude" {...form.getInputProps('latitude')} />
      <TextInput label="Longitude" {...form.getInputProps('longitude')} />
      <NumberInput
        label="Ground above sea level"
        description="empty: as the terrain says"
        suffix={unitSuffix(units)}
        {...form.getInputProps('groundHeightM')}
      />
      <Problem error={change.error} />
      <Button type="submit" mt="md" loading={change.isPending}>
        Save the position
      </Button>
    </form>
  );
}
