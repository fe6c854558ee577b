/** A named position from a file. */
export interface Waypoint {
  name: string;
  latitudeDeg: number;
  longitudeDeg: number;
  /** above sea level, where the file tells */
  heightM: number | null;
}

/** A file of places that cannot be used. The message names the value and how to repair it. */
export class PlacesFileError extends Error {
  override name = 'PlacesFileError';
}

/** What could be read, and what was left out with its reason. */
export interface WaypointFile {
  waypoints: Waypoint[];
  notes: string[];
}

/** Places in one file; more are those of many jobs. */
export const mostWaypoints = 2000;
