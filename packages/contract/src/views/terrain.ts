import type { Place } from '../entities/place';
import type { NetworkOpening } from './people';

/** A terrain grid as the shelf shows it. */
export interface TerrainFile {
  id: string;
  name: string;
  format: string;
  projection: string;
  columns: number;
  rows: number;
  cellM: number;
  leastM: number;
  mostM: number;
  voidShare: number;
  bytes: number;
  importedAt: string;
  /** jobs that have a place on it; of those whose pages one may not read only how many */
  jobIds: string[];
  otherJobs: number;
  /** corners, from the south-west around */
  outline: { latitudeDeg: number; longitudeDeg: number }[];
}

/** What a terrain file and a file of places may hold. */
export const terrainLimits = { megabytes: 200 } as const;
export const placesLimits = { characters: 5_000_000 } as const;

/** How far a terrain file has been read, from 0 to 1. */
export interface TerrainUpload {
  share: number;
}

export interface PlacesImport {
  places: Place[];
  /** what was left out or changed, each with the reason */
  notes: string[];
}

export interface ServerSettings {
  /** address of map tiles from a server of the user's choice, with {z}, {x} and {y}; none by default */
  tileUrl: string | null;
  /** null while it answers to this computer only */
  opening: NetworkOpening | null;
}

/** Whether the server can work: what it cannot, and why, in words for the person in front of it. */
export interface Health {
  ready: boolean;
  /** why it cannot work now */
  trouble: string | null;
  /** what will be in its way soon */
  warning: string | null;
}
