import type { Place } from '@kivram/contract/entities/place';
import type { MapRadio } from '@kivram/contract/views/job';
import { bandWords, type Model } from '@kivram/core/gear/model';
import { poeWords } from '@kivram/core/gear/poe';
import { Select, TextInput } from '@mantine/core';
import type { UseFormReturnType } from '@mantine/form';
import { NumberField } from '../parts/NumberField';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { useSettings } from '../settings';
import { modelAt, type EndForm, type LinkForm } from './linkForm';

interface EndFieldsProps {
  /** where the end stands in the form, like "near" or "hops.0.far" */
  path: string;
  values: EndForm;
  form: UseFormReturnType<LinkForm>;
  places: readonly Place[];
  models: readonly Model[];
  /** radios that a link may join here */
  joinable: readonly MapRadio[];
  /** the power if nothing is typed; undefined while that cannot be said */
  usualDbm: number | undefined;
  /** of a hub: where its antenna points if nothing is typed */
  betweenDeg?: number | null;
}

/** The place, the model and the mount of one end of a new link; or the radio that it joins. */
export function EndFields({ path, values, form, places, models, joinable, usualDbm, betweenDeg }: EndFieldsProps) {
  const { units } = useSettings();
  const metres = { unit: unitSuffix(units), perUnit: metresPerUnit(units), digits: 2 };
  const model = modelAt(values, models, joinable);
  const field = (name: keyof EndForm) => form.getInputProps(`${path}.${name}`);
  const choose = (chosen: string | null): void => {
    const radio = joinable.find((r) => `radio ${r.id}` === chosen);
    form.setFieldValue(`${path}.radioId`, radio?.id ?? '');
    form.setFieldValue(`${path}.placeId`, radio ? '' : (chosen ?? ''));
  };
  const placeOptions = [
    { value: '', label: 'a new place' },
    ...places.filter((p) => p.kind === 'site').map((p) => ({ value: p.id, label: p.name })),
  ];
  const radioOptions = joinable.map((radio) => ({
    value: `radio ${radio.id}`,
    label: `the radio at ${places.find((p) => p.id === radio.placeId)?.name ?? ''}, on ${radio.air.centreMHz} MHz`,
  }));
  return (
    <>
      <Select
        label="Place"
        data={
          radioOptions.length
            ? [
                { group: 'A new radio', items: placeOptions },
                { group: 'Join one that is there', items: radioOptions },
              ]
            : placeOptions
        }
        allowDeselect={false}
        searchable
        value={values.radioId ? `radio ${values.radioId}` : values.placeId}
        error={field('placeId').error as string | undefined}
        onChange={choose}
      />
      {!values.radioId && (
        <>
          {!values.placeId && (
            <>
              <TextInput label="Name of the place" {...field('name')} />
              <div className="row" style={{ alignItems: 'flex-start' }}>
                <TextInput
                  label="Latitude"
                  placeholder={'33.41200 or 33°24\'43.2"N'}
                  description="or the whole position, also as UTM"
                  flex={1}
                  {...field('latitude')}
                />
                <TextInput
                  label="Longitude"
                  placeholder={'-37.84060 or 37°50\'26.2"W'}
                  description="empty when it stands on the left"
                  flex={1}
                  {...field('longitude')}
                />
              </div>
              <NumberField
                label="Ground above sea level"
                description="empty: as the terrain says"
                {...metres}
                {...field('groundHeightM')}
              />
            </>
          )}
          <Select
            label="Model"
            data={models.map((m) => ({
              value: m.id,
              label: `${m.maker} ${m.name}, ${bandWords[m.band]}, ${m.antennaGainDbi} dBi`,
            }))}
            searchable
            allowDeselect={false}
            {...field('modelId')}
          />
          <div className="row" style={{ alignItems: 'flex-start' }}>
            <NumberField label="Mounted above ground" flex={1} {...metres} {...field('mountHeightM')} />
            <NumberField
              label="Conducted power"
              unit="dBm"
              flex={1}
              placeholder={usualDbm === undefined ? undefined : `empty: ${usualDbm}`}
              {...field('conductedDbm')}
            />
          </div>
          {betweenDeg !== undefined && (
            <NumberField
              label="Its antenna points to"
              unit="°"
              description={
                betweenDeg === null
                  ? 'true north; empty: between its stations'
                  : `true north; empty: between its stations, ${betweenDeg.toFixed(1)}°`
              }
              {...field('azimuthDeg')}
            />
          )}
        </>
      )}
      {model && (
        <p className="note">
          {model.maker} {model.name}: beam {model.beamWidth.azimuthDeg}° wide, {model.ethernetMbps} Mbit/s port,{' '}
          {poeWords[model.poe]}, {model.leastConductedDbm} to {model.mostConductedDbm} dBm
        </p>
      )}
    </>
  );
}

/** The heading over an end, in its colour. */
export function EndHeading({ end, words }: { end: 'near' | 'far'; words: string }) {
  return <legend className={`${end} end-heading`}>{words}</legend>;
}
