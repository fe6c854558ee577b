import type { Place } from '../entities';

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
  /** corners, from the south-west around */
  outline: { latitudeDeg: number; longitudeDeg: number }[];
}

/** One line of the answer to a terrain upload; the last one is `done` or `failed`. */
export type TerrainImportLine =
  { type: 'progress'; share: number } | { type: 'done'; file: TerrainFile } | { type: 'failed'; detail: string };

export interface PlacesImport {
  places: Place[];
  /** what was left out or changed, each with the reason */
  notes: string[];
}

export interface ServerSettings {
  /** address of map tiles from a server of the user's choice, with {z}, {x} and {y}; none by default */
  tileUrl: string | null;
}
