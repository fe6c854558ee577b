import { jobFileLimits } from '@kivram/contract/jobDocument/limits';
import { routes } from '@kivram/contract/routes';
import type { ImportResult } from '@kivram/contract/views/job';
import { Button, Radio } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, useNavigate } from 'react-router';
import { sendFile } from '../api';
import { Problem } from '../parts/Problem';

/** Brings in a job from a file that Kivram wrote, here or elsewhere. */
export function JobImport() {
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
          Up to {jobFileLimits.megabytes / 1000} GB and {jobFileLimits.readings / 1e6} million readings.
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
