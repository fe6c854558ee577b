import { NewLinksBody } from '@kivram/contract/requests/newLink';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { Licence } from '@kivram/contract/entities/law';
import type { JobMapView, JobView } from '@kivram/contract/views/job';
import { usualNeed } from '@kivram/core/need/activity';
import type { Model } from '@kivram/core/gear/model';
import { protocolWords } from '@kivram/core/radio/kinds';
import { lawInJob } from '@kivram/core/spectrum/jobLaw';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useKeptForm } from '../drafts/useKeptForm';
import { widthText } from '../parts/channelText';
import { NumberField } from '../parts/NumberField';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { sendThen, useChange, useJob, useJobMap, useLink, useJobLaw, useModels } from '../queries';
import { useSettings } from '../settings';
import { AirFields, choicesFor } from './AirFields';
import { EndFields, EndHeading } from './EndFields';
import { endPowerDbm, usualDbm } from './endPower';
import { HopFields } from './HopFields';
import { emptyHop, emptyLink, hopLike, modelAt, type EndForm, type LinkForm, type Shape } from './linkForm';
import './job.css';
import { Working } from '../parts/Only';

const UnlawfulDialog = lazy(async () => ({ default: (await import('../parts/UnlawfulDialog')).UnlawfulDialog }));
const LinkPreview = lazy(async () => ({ default: (await import('./LinkPreview')).LinkPreview }));

/** New links of any shape: alone, for a hub that is there (?hub=), or like another link (?like=). */
export function NewLinkScreen() {
  const { jobId = '' } = useParams();
  const [query] = useSearchParams();
  const [hub, like] = [query.get('hub') ?? '', query.get('like') ?? ''];
  const job = useJob(jobId);
  const map = useJobMap(jobId);
  const models = useModels();
  const noted = useJobLaw(jobId);
  const model = useLink(like);
  const error = job.error ?? map.error ?? models.error ?? noted.error ?? (like ? model.error : null);
  if (error) return <NotShown error={error} />;
  if (!job.data || !map.data || !models.data || !noted.data || (like && !model.data))
    return <p className="soft">Reading the job</p>;
  const start: LinkForm = hub
    ? { ...emptyLink, shape: 'hub', near: { ...emptyLink.near, radioId: hub } }
    : model.data
      ? formLike(model.data)
      : emptyLink;
  return (
    <NewLinkForm
      key={`${hub} ${like}`}
      draftKey={`job/${jobId}/new-links${hub && `/hub/${hub}`}${like && `/like/${like}`}`}
      start={start}
      job={job.data}
      map={map.data}
      models={models.data}
      law={lawInJob(noted.data.law, job.data.job.country, noted.data.localRules, noted.data.day)}
      licences={noted.data.licences}
      day={noted.data.day}
    />
  );
}

/** A form to plan another link like one that is there: the same places, gear and needs. */
function formLike({ link, air, near, far }: NonNullable<ReturnType<typeof useLink>['data']>): LinkForm {
  const end = (at: typeof near): EndForm => ({
    ...emptyLink.near,
    placeId: at.place.id,
    modelId: at.model.id,
    mountHeightM: at.radio.mountHeightM,
    conductedDbm: at.radio.conductedDbm,
  });
  const { needNearToFarMbps, needFarToNearMbps, pathKind, shaftLeastM, shaftMostM } = link;
  return {
    ...emptyLink,
    pathKind,
    ...(pathKind === 'shaft' && { shaftLeastM, shaftMostM }),
    near: end(near),
    hops: [{ ...emptyHop, name: `${link.name} (copy)`, far: end(far), needNearToFarMbps, needFarToNearMbps }],
    widthMHz: String(air.widthMHz),
    centreMHz: air.kind === 'duplex' ? air.centreMHz : String(air.centreMHz),
    returnMHz: air.returnMHz,
    errorCorrection: air.errorCorrection,
    licenceId: air.licenceId ?? '',
    protocol: air.protocol,
  };
}

interface FormProps {
  draftKey: string;
  start: LinkForm;
  job: JobView;
  map: JobMapView;
  models: Model[];
  law: RuleSet | null;
  licences: Licence[];
  /** today at the server */
  day: string;
}

