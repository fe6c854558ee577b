import { fillPath, placesLimits, routes, type JobView, type PlacesImport } from '@kivram/contract';
import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';

interface FileResult {
  name: string;
  read: PlacesImport | null;
  error: string | null;
}

async function bringFile(file: File, send: (text: string) => Promise<PlacesImport>): Promise<FileResult> {
  const { name } = file;
  if (file.size > placesLimits.characters) {
    const error = `${(file.size / 1e6).toFixed(1)} MB are more than the ${placesLimits.characters / 1e6} MB that can be read. Keep the places of this job.`;
    return { name, read: null, error };
  }
  try {
    return { name, read: await send(await file.text()), error: null };
  } catch (error) {
    return { name, read: null, error: error instanceof Error ? error.message : String(error) };
  }
}

/** Places from and into files of open formats. */
export function FilesPanel({ job }: { job: JobView }) {
  const [kind, setKind] = useState('landmark');
  const [results, setResults] = useState<FileResult[]>([]);
  const take = useChange(routes.importPlaces, { jobId: job.job.id });
  // One after the other; one that cannot be read stops no other.
  const bring = async (files: readonly File[]): Promise<void> => {
    setResults([]);
    for (const file of files) {
      const result = await bringFile(file, (text) =>
        take.mutateAsync({ fileName: file.name.slice(0, 200), text, kind }),
      );
      setResults((before) => [...before, result]);
    }
  };
  const drop = useDropzone({ onDrop: (files) => void bring(files), noClick: true, noKeyboard: true });
  const exportHref = (format: string): string => fillPath(routes.exportPlaces.path, { jobId: job.job.id, format });
  return (
    <section className="map-panel">
      <h2>Places from a file</h2>
      <SegmentedControl
        size="sm"
        aria-label="What the places of the file become"
        value={kind}
        onChange={setKind}
        data={[
          { value: 'landmark', label: 'as landmarks' },
          { value: 'site', label: 'as sites' },
        ]}
      />
      <div className="map-drop" style={{ marginTop: 6 }} {...drop.getRootProps()}>
        <input {...drop.getInputProps()} aria-label="File of places" />
        <Button size="sm" variant="default" onClick={drop.open}>
          Choose files
        </Button>{' '}
        or drop GPX, KML, GeoJSON or CSV here.
      </div>
      {results.map(({ name, read, error }) =>
        read ? (
          <div role="status" key={name}>
            <p style={{ margin: '6px 0' }}>
              {name}: {read.places.length} place{read.places.length === 1 ? '' : 's'} read.
            </p>
            <ul className="note">
              {read.notes.map((note) => (
                <li key={note}>{note}</li>
              ))}
            </ul>
          </div>
        ) : (
          <Problem key={name} error={new Error(`${name}: ${error ?? ''}`)} />
        ),
      )}
      <div className="row" style={{ marginTop: 8 }}>
        <Button component="a" size="sm" variant="default" href={exportHref('geojson')} download>
          Export GeoJSON
        </Button>
        <Button component="a" size="sm" variant="default" href={exportHref('kml')} download>
          Export KML
        </Button>
      </div>
    </section>
  );
}
