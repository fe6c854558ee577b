import { placeName, PlacesFileError, type Waypoint, type WaypointFile } from './waypoint';

interface Feature {
  geometry?: { type?: string; coordinates?: unknown } | null;
  properties?: Record<string, unknown> | null;
}

/** Points of a GeoJSON document (RFC 7946): longitude, latitude and height, WGS84. Other geometries are left out with a note. */
export function readGeoJson(text: string): WaypointFile {
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch (error) {
    throw new PlacesFileError(`This is no JSON: ${error instanceof Error ? error.message : ''}. Is the file complete?`);
  }
  return waypointsOf(document);
}

/** Shared with the formats that are turned into GeoJSON first. */
export function waypointsOf(document: unknown): WaypointFile {
  const root = document as { type?: string; features?: unknown } | null;
  const features = root?.type === 'FeatureCollection' ? root.features : root?.type === 'Feature' ? [root] : undefined;
  if (!Array.isArray(features)) {
    throw new PlacesFileError('This is no GeoJSON: its "type" should be FeatureCollection or Feature.');
  }
  const waypoints: Waypoint[] = [];
  const notes: string[] = [];
  let others = 0;
  features.forEach((feature: Feature | null, i) => {
    if (feature?.geometry?.type !== 'Point') {
      others++;
      return;
    }
    const coordinates = feature.geometry.coordinates;
    const [longitudeDeg, latitudeDeg, height] = Array.isArray(coordinates) ? (coordinates as unknown[]) : [];
    const given = feature.properties?.name;
    const name =
      (typeof given === 'string' || typeof given === 'number' ? String(given).trim() : '') || `Point ${i + 1}`;
    if (!isDegrees(latitudeDeg, 90) || !isDegrees(longitudeDeg, 180)) {
      notes.push(`${name.slice(0, 60)}: ${String(latitudeDeg)}, ${String(longitudeDeg)} is no position; left out.`);
      return;
    }
    const heightM = typeof height === 'number' && height >= -430 && height <= 9000 ? height : null;
    waypoints.push({ name: placeName(name, notes), latitudeDeg, longitudeDeg, heightM });
  });
  if (others)
    notes.push(`${others} ${others > 1 ? 'lines or areas' : 'line or area'} left out: only points become places.`);
  return { waypoints, notes };
}

function isDegrees(value: unknown, limit: number): value is number {
  return typeof value === 'number' && Math.abs(value) <= limit;
}
