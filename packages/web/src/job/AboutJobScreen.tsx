import { JobBody } from '@kivram/contract/requests/job';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { JobView } from '@kivram/contract/views/job';
import { climateClasses, climates, type ClimateClass } from '@kivram/core/propagation/climate';
import type { UnitSystem } from '@kivram/core/units';
import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { NumberField, type TypedNumber } from '../parts/NumberField';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { sendDraft, sendThen, useChange, useJob, useMay, useRuleSets } from '../queries';
import { countries, countryFilter } from './countries';
import { JobTabs } from './JobTabs';
import { Leading } from '../parts/Only';

/** The job itself: its name, law and units; taking it along, putting it away, removing it. */
export function AboutJobScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const may = useMay(jobId);
  if (!job.data) return job.error ? <NotShown error={job.error} /> : <p className="soft">Reading the job</p>;
  const { name, customer } = job.data.job;
  return (
    <>
      <JobTabs jobId={jobId} name={name} customer={customer} />
      <div className="columns">
        {may.lead ? <AboutForm job={job.data} /> : <About job={job.data} />}
        <div>
          <TakeAlong jobId={jobId} />
          {may.lead && <PutAway job={job.data} />}
          {may.lead && <Remove key={name} job={job.data} />}
        </div>
      </div>
    </>
  );
}

interface Values extends Record<string, unknown> {
  name: string;
  customer: string;
  country: string;
  units: UnitSystem;
  climateClass: ClimateClass | 'guessed';
  rainMmPerH: TypedNumber;
}

/** The same for who does not lead the job. */
function About({ job: { job } }: { job: JobView }) {
  return (
    <section>
      <h2>Its name and its law</h2>
      <p>
        {job.name}, {job.customer || 'no customer named'}; law of {job.country}. Who leads the job can change this.
      </p>
    </section>
  );
}

function AboutForm({ job: { job } }: { job: JobView }) {
  const laws = useRuleSets();
  const list = useMemo(() => countries(laws.data ?? []), [laws.data]);
  const change = useChange(routes.changeJob, { jobId: job.id });
  const { name, customer, country, units, rainMmPerH } = job;
  const climateClass = job.climateClass ?? 'guessed';
  const form = useKeptForm<Values>(
    `job/${job.id}/about`,
    { name, customer, country, units, climateClass, rainMmPerH },
    String(job.version),
  );
  const submit = form.onSubmit((values) => {
    const body = {
      ...values,
      climateClass: values.climateClass === 'guessed' ? null : values.climateClass,
      name: values.name.trim(),
      customer: values.customer.trim(),
      version: Number(form.base),
    };
    const { errors } = check(JobBody, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    sendDraft(change, body, form.send());
  });
  const moved = form.values.country !== country;
  return (
    <form onSubmit={submit} noValidate key={job.version}>
      <h2>Its name and its law</h2>
      <FormClash form={form} saved={`${name}, ${customer}, ${country}`} />
      <TextInput label="Name of the job" maxLength={80} {...form.getInputProps('name')} />
      <TextInput label="Customer" maxLength={120} mt="sm" {...form.getInputProps('customer')} />
      <Select
        label="Country"
        mt="sm"
        searchable
        data={list}
        filter={countryFilter}
        limit={300}
        allowDeselect={false}
        {...form.getInputProps('country')}
      />
      {moved && (
        <p className="caution">
          With the country the law changes: every plan and every radio's settings are judged anew.
        </p>
      )}
      <div className="row">
        <Select
          label="Climate"
          mt="sm"
          data={[
            { value: 'guessed', label: 'guessed from the latitude' },
            ...climateClasses.map((value) => ({
              value,
              label: `${climates[value].words} (${climates[value].rainMmPerH} mm/h)`,
            })),
          ]}
          allowDeselect={false}
          w={330}
          {...form.getInputProps('climateClass')}
        />
        <NumberField
          label="Rain for 53 minutes a year"
          placeholder={
            form.values.climateClass === 'guessed'
              ? 'as the climate'
              : String(climates[form.values.climateClass].rainMmPerH)
          }
          unit="mm/h"
          mt="sm"
          w={190}
          {...form.getInputProps('rainMmPerH')}
        />
      </div>
      <p className="note">
        Rain, moist air and bending rays take levels away for a part of the year: the classes are those of ITU-R P.837-1
        and P.835-6. Where the rain rate of the place is known, type it.
      </p>
      <SegmentedControl
        aria-label="Units"
        style={{ marginTop: 12, display: 'flex', maxWidth: 260 }}
        data={[
          { value: 'metric', label: 'metres' },
          { value: 'imperial', label: 'feet and miles' },
        ]}
        {...form.getInputProps('units')}
      />
      <Problem error={change.error} />
      <Button type="submit" mt="md" loading={change.isPending} disabled={!form.isDirty()}>
        Save
      </Button>
    </form>
  );
}

function TakeAlong({ jobId }: { jobId: string }) {
  return (
    <section>
      <h2>Take the job along</h2>
      <div className="row">
        <Button component="a" href={`/api/jobs/${jobId}/export`} download variant="default">
          Export the job
        </Button>
        <Leading jobId={jobId}>
          <Button component="a" href={`/api/jobs/${jobId}/export?secrets=include`} download variant="default">
            Export with passphrases
          </Button>
        </Leading>
      </div>
      <p className="note">One JSON file, described in docs/job-document.md; it imports back to the same job.</p>
    </section>
  );
}

function PutAway({ job: { job } }: { job: JobView }) {
  const change = useChange(routes.changeJob, { jobId: job.id });
  const away = job.archivedAt !== null;
  return (
    <section style={{ marginTop: 28 }}>
      <h2>{away ? 'It is put away' : 'Put it away'}</h2>
      <p>
        {away
          ? 'It stands under the jobs that are put away; nothing of it is lost.'
          : 'A job that is done leaves the list of jobs, and can be taken up again at any time.'}
      </p>
      <Problem error={change.error} />
      <Button
        variant="default"
        loading={change.isPending}
        onClick={() => change.mutate({ version: job.version, archived: !away })}
      >
        {away ? 'Take it up again' : 'Put the job away'}
      </Button>
    </section>
  );
}

function Remove({ job: { job } }: { job: JobView }) {
  const [typed, setTyped] = useState('');
  const remove = useChange(routes.removeJob, { jobId: job.id }, `?name=${encodeURIComponent(typed)}`);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const matches = typed === job.name;
  return (
    <section style={{ marginTop: 28 }}>
      <h2>Remove it for good</h2>
      <p>
        Its places, links, settings, measurements and timeline go, and cannot be brought back.{' '}
        <a href={`/api/jobs/${job.id}/export?secrets=include`} download>
          Export it first
        </a>
        .
      </p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!matches) return;
          sendThen(remove, undefined, () => {
            void navigate('/jobs');
            queries.removeQueries({ queryKey: ['job', job.id] });
          });
        }}
      >
        <TextInput
          label="To be sure, type its name"
          placeholder={job.name}
          value={typed}
          autoComplete="off"
          onChange={(event) => setTyped(event.currentTarget.value)}
        />
        <Problem error={remove.error} />
        <Button type="submit" mt="sm" color="red" variant="outline" disabled={!matches} loading={remove.isPending}>
          Remove the job
        </Button>
      </form>
    </section>
  );
}
