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

/** Characters of a place's name. */
const longestName = 60;

/** A name as a place can have it; what is cut is noted. */
export function placeName(name: string, notes: string[]): string {
  if (name.length <= longestName) return name;
  const cut = name.slice(0, longestName);
  notes.push(`"${name.slice(0, 200)}" is longer than a name may be here, and is called "${cut}".`);
  return cut;
}

/** Places in one file; more are those of many jobs. */
export const mostWaypoints = 2000;
