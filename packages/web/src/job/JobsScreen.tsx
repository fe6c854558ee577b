import type { JobSummary } from '@kivram/contract/views/job';
import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { Working } from '../parts/Only';
import { Problem } from '../parts/Problem';
import { useJobs, useSession } from '../queries';
import { JobImport } from './JobImport';
import { useKeyState } from './useKeyState';

/** Jobs that the list shows without being asked to find one. */
const fewJobs = 12;

/** All jobs, those that are put away apart, and bringing one in from a file. */
export function JobsScreen() {
  const jobs = useJobs();
  const isHere = useSession().data?.isHere ?? false;
  const keyState = useKeyState(isHere).data;
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
      {keyState && (keyState.unreadable > 0 || keyState.mayBeWrittenDown) && (
        <p className="note">
          {keyState.unreadable > 0
            ? 'Some passphrases cannot be read: '
            : 'The key of your passphrases lies on this computer only: '}
          <Link to="/key">{keyState.unreadable > 0 ? 'bring the key back' : 'write it down'}</Link>
        </p>
      )}
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
