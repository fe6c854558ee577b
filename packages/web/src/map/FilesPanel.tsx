import { fillPath, routes, type JobView, type PlacesImport } from '@kivram/contract';
import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';

/** Places from and into files of open formats. */
export function FilesPanel({ job }: { job: JobView }) {
  const [kind, setKind] = useState('landmark');
  const [result, setResult] = useState<PlacesImport | null>(null);
  const take = useChange(routes.importPlaces, { jobId: job.job.id });
  const onDrop = (files: File[]): void => {
    const file = files[0];
    if (!file) return;
    void file
      .text()
      .then((text) =>
        take.mutate({ fileName: file.name, text, kind }, { onSuccess: setResult, onError: () => setResult(null) }),
      );
  };
  const drop = useDropzone({ onDrop, multiple: false });
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
        Drop GPX, KML, GeoJSON or CSV here, or click to choose.
      </div>
      <Problem error={take.error} />
      {result && (
        <div role="status">
          <p style={{ margin: '6px 0' }}>
            {result.places.length} place{result.places.length === 1 ? '' : 's'} read.
          </p>
          <ul className="note">
            {result.notes.map((note) => (
              <li key={note}>{note}</li>
            ))}
          </ul>
        </div>
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
