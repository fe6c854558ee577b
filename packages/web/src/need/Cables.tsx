import { CableFields, type Cable } from '@kivram/contract/entities/need';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { NeedsView } from '@kivram/contract/views/need';
import { ActionIcon, Button, Select, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useKeptForm } from '../drafts/useKeptForm';
import { Working } from '../parts/Only';
import { Problem } from '../parts/Problem';
import { RateField } from '../parts/RateField';
import type { TypedNumber } from '../parts/NumberField';
import { sendThen, useChange } from '../queries';

/** Cables between places: traffic takes them as it takes links, and they limit it like links. */
export function Cables({ jobId, view }: { jobId: string; view: NeedsView }) {
  return (
    <section className="need-cables">
      <h2>Cables between places</h2>
      {view.cables.length === 0 && (
        <p>None. Radios at one place are joined by its switch; a cable to another place is noted here.</p>
      )}
      {view.cables.map((cable) => (
        <CableLine key={cable.id} jobId={jobId} cable={cable} view={view} />
      ))}
      <Working jobId={jobId}>
        <NewCable jobId={jobId} view={view} />
      </Working>
    </section>
  );
}

function CableLine({ jobId, cable, view }: { jobId: string; cable: Cable; view: NeedsView }) {
  const remove = useChange(routes.removeCable, { cableId: cable.id }, `?version=${cable.version}`);
  const name = (id: string): string => view.places.find((place) => place.id === id)?.name ?? '';
  return (
    <div className="row">
      <span>
        {cable.name}: {name(cable.aPlaceId)} to {name(cable.bPlaceId)},{' '}
        <span className="figure">{cable.mbps} Mbit/s</span>
      </span>
      <Working jobId={jobId}>
        <ActionIcon
          variant="subtle"
          color="gray"
          size={44}
          loading={remove.isPending}
          onClick={() => remove.mutate(undefined)}
          aria-label={`Take the cable ${cable.name} away`}
        >
          <IconX size={18} />
        </ActionIcon>
      </Working>
      <Problem error={remove.error} />
    </div>
  );
}

const nothing = { name: '', aPlaceId: '', bPlaceId: '', mbps: 1000 as TypedNumber };

function NewCable({ jobId, view }: { jobId: string; view: NeedsView }) {
  const create = useChange(routes.createCable, { jobId });
  const form = useKeptForm<typeof nothing>(`job/${jobId}/new-cable`, nothing);
  const places = view.places.map(({ id, name }) => ({ value: id, label: name }));
  const submit = form.onSubmit((values) => {
    const body = { ...values, name: values.name.trim() };
    const { errors } = check(CableFields, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    sendThen(create, body, () => {
      form.reset();
      form.forget();
    });
  });
  const { value, onChange, error } = form.getInputProps('mbps') as {
    value: TypedNumber;
    onChange(value: TypedNumber): void;
    error?: string;
  };
  return (
    <form onSubmit={submit} noValidate>
      <div className="row need-factors">
        <TextInput
          label="Cable"
          placeholder="fibre along the quay"
          maxLength={60}
          w={220}
          {...form.getInputProps('name')}
        />
        <Select label="From" data={places} searchable w={200} {...form.getInputProps('aPlaceId')} />
        <Select label="To" data={places} searchable w={200} {...form.getInputProps('bPlaceId')} />
        <RateField label="Its ports" value={value} onChange={onChange} error={error} w={150} />
        <Button type="submit" variant="default" loading={create.isPending} mt={24}>
          Note it
        </Button>
      </div>
      <Problem error={create.error} />
    </form>
  );
}
