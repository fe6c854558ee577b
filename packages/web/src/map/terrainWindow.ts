import { routes } from '@kivram/contract/routes';
import type { HeightRaster } from '@kivram/core/terrain/grid';

/** A window of heights in web Mercator: centre of its north-west cell and cell size in projected metres. */
export interface Window {
  west: number;
  north: number;
  cell: number;
  columns: number;
  rows: number;
}

/** Reads heights from the server, NaN where no terrain is known. */
export async function readWindow(window: Window, signal?: AbortSignal): Promise<HeightRaster> {
  const query = new URLSearchParams(Object.entries(window).map(([name, value]) => [name, String(value)]));
  const response = await fetch(`${routes.terrainWindow.path}?${query.toString()}`, { signal });
  if (!response.ok) throw new Error('The server has not sent the terrain.');
  return { columns: window.columns, rows: window.rows, heightsM: new Float32Array(await response.arrayBuffer()) };
}
