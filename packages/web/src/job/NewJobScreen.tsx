import { NewJobBody } from '@kivram/contract/requests/job';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { JobSummary } from '@kivram/contract/views/job';
import { placesLimits } from '@kivram/contract/views/terrain';
import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, useNavigate } from 'react-router';
import { useKeptForm } from '../drafts/useKeptForm';
import { NumberField } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { metresPerUnit, unitSuffix } from '../path/ticks';
import { sendThen, useChange, useJobs, useRuleSets, useSession } from '../queries';
import { countries, countryFilter } from './countries';
import type { JobForm } from './jobForm';
import { terrainEndings } from './terrainEndings';
import './job.css';
import { Working } from '../parts/Only';

const workerKey = 'kivram-worker';

const emptyJob = (): JobForm => ({
  name: '',
  customer: '',
  country: '',
  units: 'metric',
  workerName: localStorage.getItem(workerKey) ?? '',
  copyOf: '',
  placeName: '',
  position: '',
  groundM: null,
  madeJobId: '',
  fileNames: [],
});

/** Begins a job, from nothing or with the plan of another, and says where it is. */
export function NewJobScreen() {
  const jobs = useJobs();
  const first = jobs.data?.length === 0;
  return (
    <>
      <h1 style={{ marginBottom: 16 }}>{first ? 'Your first job' : 'A new job'}</h1>
      {first && (
        <p>
          A job is one customer's installation: its places, its links, its network, and everything measured there. It
          stays on this computer.
        </p>
      )}
      <NewJobForm jobs={jobs.data ?? []} />
    </>
  );
}

