import type { Place } from '@kivram/contract/entities/place';
import type { LinkSummary } from '@kivram/contract/views/job';
import { worstState } from '@kivram/core/verdict/steps';

export interface MapExport {
  name: string;
  places: Place[];
  links: LinkSummary[];
}

interface LinkLine {
  link: LinkSummary;
  near: Place;
  far: Place;
}

function linesOf({ places, links }: MapExport): LinkLine[] {
  const byId = new Map(places.map((p) => [p.id, p]));
  return links.flatMap((link) => {
    const near = byId.get(link.nearPlaceId);
    const far = byId.get(link.farPlaceId);
    return near && far ? [{ link, near, far }] : [];
  });
}

/** Places as points and links as lines from near to far, RFC 7946. */
export function writeGeoJson(map: MapExport): string {
  const at = (p: Place): number[] => [p.longitudeDeg, p.latitudeDeg, p.groundHeightM];
  const document = {
    type: 'FeatureCollection',
    features: [
      ...map.places.map((p) => ({
        type: 'Feature',
        id: p.id,
        geometry: { type: 'Point', coordinates: at(p) },
        properties: { name: p.name, kind: p.kind, groundHeightM: p.groundHeightM },
      })),
      ...linesOf(map).map(({ link, near, far }) => ({
        type: 'Feature',
        id: link.id,
        geometry: { type: 'LineString', coordinates: [at(near), at(far)] },
        properties: {
          name: link.name,
          near: near.name,
          far: far.name,
          distanceM: link.distanceM,
          state: worstState(link.state.steps),
        },
      })),
    ],
  };
  return JSON.stringify(document, null, 1);
}

/** The same as OGC KML 2.2. */
export function writeKml(map: MapExport): string {
  const at = (p: Place): string => `${p.longitudeDeg},${p.latitudeDeg},${p.groundHeightM}`;
  const placemarks = [
    ...map.places.map(
      (p) =>
        `<Placemark><name>${escape(p.name)}</name><description>${p.kind}</description><Point><coordinates>${at(p)}</coordinates></Point></Placemark>`,
    ),
    ...linesOf(map).map(
      ({ link, near, far }) =>
        `<Placemark><name>${escape(link.name)}</name><LineString><coordinates>${at(near)} ${at(far)}</coordinates></LineString></Placemark>`,
    ),
  ];
  return `<?xml version="1.0" encoding="UTF-8"?>\n<kml xmlns="http://www.opengis.net/kml/2.2"><Document><name>${escape(map.name)}</name>\n${placemarks.join('\n')}\n</Document></kml>\n`;
}

function escape(text: string): string {
  return text.replace(/[<>&"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
