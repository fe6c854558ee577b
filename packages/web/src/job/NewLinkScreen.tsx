import { NewLinkBody, check, routes } from '@kivram/contract';
import { channelNumber, eirpLimitDbm, lawOf, protocolWords, usableCentresMHz, type RuleSet } from '@kivram/core';
import { Button, Select, Switch, TextInput } from '@mantine/core';
import { lazy, Suspense } from 'react';
import { useNavigate, useParams } from 'react-router';
import { widthText } from '../parts/channelText';
import { useKeptForm } from '../drafts/useKeptForm';
import { NumberField } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { sendThen, useChange, useJob, useJobMap, useModels, useRuleSets } from '../queries';
import { useSettings } from '../settings';
import { EndFields } from './EndFields';
import { emptyEnd, type LinkForm } from './linkForm';

const LinkPreview = lazy(async () => ({ default: (await import('./LinkPreview')).LinkPreview }));

const emptyLink: LinkForm = {
  name: '',
  pathKind: 'outdoor',
  shaftLeastM: 5,
  shaftMostM: 30,
  near: emptyEnd,
  far: emptyEnd,
  widthMHz: '',
  centreMHz: '',
  returnMHz: null,
  errorCorrection: false,
  protocol: '802.11',
  needNearToFarMbps: 50,
  needFarToNearMbps: 20,
};

/** A new link from two places and two models; the prediction appears as soon as there is enough to compute it. */
export function NewLinkScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const map = useJobMap(jobId);
  const models = useModels();
  const laws = useRuleSets();
  const navigate = useNavigate();
  const { units } = useSettings();
  const metres = { unit: unitSuffix(units), perUnit: metresPerUnit(units), digits: 2, w: 150 };
  const create = useChange(routes.createLink, { jobId });
  const form = useKeptForm<LinkForm>(`job/${jobId}/new-link`, emptyLink);

  const near = models.data?.find((m) => m.id === form.values.near.modelId);
  const far = models.data?.find((m) => m.id === form.values.far.modelId);
  const country = job.data?.job.country ?? '';
  const law = lawOf(laws.data ?? [], country) ?? null;
  const licensed = near?.band === 'licensed';
  const places = map.data?.places ?? [];
  const spoken = near && far ? near.protocols.filter((p) => far.protocols.includes(p)) : [];
  const widths = near && far ? near.widthsMHz.filter((w) => far.widthsMHz.includes(w)) : [];
  const width = Number(form.values.widthMHz);
  const centres = near && far && width ? usableCentresMHz(near, far, law, width) : [];

  const submit = async (): Promise<void> => {
    // Reading positions takes projections, which are heavy: they come when they are needed.
    const { toBody, toFormField } = await import('./linkBody');
    const { body, errors } = toBody(form.values, licensed);
    const checked = check(NewLinkBody, body);
    const all = {
      ...Object.fromEntries((checked.errors ?? []).map((e) => [toFormField(e.field), e.message])),
      ...errors,
    };
    form.setErrors(all);
    if (Object.keys(all).length) return;
    sendThen(create, body, (view) => {
      form.forget();
      void navigate(`/links/${view.link.id}/path`);
    });
  };

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
      noValidate
    >
      <div className="row" style={{ marginBottom: 16 }}>
        <h1>A new link</h1>
        {form.isDirty() && (
          <Button
            size="sm"
            variant="default"
            onClick={() => {
              form.forget();
              form.reset();
            }}
          >
            Begin anew
          </Button>
        )}
      </div>
      <div className="row" style={{ alignItems: 'flex-start', marginBottom: 16 }}>
        <TextInput label="Name of the link" w={420} {...form.getInputProps('name')} />
        <Select
          label="Path"
          data={[
            { value: 'outdoor', label: 'over the ground' },
            { value: 'shaft', label: 'up a shaft, moving car' },
          ]}
          allowDeselect={false}
          {...form.getInputProps('pathKind')}
        />
        {form.values.pathKind === 'shaft' && (
          <>
            <NumberField label="Antennas closest" {...metres} {...form.getInputProps('shaftLeastM')} />
            <NumberField label="Antennas farthest" {...metres} {...form.getInputProps('shaftMostM')} />
          </>
        )}
      </div>
      <div className="columns">
        <EndFields end="near" form={form} places={places} models={models.data ?? []} />
        <EndFields end="far" form={form} places={places} models={models.data ?? []} />
      </div>
      <h2 style={{ marginTop: 24 }}>Air</h2>
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <Select
          label="Channel width"
          data={widths.map((w) => ({ value: String(w), label: widthText(w) }))}
          disabled={!widths.length}
          description={near && far && !widths.length ? 'These models share no width' : 'of both models'}
          {...form.getInputProps('widthMHz')}
        />
        {licensed ? (
          <>
            <NumberField
              label="Near end sends on"
              unit="MHz"
              description="from the licence"
              {...form.getInputProps('centreMHz')}
            />
            <NumberField
              label="Far end sends on"
              unit="MHz"
              description="from the licence"
              {...form.getInputProps('returnMHz')}
            />
            <Switch label="Error correction" mt={34} {...form.getInputProps('errorCorrection', { type: 'checkbox' })} />
          </>
        ) : (
          <Select
            label="Channel"
            data={centres.map((c) => ({ value: String(c), label: channelLabel(law, c, width) }))}
            disabled={!centres.length}
            description={channelDescription(law, country, width > 0 && !centres.length)}
            w={280}
            {...form.getInputProps('centreMHz')}
          />
        )}
        <Select
          label="Protocol"
          data={spoken.map((p) => ({ value: p, label: protocolWords[p] }))}
          description="spoken by both"
          allowDeselect={false}
          {...form.getInputProps('protocol')}
        />
        <NumberField
          label="Needed near to far"
          unit="Mbit/s"
          description="what must cross"
          {...form.getInputProps('needNearToFarMbps')}
        />
        <NumberField
          label="Needed far to near"
          unit="Mbit/s"
          description="what must cross"
          {...form.getInputProps('needFarToNearMbps')}
        />
      </div>
      {near && far ? (
        <Suspense fallback={<p className="note">Loading the prediction</p>}>
          <LinkPreview
            form={form.values}
            near={near}
            far={far}
            places={places}
            obstacles={map.data?.obstacles ?? []}
            law={law}
          />
        </Suspense>
      ) : (
        <p className="note">The prediction appears here once both models are chosen.</p>
      )}
      {job.data && !job.data.crew.length && (
        <p className="caution">
          Nobody works on this job yet: say who is working, at the top of the page. What you typed stays here.
        </p>
      )}
      {Object.keys(form.errors).length > 0 && (
        <Problem error={new Error('Some fields above are not right yet; each says why.')} />
      )}
      <Problem error={create.error} />
      <Button type="submit" loading={create.isPending} mt="md" size="lg">
        Plan this link
      </Button>
    </form>
  );
}

function channelLabel(law: RuleSet | null, centreMHz: number, widthMHz: number): string {
  const channel = { centreMHz, widthMHz };
  const limit = eirpLimitDbm(law, channel);
  const allowed = limit === undefined ? '' : `, up to ${limit} dBm EIRP`;
  return `${channelNumber(channel)}, ${centreMHz} MHz${allowed}`;
}

function channelDescription(law: RuleSet | null, country: string, none: boolean): string {
  if (none) return law ? 'None is allowed for both' : 'None that both models tune to';
  return law ? `allowed in ${law.name}` : `the rules of ${country} are not known here: look them up`;
}
