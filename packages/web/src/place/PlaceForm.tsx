import type { Place } from '@kivram/contract/entities/place';
import { NewPlaceBody, PlaceBody } from '@kivram/contract/requests/place';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { CoordinateError, formatDms, type Position } from '@kivram/core/geodesy/coordinates';
import { formatUtm, parsePosition } from '@kivram/core/geodesy/utm';
import { Button, Modal, SegmentedControl, Textarea, TextInput } from '@mantine/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { call } from '../api';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { Height } from '../parts/Figure';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { RemovalWords } from '../parts/RemovalWords';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { sendDraft, sendThen, useChange } from '../queries';
import { useSettings } from '../settings';

interface Values extends Record<string, unknown> {
  name: string;
  position: string;
  ground: TypedNumber;
  kind: Place['kind'];
  note: string;
}

const positionText = ({ latitudeDeg, longitudeDeg }: Position): string =>
  `${latitudeDeg.toFixed(6)}, ${longitudeDeg.toFixed(6)}`;

/** A typed position in the other forms that people read; null where it means none yet. */
function otherForms(text: string): string | null {
  try {
    const position = parsePosition(text);
    const { latitudeDeg, longitudeDeg } = position;
    return `${formatDms(latitudeDeg, 'latitude')} ${formatDms(longitudeDeg, 'longitude')}, UTM ${formatUtm(position)}`;
  } catch {
    return null;
  }
}

interface FormProps {
  jobId: string;
  /** the place to change, or where to put a new one */
  place: Place | null;
  at: Position | null;
  /** the place can be taken off the map; told so that it can be put back */
  onRemoved?(place: Place): void;
  done(): void;
}

/** A place by name, position in any form, and ground height, which the terrain knows too. */
export function PlaceForm({ jobId, place, at, onRemoved, done }: FormProps) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const create = useChange(routes.createPlace, { jobId });
  const change = useChange(routes.changePlace, { placeId: place?.id ?? '' });
  const remove = useChange(routes.removePlace, { placeId: place?.id ?? '' }, `?version=${place?.version ?? ''}`);
  const removeAll = useChange(
    routes.removePlace,
    { placeId: place?.id ?? '' },
    `?version=${place?.version ?? ''}&with=links`,
  );
  const [asking, setAsking] = useState(false);
  const takeAway = (): void =>
    sendThen(remove, undefined, () => {
      if (place) onRemoved?.(place);
      close();
    });
  const position = place ?? at;
  const form = useKeptForm<Values>(
    place ? `place/${place.id}` : `job/${jobId}/new-place`,
    {
      name: place?.name ?? '',
      position: place ? positionText(place) : '',
      ground: place?.groundHeightM ?? null,
      kind: place?.kind ?? 'site',
      note: place?.note ?? '',
    },
    place ? String(place.version) : '',
  );
  const close = (): void => {
    form.forget();
    done();
  };
  // A click on the map says where, once, and leaves what was typed besides; what is typed after it stands.
  const clicked = useRef<Position | null>(null);
  const { setFieldValue } = form;
  useEffect(() => {
    if (!at || at === clicked.current) return;
    clicked.current = at;
    setFieldValue('position', positionText(at));
  }, [at, setFieldValue]);
  const typedText = useMemo(() => otherForms(form.values.position), [form.values.position]);
  const submit = form.onSubmit((values) => {
    const errors: Record<string, string> = {};
    let to: Position = { latitudeDeg: NaN, longitudeDeg: NaN };
    try {
      // What was not touched stays exact.
      to = position && values.position === positionText(position) ? position : parsePosition(values.position);
    } catch (error) {
      if (!(error instanceof CoordinateError)) throw error;
      errors.position = error.message;
    }
    const { latitudeDeg, longitudeDeg } = to;
    const typed = values.ground === null ? undefined : numberIn(values.ground);
    const moved = place && (latitudeDeg !== place.latitudeDeg || longitudeDeg !== place.longitudeDeg);
    const common = { name: values.name.trim(), latitudeDeg, longitudeDeg, kind: values.kind, note: values.note };
    const body = place
      ? {
          ...common,
          version: Number(form.base),
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
    if (Object.keys(errors).length) return;
    if (place) sendDraft(change, body, form.send(close), true);
    else sendThen(create, body, close, close);
  });
  return (
    <form onSubmit={submit} noValidate>
      <TextInput label="Name" data-autofocus {...form.getInputProps('name')} />
      <TextInput
        label="Position"
        description="degrees, degrees and minutes, or UTM like 24 north 607803 3697563"
        {...form.getInputProps('position')}
      />
      {typedText && !form.errors.position && (
        <p className="note" style={{ margin: '2px 0' }}>
          {typedText}
        </p>
      )}
      <NumberField
        label="Ground above sea level"
        description="empty: as the terrain says"
        unit={unitSuffix(units)}
        perUnit={perUnit}
        digits={2}
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
      <Textarea label="Note" autosize minRows={1} maxLength={2000} {...form.getInputProps('note')} />
      {place && (
        <FormClash
          form={form}
          saved={
            <>
              {place.name}, {positionText(place)}, <Height metres={place.groundHeightM} />
            </>
          }
        />
      )}
      <Problem error={create.error ?? change.error ?? remove.error} />
      <div className="row" style={{ marginTop: 10 }}>
        <Button type="submit" loading={create.isPending || change.isPending}>
          {place ? 'Save' : 'Put it there'}
        </Button>
        <Button variant="default" onClick={close}>
          {form.isDirty() ? 'Give it up' : 'Close'}
        </Button>
        {place && onRemoved && (
          <Button
            color="red"
            variant="subtle"
            loading={remove.isPending}
            onClick={() =>
              // What carries nothing goes at once, and comes back as quickly.
              void call(routes.placeRemoval, { placeId: place.id }).then(
                (view) => (view.goes.length ? setAsking(true) : takeAway()),
                takeAway,
              )
            }
          >
            Remove
          </Button>
        )}
      </div>
      {place && asking && (
        <Modal opened onClose={() => setAsking(false)} title={`Remove ${place.name}?`}>
          <RemovalWords route={routes.placeRemoval} params={{ placeId: place.id }} />
          <Problem error={removeAll.error} />
          <div className="row">
            <Button loading={removeAll.isPending} onClick={() => sendThen(removeAll, undefined, close)}>
              Remove all of it
            </Button>
            <Button variant="default" onClick={() => setAsking(false)}>
              Keep it
            </Button>
          </div>
        </Modal>
      )}
    </form>
  );
}