function NewJobForm({ jobs }: { jobs: JobSummary[] }) {
  const laws = useRuleSets();
  const list = useMemo(() => countries(laws.data ?? []), [laws.data]);
  const navigate = useNavigate();
  const create = useChange(routes.createJob, {});
  const person = useSession().data?.person;
  const form = useKeptForm<JobForm>('new-job', emptyJob());
  const [files, setFiles] = useState<File[]>([]);
  /** what could not be done about where it is, once the job is there */
  const [after, setAfter] = useState<{ jobId: string; problems: string[] } | null>(null);
  const [placing, setPlacing] = useState(false);
  const { values } = form;
  const metres = { unit: unitSuffix(values.units), perUnit: metresPerUnit(values.units), digits: 2 };
  const { getRootProps, getInputProps, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (dropped) => setFiles((before) => [...before, ...dropped]),
  });

  const bring = async (jobId: string, place: { name: string } | null): Promise<void> => {
    const { bringWhere } = await import('./where');
    setPlacing(true);
    const problems = await bringWhere(jobId, place, files);
    setPlacing(false);
    form.forget();
    if (problems.length) setAfter({ jobId, problems });
    else void navigate(`/jobs/${jobId}`);
  };
  // A browser asks before it closes what is still on its way.
  const isBusy = create.isPending || placing;
  useEffect(() => {
    if (!isBusy) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isBusy]);

  const submit = async (): Promise<void> => {
    const { readPlace } = await import('./where');
    const body = {
      name: values.name.trim(),
      customer: values.customer.trim(),
      country: values.country,
      units: values.units,
      workerName: person?.name ?? values.workerName.trim(),
      ...(values.copyOf && { copyOf: values.copyOf }),
    };
    const checked = check(NewJobBody, body);
    const place = readPlace(values);
    const errors = {
      ...Object.fromEntries((checked.errors ?? []).map((e) => [e.field, e.message])),
      ...(!body.name && { name: 'What is the job called?' }),
      ...(!body.country && { country: 'Where is it? The law of that country holds.' }),
      ...(!body.workerName && { workerName: 'It stands beside every change you make.' }),
      ...place.errors,
    };
    form.setErrors(errors);
    if (Object.keys(errors).length) return;
    if (values.madeJobId) return bring(values.madeJobId, place.body);
    sendThen(create, body, (job) => {
      if (!person) localStorage.setItem(workerKey, body.workerName);
      // Kept until all of it is there: whoever leaves the page meanwhile finds it again.
      form.setValues({ madeJobId: job.id, fileNames: files.map(({ name }) => name) });
      void bring(job.id, place.body);
    });
  };

  if (after) {
    return (
      <>
        <p>The job is made. Not all that you said of where it is could be used:</p>
        {after.problems.map((problem) => (
          <Problem key={problem} error={new Error(problem)} />
        ))}
        <Button component={Link} to={`/jobs/${after.jobId}`}>
          Open the job
        </Button>
      </>
    );
  }
  return (
    <form
      className="new-job"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
      noValidate
    >
      {values.madeJobId && !isBusy && (
        <div className="caution">
          <p>
            The job {values.name} is made, and this page was left before all that says where it is had come in.
            {values.fileNames.length > 0 && ` Choose its files once more: ${values.fileNames.join(', ')}.`}
          </p>
          <Button component={Link} to={`/jobs/${values.madeJobId}`} size="sm" variant="default" onClick={form.forget}>
            Leave it, and open the job
          </Button>
        </div>
      )}
      <section>
        <h2>Who and for whom</h2>
        <TextInput label="Name of the job" placeholder="Mill farm" maxLength={80} {...form.getInputProps('name')} />
        <TextInput label="Customer" maxLength={120} {...form.getInputProps('customer')} />
        {person ? (
          <p className="note">You lead the job, as {person.name}; others are added under People.</p>
        ) : (
          <TextInput
            label="Your name"
            description="You lead the job; others are added under People."
            maxLength={60}
            {...form.getInputProps('workerName')}
          />
        )}
      </section>
      <section>
        <h2>Under which law, in which units</h2>
        <Select
          label="Country"
          description="Where the radios stand, truthfully: its law holds."
          searchable
          data={list}
          filter={countryFilter}
          limit={300}
          nothingFoundMessage="No country of that name"
          {...form.getInputProps('country')}
        />
        <SegmentedControl
          aria-label="Units"
          style={{ marginTop: 12 }}
          data={[
            { value: 'metric', label: 'metres' },
            { value: 'imperial', label: 'feet and miles' },
          ]}
          {...form.getInputProps('units')}
        />
        {jobs.length > 0 && (
          <Select
            label="Begin with the plan of"
            description="Its places, network, obstacles and plans; no settings, measurements or serial numbers."
            mt="sm"
            searchable
            data={[
              { value: '', label: 'nothing: an empty job' },
              ...jobs.map((job) => ({ value: job.id, label: job.name })),
            ]}
            allowDeselect={false}
            {...form.getInputProps('copyOf')}
          />
        )}
      </section>
      <section {...getRootProps()}>
        <h2>Where (can wait)</h2>
        <p className="note">
          A place whose coordinates you know, or files: terrain (GeoTIFF, HGT, ASCII grid) and places (GPX, KML,
          GeoJSON, CSV).
        </p>
        <div className="new-job-where">
          <TextInput
            label="First place"
            placeholder="Mill, with the feed"
            maxLength={60}
            {...form.getInputProps('placeName')}
          />
          <TextInput
            label="Its position"
            placeholder={'33.41200, -37.84060 or 33°24\'43.2"N 37°50\'26.2"W'}
            {...form.getInputProps('position')}
          />
          <NumberField
            label="Ground above sea level"
            description="empty: as the terrain says"
            {...metres}
            {...form.getInputProps('groundM')}
          />
        </div>
        <input {...getInputProps({ 'aria-label': 'Terrain and places' })} />
        <div className="row" style={{ marginTop: 10 }}>
          <Button variant="default" onClick={open}>
            Choose files
          </Button>
          <span className="soft">or drop them here</span>
        </div>
        <ul className="plain">
          {files.map((file, i) => (
            <li key={`${file.name} ${i}`} className="row" style={{ marginTop: 6 }}>
              {file.name}, {terrainEndings.test(file.name) ? 'terrain' : 'places'}
              {!terrainEndings.test(file.name) && file.size > placesLimits.characters && ', too large'}
              <Button size="compact-sm" variant="default" onClick={() => setFiles(files.filter((_, k) => k !== i))}>
                Leave out
              </Button>
            </li>
          ))}
        </ul>
      </section>
      <Problem error={create.error} />
      <Working>
        <Button type="submit" size="lg" loading={isBusy}>
          {values.madeJobId ? 'Bring it in' : 'Begin the job'}
        </Button>
      </Working>
    </form>
  );
}
