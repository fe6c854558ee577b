import { routes } from '@kivram/contract/routes';
import { terrainLimits, type TerrainFile } from '@kivram/contract/views/terrain';
import { Button, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Figure, Height } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { useChange, useTerrain } from '../queries';
import { terrainBatch } from './terrainBatch';
import { uploadTerrain, type UploadState } from './uploadTerrain';
import { Working } from '../parts/Only';

/** Terrain grids of this computer: dropped in, with progress; those that no other job rests on are taken out again. */
export function TerrainPanel({ jobId }: { jobId: string }) {
  const terrain = useTerrain();
  const queries = useQueryClient();
  const [epsg, setEpsg] = useState('');
  const [running, setRunning] = useState<{ name: string; state: UploadState } | null>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const cancel = useRef<(() => void) | null>(null);

  const take = async (files: File[]): Promise<void> => {
    const batch = await terrainBatch(files, epsg);
    setProblems(batch.problems);
    for (const { file, epsg: projection } of batch.jobs) {
      const upload = uploadTerrain(file, projection, (state) => setRunning({ name: file.name, state }));
      cancel.current = upload.cancel;
      try {
        await upload.done;
      } catch (error) {
        setProblems((before) => [...before, error instanceof Error ? error.message : String(error)]);
      }
    }
    cancel.current = null;
    setRunning(null);
    await queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== 'models' });
  };
  const drop = useDropzone({
    onDrop: (files) => void take(files),
    disabled: running !== null,
    noClick: true,
    noKeyboard: true,
  });
  return (
    <section className="map-panel">
      <h2>Terrain</h2>
      <Working>
        {running ? (
          <div role="status">
            <p style={{ margin: '0 0 4px' }}>
              {running.name}: {running.state.phase === 'sending' ? 'sending' : 'reading'}{' '}
              <Figure value={100 * running.state.share} unit="%" digits={0} />
            </p>
            <progress className="map-progress" value={running.state.share} aria-label={`Importing ${running.name}`} />
            <Button size="sm" variant="default" onClick={() => cancel.current?.()}>
              Give up
            </Button>
          </div>
        ) : (
          <>
            <div className="map-drop" {...drop.getRootProps()}>
              <input {...drop.getInputProps()} aria-label="Terrain files" />
              <Button size="sm" variant="default" onClick={drop.open}>
                Choose grids
              </Button>{' '}
              or drop GeoTIFF, HGT or ASCII grids here, with their .prj if they have one. Up to{' '}
              {terrainLimits.megabytes} MB each.
            </div>
            <TextInput
              size="sm"
              mt={6}
              label="Projection, where a file does not tell it"
              placeholder="EPSG:32624"
              value={epsg}
              onChange={(event) => setEpsg(event.currentTarget.value)}
            />
          </>
        )}
      </Working>
      {problems.map((problem) => (
        <Problem key={problem} error={new Error(problem)} />
      ))}
      <Problem error={terrain.error} />
      <ul className="plain">
        {terrain.data?.map((file) => (
          <TerrainLine key={file.id} file={file} jobId={jobId} />
        ))}
      </ul>
      {(terrain.data?.length ?? 0) > 1 && (
        <p className="note">Where grids overlap, the finest wins; its voids are filled from the next.</p>
      )}
    </section>
  );
}

function TerrainLine({ file, jobId }: { file: TerrainFile; jobId: string }) {
  const remove = useChange(routes.removeTerrain, { fileId: file.id }, `?job=${jobId}`);
  const others = file.jobIds.filter((id) => id !== jobId).length + file.otherJobs;
  const [asked, setAsked] = useState(false);
  return (
    <li style={{ borderBottom: '1px solid var(--rule)', padding: '6px 0' }}>
      <strong>{file.name}</strong>, {file.projection}
      <br />
      <span className="note">
        {file.columns} by {file.rows} cells of <Height metres={file.cellM} />, <Height metres={file.leastM} /> to{' '}
        <Height metres={file.mostM} />
        {file.voidShare > 0 && `, ${(100 * file.voidShare).toFixed(1)} % void`}
      </span>{' '}
      {others > 0 && (
        <span className="note">
          {file.jobIds.includes(jobId) ? `under ${others} other job${others > 1 ? 's' : ''} too` : 'under another job'}:
          it stays
        </span>
      )}
      <Working>
        {others > 0 ? null : asked ? (
          <Button size="compact-sm" color="red" loading={remove.isPending} onClick={() => remove.mutate(undefined)}>
            Remove it from this computer
          </Button>
        ) : (
          <Button size="compact-sm" variant="default" onClick={() => setAsked(true)} aria-label={`Remove ${file.name}`}>
            Remove
          </Button>
        )}
      </Working>
      <Problem error={remove.error} />
    </li>
  );
}
