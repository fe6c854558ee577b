import { readCsv } from './csv';
import { readGeoJson } from './geoJson';
import { mostWaypoints, PlacesFileError, type WaypointFile } from './waypoint';
import { readGpx, readKml } from './xml';

export { PlacesFileError, type Waypoint } from './waypoint';
export { writeGeoJson, writeKml, type MapExport } from './write';

/** Every kind of file of places, by its ending. */
const readers = new Map<string, (text: string) => WaypointFile>(
  Object.entries({
    gpx: readGpx,
    kml: readKml,
    geojson: readGeoJson,
    json: readGeoJson,
    csv: readCsv,
    txt: readCsv,
  }),
);

/** Reads waypoints by the file's ending. @throws PlacesFileError */
export function readWaypoints(fileName: string, text: string): WaypointFile {
  const ending = /\.([a-z]+)$/i.exec(fileName)?.[1]?.toLowerCase() ?? '';
  const read = readers.get(ending);
  if (!read)
    throw new PlacesFileError(`"${fileName.slice(0, 60)}" is none of the files Kivram reads: GPX, KML, GeoJSON, CSV.`);
  const file = read(text);
  if (!file.waypoints.length) {
    throw new PlacesFileError(['No place was found in it.', ...file.notes.slice(0, 5)].join(' '));
  }
  if (file.waypoints.length > mostWaypoints) {
    throw new PlacesFileError(`It holds more than ${mostWaypoints} places. Keep those of this job.`);
  }
  return file;
}
