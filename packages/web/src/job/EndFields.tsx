import type { Place } from '@kivram/contract';
import { bandWords, poeWords, type Model } from '@kivram/core';
import { Select, TextInput } from '@mantine/core';
import type { UseFormReturnType } from '@mantine/form';
import { NumberField } from '../parts/NumberField';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { useSettings } from '../settings';
import type { EndForm, LinkForm } from './linkForm';

interface EndFieldsProps {
  end: 'near' | 'far';
  form: UseFormReturnType<LinkForm>;
  places: Place[];
  models: Model[];
}

/** The place, the model and the mount of one end of a new link. */
export function EndFields({ end, form, places, models }: EndFieldsProps) {
  const { units } = useSettings();
  const metres = { unit: unitSuffix(units), perUnit: metresPerUnit(units), digits: 2 };
  const values = form.values[end];
  const model = models.find((m) => m.id === values.modelId);
  const field = (name: keyof EndForm) => form.getInputProps(`${end}.${name}`);
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend
        className={end}
        style={{ fontWeight: 600, borderBottom: '3px solid currentColor', width: '100%', marginBottom: 8 }}
      >
        {end === 'near' ? 'Near end, with the feed' : 'Far end'}
      </legend>
      <Select
        label="Place"
        data={[{ value: '', label: 'a new place' }, ...places.map((p) => ({ value: p.id, label: p.name }))]}
        allowDeselect={false}
        searchable
        {...field('placeId')}
      />
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
        {...field('modelId')}
      />
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <NumberField label="Mounted above ground" flex={1} {...metres} {...field('mountHeightM')} />
        <NumberField label="Conducted power" unit="dBm" flex={1} {...field('conductedDbm')} />
      </div>
      {model && (
        <p className="note">
          {model.maker} {model.name}: beam {model.beamWidth.azimuthDeg}° wide, {model.ethernetMbps} Mbit/s port,{' '}
          {poeWords[model.poe]}, {model.leastConductedDbm} to {model.mostConductedDbm} dBm
        </p>
      )}
    </fieldset>
  );
}
