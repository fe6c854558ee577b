import { writeArrayBuffer } from 'geotiff';
import { openTerrain } from '../src/formats/terrain';
import type { OpenTerrain, TerrainSource } from '../src/formats/terrain/format';

export type HeightAt = (column: number, row: number) => number;

export function memorySource(name: string, bytes: Uint8Array): TerrainSource {
  return {
    name,
    bytes: bytes.length,
    read: (offset, length) => Promise.resolve(bytes.subarray(offset, offset + length)),
  };
}

/** An SRTM tile of 1201 cells a side. */
export function hgtFile(height: HeightAt, side = 1201): Uint8Array {
  const bytes = new Uint8Array(side * side * 2);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < side * side; i++) view.setInt16(2 * i, height(i % side, Math.floor(i / side)));
  return bytes;
}

export function asciiFile(
  header: Record<string, number | string>,
  columns: number,
  rows: number,
  height: HeightAt,
): Uint8Array {
  const lines = Object.entries({ ncols: columns, nrows: rows, ...header }).map(([key, value]) => `${key} ${value}`);
  for (let row = 0; row < rows; row++) {
    lines.push(Array.from({ length: columns }, (_, column) => height(column, row)).join(' '));
  }
  return Buffer.from(`${lines.join('\n')}\n`);
}

export interface TiffOptions {
  columns?: number;
  rows?: number;
  west?: number;
  north?: number;
  cell?: number;
  keys?: Record<string, number>;
  noData?: string;
}

export function tiffFile(height: HeightAt, options: TiffOptions = {}): Uint8Array {
  const { columns = 20, rows = 16, west = 600_000, north = 3_700_000, cell = 10, keys, noData } = options;
  const heights = Float32Array.from({ length: columns * rows }, (_, i) => height(i % columns, Math.floor(i / columns)));
  const file = writeArrayBuffer(heights, {
    width: columns,
    height: rows,
    BitsPerSample: [32],
    SampleFormat: [3],
    SamplesPerPixel: 1,
    ModelPixelScale: [cell, cell, 0],
    ModelTiepoint: [0, 0, 0, west, north, 0],
    ...(noData && { GDAL_NODATA: noData }),
    ...(keys ?? { GTModelTypeGeoKey: 1, GTRasterTypeGeoKey: 1, ProjectedCSTypeGeoKey: 32624 }),
  });
  return new Uint8Array(file);
}

export interface ReadTerrain extends OpenTerrain {
  format: string;
  heightsM: Float32Array;
}

/** Opens a file and reads all of it. */
export async function readAll(source: TerrainSource, epsg?: number): Promise<ReadTerrain> {
  const terrain = await openTerrain(source, epsg);
  const { columns, rows } = terrain.frame;
  const heightsM = new Float32Array(columns * rows);
  let row = 0;
  for await (const strip of terrain.strips()) {
    heightsM.set(strip.heightsM, row * columns);
    row += strip.rows;
  }
  if (row !== rows) throw new Error(`${row} rows of ${rows}`);
  return { ...terrain, heightsM };
}
