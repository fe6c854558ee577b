import { bandWords, pairingKinds, pairingKindWords } from '@kivram/core/gear/model';
import type { SpecFinding } from '@kivram/core/gear/plausible';
import { poeKinds, poeWords } from '@kivram/core/gear/poe';
import { protocols, protocolWords, radioKinds } from '@kivram/core/radio/kinds';
import { phys, type Phy } from '@kivram/core/radio/kinds/kind';
import { Checkbox, NativeSelect, Switch, TextInput } from '@mantine/core';
import { widthText } from '../parts/channelText';
import { NumberField, type TypedNumber } from '../parts/NumberField';
import { Slips } from './Slips';
import { PatternPanel } from './PatternPanel';
import { bandsOf, emptySpec, widthsOf, type SpecForm } from './specForm';
import { StepTable } from './StepTable';

interface Props {
  form: SpecForm;
  errors: Record<string, string>;
  findings: readonly SpecFinding[];
  onChange(changes: Partial<SpecForm>): void;
}

type NumberName = { [Name in keyof SpecForm]: SpecForm[Name] extends TypedNumber ? Name : never }[keyof SpecForm];

/** Everything that a spec sheet says, in the order in which makers print it. */
export function SpecFieldsets({ form, errors, findings, onChange }: Props) {
  const slips = (...fields: SpecFinding['field'][]) => (
    <Slips findings={findings.filter(({ field }) => fields.includes(field))} onChange={onChange} />
  );
  const number = (name: NumberName, label: string, unit = '', description?: string) => (
    <div>
      <NumberField
        label={label}
        unit={unit}
        description={description}
        value={form[name] as TypedNumber}
        error={errors[name]}
        onChange={(value) => onChange({ [name]: value })}
      />
      {slips(name as SpecFinding['field'])}
    </div>
  );
  const text = (
    name: 'maker' | 'name' | 'otherPorts' | 'factoryAddress' | 'currency',
    label: string,
    placeholder: string,
  ) => (
    <TextInput
      label={label}
      placeholder={placeholder}
      value={form[name]}
      error={errors[name]}
      onChange={(event) => onChange({ [name]: event.currentTarget.value })}
    />
  );
  const changeKind = (phy: Phy): void => {
    // What belongs to the kind comes anew; what was typed besides stays.
    const { band, lowestMHz, highestMHz, widthsMHz, streams, steps } = emptySpec(phy);
    onChange({ phy, band, lowestMHz, highestMHz, widthsMHz, streams, steps });
  };
  return (
    <>
      <section>
        <h2>What it is</h2>
        <div className="spec-grid">
          {text('maker', 'Maker', 'as on the box')}
          {text('name', 'Model', 'as on the box')}
          <NativeSelect
            label="Kind of radio"
            value={form.phy}
            data={phys.map((phy) => ({ value: phy, label: radioKinds[phy].words }))}
            onChange={(event) => changeKind(event.currentTarget.value as Phy)}
          />
          <NativeSelect
            label="Band"
            value={form.band}
            error={errors.band}
            data={bandsOf(form.phy).map((band) => ({ value: band, label: bandWords[band] }))}
            onChange={(event) => onChange({ band: event.currentTarget.value as SpecForm['band'] })}
          />
          {number('lowestMHz', 'Tunes from', 'MHz')}
          {number('highestMHz', 'Tunes to', 'MHz')}
          {number('streams', 'Streams', '', 'chains that carry data of their own')}
          <Checkbox.Group
            label="Speaks"
            value={form.protocols}
            error={errors.protocols}
            onChange={(chosen) => onChange({ protocols: protocols.filter((p) => chosen.includes(p)) })}
          >
            <div className="row">
              {protocols.map((p) => (
                <Checkbox key={p} value={p} label={protocolWords[p]} />
              ))}
            </div>
          </Checkbox.Group>
        </div>
      </section>
      <section>
        <h2>Power and antenna</h2>
        <div className="spec-grid">
          {number('leastConductedDbm', 'Least power', 'dBm', 'conducted, at the connector')}
          {number('mostConductedDbm', 'Most power', 'dBm', 'of all chains together')}
          {number('antennaGainDbi', 'Antenna gain', 'dBi')}
          {number('azimuthDeg', 'Beam, left to right', '°', 'between the 3 dB points')}
          {number('elevationDeg', 'Beam, up and down', '°', 'between the 3 dB points')}
          {number(
            'crossPolarDb',
            'Crossed polarisation',
            'dB',
            'how much weaker it is heard; 20 dB where the maker says nothing',
          )}
          {number('noiseFigureDb', 'Noise figure', 'dB', '6 dB where the maker says nothing')}
          {form.band === 'licensed' &&
            number('occupiedPercent', 'Occupies', '%', 'of the channel spacing: the occupied bandwidth')}
          {number('overloadDbm', 'Overloads above', 'dBm', '−25 dBm where the maker says nothing')}
        </div>
        <PatternPanel form={form} onChange={onChange} />
        {slips('pattern', 'beamWidth')}
      </section>
      <section>
        <h2>Steps</h2>
        <Checkbox.Group
          label="Channel widths"
          value={form.widthsMHz.map(String)}
          error={errors.widthsMHz}
          onChange={(chosen) => onChange({ widthsMHz: widthsOf(form.phy).filter((w) => chosen.includes(String(w))) })}
        >
          <div className="row">
            {widthsOf(form.phy).map((width) => (
              <Checkbox key={width} value={String(width)} label={widthText(width)} />
            ))}
          </div>
        </Checkbox.Group>
        {slips('widthsMHz')}
        <StepTable form={form} error={errors.sensitivities} onChange={onChange} />
        {slips('sensitivities')}
      </section>
      <section>
        <h2>Ports, power supply, bench</h2>
        <div className="spec-grid">
          {number('ethernetMbps', 'Data port', 'Mbit/s', 'the one that power comes in by')}
          {text('otherPorts', 'Other ports, Mbit/s', '100, 1000')}
          <NativeSelect
            label="Power over the cable"
            value={form.poe}
            data={poeKinds.map((poe) => ({ value: poe, label: poeWords[poe] }))}
            onChange={(event) => onChange({ poe: event.currentTarget.value as SpecForm['poe'] })}
          />
          {number('poeWatts', 'Draws at most', 'W')}
          {number('mostStations', 'Stations at most', '', 'as an access point')}
          <NativeSelect
            label="Pairing"
            value={form.pairingKind}
            data={[
              { value: '', label: 'not known' },
              ...pairingKinds.map((kind) => ({ value: kind, label: pairingKindWords[kind] })),
            ]}
            onChange={(event) => onChange({ pairingKind: event.currentTarget.value as SpecForm['pairingKind'] })}
          />
          {text('factoryAddress', 'Address out of the box', '192.168.1.20')}
          {number('bootS', 'Starts in', 's')}
          {number('saveS', 'Saves in', 's', 'who pulls the plug before has nothing')}
          {number('weightKg', 'Weight', 'kg')}
          {number('price', 'Price')}
          {text('currency', 'in', 'EUR')}
        </div>
        <Switch
          mt="sm"
          label="Has an option that admits one station only (point-to-point only)"
          checked={form.hasPtpOnly}
          onChange={(event) => onChange({ hasPtpOnly: event.currentTarget.checked })}
        />
      </section>
    </>
  );
}
