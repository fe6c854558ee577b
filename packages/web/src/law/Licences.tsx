import { LicenceFields, type Licence } from '@kivram/contract/entities/law';
import type { Place } from '@kivram/contract/entities/place';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { narrowbandStepNames } from '@kivram/core/radio/kinds/narrowband';
import { licenceDaysLeft, licenceStanding } from '@kivram/core/spectrum/licence';
import { licenceOverlaps } from '@kivram/core/spectrum/licenceFaults';
import { dateText, localDay } from '@kivram/core/units/moment';
import type { State } from '@kivram/core/verdict/verdict';
import { Select, Textarea, TextInput } from '@mantine/core';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { widthText } from '../parts/channelText';
import { NumberField } from '../parts/NumberField';
import { StateMark } from '../parts/StateMark';
import { sendDraft, sendThen, useChange, useJobMap, useMay } from '../queries';
import { FormEnd, NotedList } from './NotedList';

const kHz = 0.001;

/** The licences of a job, with how long they still hold. */
export function Licences({ jobId, licences }: { jobId: string; licences: Licence[] }) {
  const may = useMay(jobId);
  const places = useJobMap(jobId).data?.places ?? [];
  return (
    <>
      <NotedList
        title="Licences"
        empty="None is on record. A licensed pair takes its frequencies, spacing and power from one."
        items={licences}
        mayChange={may.work}
        add="Note a licence"
        show={(licence) => (
          <>
            <strong>{licence.number}</strong> <span className="soft">{licence.holder}</span>
            <br />
            <span className="figure">
              {licence.centreMHz} and {licence.returnMHz} MHz
            </span>
            , channels of {widthText(licence.widthMHz)}, up to {licence.mostEirpDbm} dBm EIRP
            {licence.modulation && `, ${licence.modulation} at most`}
            {licence.occupiedMHz !== null && `, ${widthText(licence.occupiedMHz)} occupied`}
            <br />
            <StateMark {...stateOf(licence)} />
            <Sites licence={licence} places={places} />
            {licence.terms && <p className="note">{licence.terms}</p>}
          </>
        )}
        form={(licence, done) => <LicenceForm jobId={jobId} licence={licence} places={places} done={done} />}
      />
      {licenceOverlaps(licences).map((words) => (
        <p className="caution" key={words}>
          {words}
        </p>
      ))}
    </>
  );
}

/** Which place sends which frequency. */
function Sites({ licence, places }: { licence: Licence; places: Place[] }) {
  const { centreMHz, returnMHz, lowPlaceId, highPlaceId } = licence;
  const name = (id: string | null): string =>
    places.find((place) => place.id === id)?.name ?? 'a place that is not named';
  if (!lowPlaceId && !highPlaceId) return <p className="note">It does not say which place sends which frequency.</p>;
  return (
    <p className="note">
      {name(lowPlaceId)} sends on {Math.min(centreMHz, returnMHz)} MHz, {name(highPlaceId)} on{' '}
      {Math.max(centreMHz, returnMHz)} MHz
    </p>
  );
}

const states = { coming: 'open', ended: 'fails', ending: 'thin', valid: 'holds' } as const;

function stateOf(licence: Licence): { state: State; because: string } {
  const today = localDay(new Date());
  const days = licenceDaysLeft(licence, today);
  const standing = licenceStanding(licence, today);
  const until = dateText(licence.validUntil);
  const from = licence.validFrom ? dateText(licence.validFrom) : null;
  const because =
    standing === 'ended'
      ? `ended on ${until}`
      : standing === 'coming'
        ? `from ${from ?? ''} until ${until}`
        : `${from ? `since ${from}, ` : ''}until ${until}, ${days} day${days === 1 ? '' : 's'} left`;
  return { state: states[standing], because };
}

type Values = Record<keyof LicenceFields, string | number | null>;

const empty: Values = {
  number: '',
  holder: '',
  centreMHz: null,
  returnMHz: null,
  widthMHz: 0.025,
  occupiedMHz: null,
  mostEirpDbm: null,
  modulation: null,
  validFrom: null,
  validUntil: '',
  lowPlaceId: null,
  highPlaceId: null,
  terms: '',
};

function LicenceForm({
  jobId,
  licence,
  places,
  done,
}: {
  jobId: string;
  licence: Licence | null;
  places: Place[];
  done(): void;
}) {
  const create = useChange(routes.createLicence, { jobId });
  const change = useChange(routes.changeLicence, { licenceId: licence?.id ?? '' });
  const remove = useChange(routes.removeLicence, { licenceId: licence?.id ?? '' }, `?version=${licence?.version ?? 0}`);
  const { id, version, ...fields } = licence ?? { id: '', version: 0, ...empty };
  const form = useKeptForm<Values>(`job/${jobId}/licence/${id || 'new'}`, fields, licence ? String(version) : '');
  const finish = (): void => {
    form.forget();
    done();
  };
  const submit = form.onSubmit((values) => {
    const body = { ...values, number: String(values.number).trim(), validFrom: values.validFrom || null };
    const { errors } = check(LicenceFields, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    if (licence) sendDraft(change, { ...body, version: Number(form.base) }, form.send(finish));
    else sendThen(create, body, finish);
  });
  const site = (key: 'lowPlaceId' | 'highPlaceId', label: string) => (
    <Select
      label={label}
      data={places.filter((place) => place.kind !== 'landmark').map(({ id: value, name }) => ({ value, label: name }))}
      placeholder="not told"
      clearable
      w={280}
      value={form.values[key] as string | null}
      onChange={(value) => form.setFieldValue(key, value)}
      error={form.errors[key]}
    />
  );
  return (
    <form onSubmit={submit} noValidate className="law-form">
      {licence && <FormClash form={form} saved={`${licence.number}, until ${licence.validUntil}`} />}
      <div className="row">
        <TextInput label="Number" maxLength={60} w={180} {...form.getInputProps('number')} />
        <TextInput label="Holder" maxLength={120} w={280} {...form.getInputProps('holder')} />
        <TextInput
          label="First day"
          type="date"
          w={170}
          {...form.getInputProps('validFrom')}
          value={form.values.validFrom ?? ''}
        />
        <TextInput label="Last day" type="date" w={170} {...form.getInputProps('validUntil')} />
      </div>
      <div className="row">
        <NumberField label="One end sends on" unit="MHz" w={180} {...form.getInputProps('centreMHz')} />
        <NumberField label="The other on" unit="MHz" w={180} {...form.getInputProps('returnMHz')} />
        <NumberField label="Spacing" unit="kHz" perUnit={kHz} w={130} {...form.getInputProps('widthMHz')} />
        <NumberField label="Occupied" unit="kHz" perUnit={kHz} w={130} {...form.getInputProps('occupiedMHz')} />
        <NumberField label="EIRP at most" unit="dBm" w={140} {...form.getInputProps('mostEirpDbm')} />
        <Select
          label="Fastest modulation"
          data={[...narrowbandStepNames]}
          placeholder="any"
          clearable
          w={170}
          value={form.values.modulation as string | null}
          onChange={(value) => form.setFieldValue('modulation', value)}
          error={form.errors.modulation}
        />
      </div>
      <div className="row">
        {site('lowPlaceId', 'Sends on the lower frequency')}
        {site('highPlaceId', 'Sends on the higher frequency')}
      </div>
      <Textarea label="Terms" autosize minRows={2} maxLength={2000} {...form.getInputProps('terms')} />
      <FormEnd
        save="Save the licence"
        saving={[create, change]}
        removal={licence && { change: remove, run: () => sendThen(remove, undefined, finish) }}
        leave={finish}
      />
    </form>
  );
}