function NewLinkForm({ draftKey, start, job, map, models, law, licences, day }: FormProps) {
  const jobId = job.job.id;
  const navigate = useNavigate();
  const create = useChange(routes.createLinks, { jobId });
  const form = useKeptForm<LinkForm>(draftKey, start);
  const { values } = form;
  const { places, radios, obstacles } = map;

  const joined = radios.find((r) => r.id === values.near.radioId);
  const ends = [values.near, ...values.hops.map((hop) => hop.far)].map((end) => modelAt(end, models, radios));
  const [near, ...others] = ends;
  const chosen = ends.filter((m) => m !== undefined);
  const all = near && others.length > 0 && chosen.length === ends.length ? chosen : null;
  const licensed = near?.band === 'licensed';
  const usual = usualNeed(licensed);
  const use = { pointToPoint: values.shape === 'pair', outdoor: values.pathKind !== 'shaft' };
  const choices = choicesFor(all, law, Number(values.widthMHz), use);
  /** An access point or a relay may take another link, whoever it serves now. */
  const joinable = radios.filter((r) => r.air.kind !== 'duplex' && r.role !== 'station');
  const isPair = values.shape === 'pair';

  const around = { models, places, radios, law, licences, day };

  const reshape = (shape: Shape): void => {
    form.setFieldValue('shape', shape);
    if (shape === 'pair') form.setFieldValue('hops', values.hops.slice(0, 1));
  };
  /** what was found against the law in what is about to be sent */
  const [broken, setBroken] = useState<{ found: string[]; body: object } | null>(null);
  const send = (body: object): void =>
    sendThen(create, body, ({ linkIds }) => {
      form.forget();
      void navigate(linkIds.length === 1 ? `/links/${linkIds[0] ?? ''}/path` : `/jobs/${jobId}`);
    });
  const submit = async (): Promise<void> => {
    // Reading positions takes projections, which are heavy: they come when they are needed.
    const { toBody, toFormField } = await import('./linkBody');
    const { body, errors } = toBody(values, { places, radios }, licensed, (index, end) =>
      endPowerDbm(values, index, end, around),
    );
    const checked = check(NewLinksBody, body);
    const told = {
      ...Object.fromEntries((checked.errors ?? []).map((e) => [toFormField(e.field), e.message])),
      ...errors,
    };
    form.setErrors(told);
    if (Object.keys(told).length) return;
    const { brokenIn } = await import('./brokenIn');
    const found = brokenIn(values, around);
    if (found.length) setBroken({ found, body });
    else send(body);
  };

  const preview = (index: number) => (
    <Suspense fallback={<p className="note">Loading the prediction</p>}>
      <LinkPreview
        form={values}
        index={index}
        models={models}
        places={places}
        radios={radios}
        obstacles={obstacles}
        law={law}
        licences={licences}
        day={day}
      />
    </Suspense>
  );

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
      noValidate
    >
      <div className="row" style={{ marginBottom: 16 }}>
        <h1>{isPair ? 'A new link' : values.shape === 'hub' ? 'A hub with stations' : 'A chain of relays'}</h1>
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
      {!models.length && (
        <p className="caution">
          The catalogue of gear is empty: <Link to="/catalogue/new">put the spec sheet of your radios in</Link> first.
          What you typed here stays.
        </p>
      )}
      <div className="row" style={{ alignItems: 'flex-end', marginBottom: 16 }}>
        <SegmentedControl
          aria-label="Shape"
          value={values.shape}
          onChange={(shape) => reshape(shape as Shape)}
          data={[
            { value: 'pair', label: 'a pair' },
            { value: 'hub', label: 'a hub with stations' },
            { value: 'chain', label: 'a chain of relays' },
          ]}
        />
        {values.shape === 'chain' && (
          <SegmentedControl
            aria-label="Radios at each relay"
            data={[
              { value: 'one', label: 'one radio at a relay' },
              { value: 'two', label: 'two radios, a channel each' },
            ]}
            {...form.getInputProps('relayRadios')}
          />
        )}
      </div>
      {isPair && (
        <div className="row" style={{ alignItems: 'flex-start', marginBottom: 16 }}>
          <TextInput
            label="Name of the link"
            w={420}
            maw="100%"
            maxLength={80}
            {...form.getInputProps('hops.0.name')}
          />
          <PathFields form={form} />
        </div>
      )}
      {values.shape === 'chain' && values.relayRadios === 'one' && (
        <p className="note">
          All hops share one channel, so each halves what comes through; three hops at most are wise.
        </p>
      )}
      <div className="columns">
        <fieldset className="end-fields">
          <EndHeading
            end="near"
            words={isPair ? 'Near end, with the feed' : values.shape === 'hub' ? 'The hub' : 'Near end, with the feed'}
          />
          <EndFields
            path="near"
            values={values.near}
            form={form}
            places={places}
            models={models}
            joinable={joinable}
            usualDbm={usualDbm(values, 0, 'near', around)}
            betweenDeg={values.shape === 'hub' ? null : undefined}
          />
        </fieldset>
        <div>
          {isPair ? (
            <fieldset className="end-fields">
              <EndHeading end="far" words="Far end" />
              <EndFields
                path="hops.0.far"
                values={values.hops[0]?.far ?? emptyHop.far}
                form={form}
                places={places}
                models={models}
                joinable={[]}
                usualDbm={usualDbm(values, 0, 'far', around)}
              />
            </fieldset>
          ) : (
            <>
              {values.hops.map((_, index) => (
                <HopFields
                  key={index}
                  index={index}
                  form={form}
                  places={places}
                  models={models}
                  channels={choices.channels}
                  usualDbm={usualDbm(values, index, 'far', around)}
                  preview={preview(index)}
                  onRemove={() => form.removeListItem('hops', index)}
                />
              ))}
              <Button
                variant="default"
                onClick={() => form.insertListItem('hops', hopLike(values.hops.at(-1) ?? emptyHop))}
              >
                {values.shape === 'hub' ? 'Add a station' : 'Add a hop'}
              </Button>
            </>
          )}
        </div>
      </div>
      <h2 style={{ marginTop: 24 }}>Air</h2>
      {joined ? (
        <p>
          On the air of the radio that it joins: {joined.air.centreMHz} MHz, {widthText(joined.air.widthMHz)} wide,{' '}
          {protocolWords[joined.air.protocol]}.
        </p>
      ) : null}
      <div className="row" style={{ alignItems: 'flex-start' }}>
        {(!joined || values.relayRadios === 'two') && (
          <AirFields
            form={form}
            choices={choices}
            licensed={licensed}
            law={law}
            country={job.job.country}
            all={all}
            licences={licences}
          />
        )}
        {isPair && (
          <>
            <NumberField
              label="Needed near to far"
              unit="Mbit/s"
              description="what must cross"
              placeholder={`empty: ${usual.nearToFarMbps}`}
              {...form.getInputProps('hops.0.needNearToFarMbps')}
            />
            <NumberField
              label="Needed far to near"
              unit="Mbit/s"
              description="what must cross"
              placeholder={`empty: ${usual.farToNearMbps}`}
              {...form.getInputProps('hops.0.needFarToNearMbps')}
            />
          </>
        )}
      </div>
      {isPair && (all ? preview(0) : <p className="note">The prediction appears here once both models are chosen.</p>)}
      {!job.crew.length && (
        <p className="caution">
          Nobody works on this job yet: say who is working, at the top of the page. What you typed stays here.
        </p>
      )}
      {Object.keys(form.errors).length > 0 && (
        <Problem error={new Error('Some fields above are not right yet; each says why.')} />
      )}
      <Problem error={create.error} />
      {broken && (
        <Suspense>
          <UnlawfulDialog
            broken={broken.found}
            what={values.hops.length > 1 ? 'these links' : 'this link'}
            change={create}
            onKeep={() => send(broken.body)}
            onClose={() => setBroken(null)}
          />
        </Suspense>
      )}
      <Working jobId={jobId}>
        <Button type="submit" loading={create.isPending} mt="md" size="lg">
          {values.hops.length > 1 ? `Plan these ${values.hops.length} links` : 'Plan this link'}
        </Button>
      </Working>
    </form>
  );
}

function PathFields({ form }: { form: ReturnType<typeof useKeptForm<LinkForm>> }) {
  const { units } = useSettings();
  const metres = { unit: unitSuffix(units), perUnit: metresPerUnit(units), digits: 2, w: 150 };
  return (
    <>
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
    </>
  );
}
