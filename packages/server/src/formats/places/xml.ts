import { gpx, kml } from '@tmcw/togeojson';
import { DOMParser } from '@xmldom/xmldom';
import { waypointsOf } from './geoJson';
import { PlacesFileError, type WaypointFile } from './waypoint';

/** Waypoints of a GPX file (Topografix GPX 1.1). */
export const readGpx = (text: string): WaypointFile => waypointsOf(gpx(parse(text, 'GPX', 'gpx')));

/** Placemarks of a KML file (OGC KML 2.2). */
export const readKml = (text: string): WaypointFile => waypointsOf(kml(parse(text, 'KML', 'kml')));

/** Beginnings and ends of elements: a track of some ten thousand points has as many. */
const mostTags = 400_000;

type XmlDocument = Parameters<typeof gpx>[0];

function parse(text: string, words: string, root: string): XmlDocument {
  // Entities could blow a small file up without end, and no waypoint needs them.
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new PlacesFileError(`This ${words} file has a DOCTYPE, which is refused. Remove that line.`);
  if (text.split('<', mostTags + 1).length > mostTags)
    throw new PlacesFileError(`This ${words} file holds more than ${mostTags} tags. Keep the places of this job.`);
  let problem = '';
  const parser = new DOMParser({
    onError: (_level, message) => {
      problem ||= message;
    },
  });
  try {
    const document = parser.parseFromString(text, 'text/xml');
    const name = document.documentElement?.localName;
    if (name !== root)
      throw new PlacesFileError(
        `This is no ${words} file: it begins with <${name ?? 'nothing'}> and not with <${root}>.`,
      );
    if (problem) throw new Error(problem);
    return document as unknown as XmlDocument;
  } catch (error) {
    if (error instanceof PlacesFileError) throw error;
    const why = (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? '';
    throw new PlacesFileError(`This ${words} file is broken (${why.slice(0, 120)}). Is it complete?`);
  }
}
