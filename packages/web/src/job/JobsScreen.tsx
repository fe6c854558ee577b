import type { ImportResult } from '@kivram/contract';
import { routes } from '@kivram/contract';
import { Button, Checkbox } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, Navigate, useNavigate } from 'react-router';
import { call } from '../api';
import { Problem } from '../parts/Problem';
import { useJobs } from '../queries';

/** All jobs, and bringing one in from a file. With `opensOnlyJob`, a single job opens at once. */
export function JobsScreen({ opensOnlyJob = false }: { opensOnlyJob?: boolean }) {
  const jobs = useJobs();
  const only = jobs.data?.length === 1 ? jobs.data[0] : undefined;
  if (opensOnlyJob && only) return <Navigate to={`/jobs/${only.id}`} replace />;
  return (
    <>
      <h1>Jobs</h1>
      <Problem error={jobs.error} />
      <table className="ruled">
        <thead>
          <tr>
            <th>Job</th>
            <th>Customer</th>
            <th className="right">Links</th>
          </tr>
        </thead>
        <tbody>
          {jobs.data?.map((job) => (
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
      <JobImport />
    </>
  );
}

function JobImport() {
  const [replace, setReplace] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: async (file: File): Promise<ImportResult> =>
      call(routes.importJob, {}, parseJob(file.name, await file.text()), replace ? '?replace=yes' : ''),
    onSuccess: (result) => {
      void queries.invalidateQueries();
      if (!result.warnings.length) void navigate(`/jobs/${result.jobId}`);
    },
  });
  const { getRootProps, getInputProps, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDrop: ([file]) => file && bring.mutate(file),
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
        <Checkbox
          mt="sm"
          checked={replace}
          onChange={(event) => setReplace(event.currentTarget.checked)}
          label="Replace the job if it is here already; its present state is lost then"
        />
      </div>
      <Problem error={bring.error} />
      {bring.data?.warnings.map((warning) => (
        <p key={warning} className="caution">
          {warning} <Link to={`/jobs/${bring.data.jobId}`}>Open the job</Link>
        </p>
      ))}
    </section>
  );
}

function parseJob(name: string, text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new Error(`${name} is not complete JSON. Perhaps the copy was cut short; export the job again.`);
  }
}
