import { CoordinateError, parseCoordinate, type Axis, type Position } from '@kivram/core/geodesy/coordinates';
import { parsePosition } from '@kivram/core/geodesy/utm';
import { parse } from 'csv-parse/sync';
import { mostWaypoints, placeName, PlacesFileError, type Waypoint, type WaypointFile } from './waypoint';

const columns = {
  name: ['name', 'title', 'id', 'waypoint'],
  latitude: ['latitude', 'lat', 'latitudedeg', 'y'],
  longitude: ['longitude', 'lon', 'lng', 'long', 'longitudedeg', 'x'],
  position: ['position', 'utm', 'coordinates'],
  height: ['height', 'elevation', 'ele', 'altitude', 'alt', 'groundheightm'],
};

/** Rows of a table with a header: name, latitude and longitude in any form, or one column "position" (also UTM). Comma, semicolon or tab. */
export function readCsv(text: string): WaypointFile {
  let rows: Record<string, string>[];
  let head: string[] = [];
  try {
    rows = parse(text, {
      columns: (header: string[]) =>
        (head = header.map((h) =>
          h
            .trim()
            .toLowerCase()
            .replace(/[^a-z]/g, ''),
        )),
      delimiter: delimiterOf(text),
      bom: true,
      trim: true,
      skip_empty_lines: true,
      relax_column_count: true,
      // seconds of arc are written with a quotation mark
      relax_quotes: true,
      // one more than may be, so that it can be said
      to: mostWaypoints + 1,
    });
  } catch (error) {
    throw new PlacesFileError(`This is no table of places: ${error instanceof Error ? error.message : ''}.`);
  }
  const first = rows[0];
  if (!first) throw new PlacesFileError('The table is empty, or has a header only.');
  const column = (key: keyof typeof columns): string | undefined => columns[key].find((name) => name in first);
  const [latitude, longitude, position] = [column('latitude'), column('longitude'), column('position')];
  if (!position && (!latitude || !longitude)) {
    throw new PlacesFileError(
      `The header has the columns ${Object.keys(first).slice(0, 8).join(', ')}; it needs "latitude" and "longitude", or "position".`,
    );
  }
  const nameColumn = column('name');
  const heightColumn = column('height');
  const waypoints: Waypoint[] = [];
  const notes: string[] = [];
  rows.forEach((row, i) => {
    const name = placeName((nameColumn && row[nameColumn]) || `Row ${i + 2}`, notes);
    try {
      const read = (key: string | undefined, axis: Axis): number => parseCoordinate((key && row[key]) ?? '', axis);
      const at: Position =
        latitude && longitude
          ? { latitudeDeg: read(latitude, 'latitude'), longitudeDeg: read(longitude, 'longitude') }
          : parsePosition((position && row[position]) ?? '');
      const height = Number(((heightColumn && row[heightColumn]) || 'NaN').replace(',', '.'));
      waypoints.push({ ...at, name, heightM: height >= -430 && height <= 9000 ? height : null });
    } catch (error) {
      if (!(error instanceof CoordinateError)) throw error;
      notes.push(`${name}: ${error.message} Left out.`);
    }
  });
  const used = [nameColumn, latitude, longitude, position, heightColumn];
  const unused = head.filter((key) => key && !used.includes(key));
  if (unused.length)
    notes.push(`Not read, for a place has no such field: the columns ${unused.slice(0, 8).join(', ')}.`);
  return { waypoints, notes };
}

function delimiterOf(text: string): string {
  const header = text.split('\n', 1)[0] ?? '';
  const counts = [';', '\t', ','].map((d) => ({ d, n: header.split(d).length }));
  return counts.reduce((best, c) => (c.n > best.n ? c : best)).d;
}
