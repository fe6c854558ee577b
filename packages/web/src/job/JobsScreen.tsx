import type { ImportResult, JobSummary } from '@kivram/contract/views/job';
import { jobFileLimits } from '@kivram/contract/jobDocument/document';
import { routes } from '@kivram/contract/routes';
import { Button, Radio, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, Navigate, useNavigate } from 'react-router';
import { sendFile } from '../api';
import { Problem } from '../parts/Problem';
import { useJobs, useMay } from '../queries';
import { Working } from '../parts/Only';

/** Only the very first start needs it here. */
const NewJobScreen = lazy(async () => ({ default: (await import('./NewJobScreen')).NewJobScreen }));

/** Where Kivram opens: at the only job there is, at all of them, or at the first, which is to be begun. */
export function OnlyJobScreen() {
  const jobs = useJobs();
  const only = jobs.data?.length === 1 ? jobs.data[0] : undefined;
  const may = useMay();
  const isFirst = jobs.data?.length === 0 && may.work;
  // Once begun, the first job is finished here: its places are still on their way when it is in the list.
  const [begun, setBegun] = useState(false);
  if (isFirst && !begun) setBegun(true);
  if (isFirst || begun) {
    return (
      <>
        <Suspense fallback={<p className="soft">Loading</p>}>
          <NewJobScreen />
        </Suspense>
        <JobImport />
      </>
    );
  }
  return only ? <Navigate to={`/jobs/${only.id}`} replace /> : <JobsScreen />;
}

/** Jobs that the list shows without being asked to find one. */
const fewJobs = 12;

/** All jobs, those that are put away apart, and bringing one in from a file. */
export function JobsScreen() {
  const jobs = useJobs();
  const [find, setFind] = useState('');
  const wanted = find.trim().toLowerCase();
  const found = (jobs.data ?? []).filter((job) =>
    [job.name, job.customer].some((text) => text.toLowerCase().includes(wanted)),
  );
  const away = found.filter((job) => job.archivedAt !== null);
  return (
    <>
      <div className="row" style={{ margin: '4px 0 12px' }}>
        <h1>Jobs</h1>
        <span style={{ flex: 1 }} />
        {(jobs.data?.length ?? 0) > fewJobs && (
          <TextInput
            aria-label="Find a job by its name or its customer"
            placeholder="find a job"
            value={find}
            onChange={(event) => setFind(event.currentTarget.value)}
            w={200}
          />
        )}
        <Button component={Link} to="/catalogue" size="sm" variant="default">
          Catalogue of gear
        </Button>
        <Working>
          <Button component={Link} to="/jobs/new" size="sm">
            Begin a new job
          </Button>
        </Working>
      </div>
      <Problem error={jobs.error} />
      <JobTable jobs={found.filter((job) => job.archivedAt === null)} />
      {away.length > 0 && (
        <details style={{ marginTop: 16 }}>
          <summary>Put away: {away.length}</summary>
          <JobTable jobs={away} />
        </details>
      )}
      <Working>
        <JobImport />
      </Working>
    </>
  );
}

function JobTable({ jobs }: { jobs: JobSummary[] }) {
  if (!jobs.length) return null;
  return (
    <div className="scroll">
      <table className="ruled">
        <thead>
          <tr>
            <th>Job</th>
            <th>Customer</th>
            <th className="right">Links</th>
          </tr>
        </thead>
        <tbody>
          {jobs.map((job) => (
            <tr key={job.id}>
              <td>
                <Link to={`/jobs/${job.id}`}>{job.name}</Link>
              </td>
              <td>{job.customer}</td>
              <td className="right figure">{job.links}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function JobImport() {
  const [choice, setChoice] = useState('refuse');
  const [tooMany, setTooMany] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: (file: File): Promise<ImportResult> => {
      // A server that is sent too much hangs up before it can say why.
      if (file.size > jobFileLimits.megabytes * 1e6) {
        const megabytes = (file.size / 1e6).toFixed(0);
        throw new Error(`${file.name} has ${megabytes} MB; up to ${jobFileLimits.megabytes} MB can be read.`);
      }
      return sendFile(routes.importJob, file, choice === 'refuse' ? '' : `?${choice}=yes`);
    },
    onSuccess: (result) => {
      void queries.invalidateQueries();
      if (!result.warnings.length) void navigate(`/jobs/${result.jobId}`);
    },
  });
  const { getRootProps, getInputProps, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDrop: ([file], rejected) => {
      setTooMany(rejected.length > 0);
      if (file) bring.mutate(file);
    },
  });
  return (
    <section style={{ marginTop: 28 }}>
      <h2>Bring a job in</h2>
      <div {...getRootProps()} style={{ padding: '14px 0' }}>
        <input {...getInputProps({ 'aria-label': 'Job file' })} />
        <div className="row">
          <Button variant="default" onClick={open} loading={bring.isPending}>
            Choose a job file
          </Button>
          <span className="soft">or drop it here: the JSON that Kivram exports</span>
        </div>
        <Radio.Group mt="sm" label="If this very job is here already" value={choice} onChange={setChoice}>
          <Radio mt={6} value="refuse" label="Stop and say so" />
          <Radio mt={6} value="copy" label="Put a copy beside it" />
          <Radio mt={6} value="replace" label="Replace it; its present state is lost then" />
        </Radio.Group>
        <p className="note">
          Up to {jobFileLimits.megabytes} MB and {jobFileLimits.readings / 1e6} million readings.
        </p>
      </div>
      <Problem error={tooMany ? new Error('Several files were dropped: bring in one job at a time.') : bring.error} />
      {bring.data?.warnings.map((warning) => (
        <p key={warning} className="caution">
          {warning} <Link to={`/jobs/${bring.data.jobId}`}>Open the job</Link>
        </p>
      ))}
    </section>
  );
}
