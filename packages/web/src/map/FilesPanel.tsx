import { routes } from '@kivram/contract/routes';
import { fillPath } from '@kivram/contract/routes/route';
import type { JobView } from '@kivram/contract/views/job';
import { placesLimits } from '@kivram/contract/views/terrain';
import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { Problem } from '../parts/Problem';
import { useFiles } from '../parts/useFiles';
import { useChange } from '../queries';
import { Working } from '../parts/Only';

/** Places from and into files of open formats. */
export function FilesPanel({ job }: { job: JobView }) {
  const [kind, setKind] = useState('landmark');
  const take = useChange(routes.importPlaces, { jobId: job.job.id });
  const { drop, results } = useFiles({ ...placesLimits, mend: 'Keep the places of this job.' }, (file) =>
    take.mutateAsync({ ...file, kind }),
  );
  const exportHref = (format: string): string => fillPath(routes.exportPlaces.path, { jobId: job.job.id, format });
  return (
    <section className="map-panel">
      <h2>Places as files</h2>
      <Working jobId={job.job.id}>
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
        {results.map(({ name, read, error }, i) =>
          read ? (
            <div role="status" key={i}>
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
            <Problem key={i} error={new Error(`${name}: ${error}`)} />
          ),
        )}
      </Working>
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
