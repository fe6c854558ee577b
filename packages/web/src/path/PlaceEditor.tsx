import { check, PlaceBody, routes, type Place } from '@kivram/contract';
import { CoordinateError, formatDms, parseCoordinate, type Axis } from '@kivram/core';
import { Button, Modal, NumberInput, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDisclosure } from '@mantine/hooks';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';
import { useSettings } from '../settings';

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
  const { crewMemberId } = useSettings();
  const change = useChange(routes.changePlace, { placeId: place.id });
  const form = useForm<{ latitude: string; longitude: string; groundHeightM: number | string }>({
    initialValues: {
      latitude: formatDms(place.latitudeDeg, 'latitude'),
      longitude: formatDms(place.longitudeDeg, 'longitude'),
      groundHeightM: place.groundHeightM,
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
      crewMemberId,
      latitudeDeg: read('latitude'),
      longitudeDeg: read('longitude'),
      groundHeightM: values.groundHeightM === '' ? NaN : Number(values.groundHeightM),
    };
    for (const { field, message } of check(PlaceBody, body).errors ?? []) errors[field.replace(/Deg$/, '')] ??= message;
    form.setErrors(errors);
    if (!Object.keys(errors).length) change.mutate(body, { onSuccess: done });
  });
  return (
    <form onSubmit={submit} noValidate>
      <TextInput label="Latitude" {...form.getInputProps('latitude')} />
      <TextInput label="Longitude" {...form.getInputProps('longitude')} />
      <NumberInput label="Ground above sea level" suffix=" m" {...form.getInputProps('groundHeightM')} />
      <Problem error={change.error} />
      <Button type="submit" mt="md" loading={change.isPending}>
        Save the position
      </Button>
    </form>
  );
}
