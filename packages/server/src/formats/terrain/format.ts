import { crsOf, type Crs } from '@kivram/core/terrain/crs';
import type { GridFrame } from '@kivram/core/terrain/grid';

/** A terrain file that cannot be used. The message names the value and how to repair it. */
export class TerrainFileError extends Error {
  override name = 'TerrainFileError';
}

/** A file that is read here and there, on disk or in memory. */
export interface TerrainSource {
  name: string;
  bytes: number;
  /** fewer bytes than asked for at the end of the file */
  read(offset: number, length: number): Promise<Uint8Array>;
}

/** Rows of heights in metres from north to south, NaN for voids. */
export interface Strip {
  rows: number;
  heightsM: Float32Array;
}

/** A terrain file whose header has been read and found sound. */
export interface OpenTerrain {
  frame: GridFrame;
  /** whether heights are whole metres, which need half the room */
  wholeMetres: boolean;
  /** all rows, in strips of any height, in bounded memory */
  strips(): AsyncGenerator<Strip>;
}

/** One kind of terrain file. */
export interface TerrainFormat {
  key: string;
  words: string;
  /** by its name and first bytes */
  recognises(name: string, head: Uint8Array): boolean;
  /**
   * @param epsg what the user says the projection is, for files that do not say it
   * @throws TerrainFileError
   */
  open(source: TerrainSource, epsg: number | undefined): Promise<OpenTerrain>;
}

/** No terrain grid anyone surveys with is larger: 100 million cells. */
export const mostCells = 100_000_000;
/** A band of tiles across the grid is in memory at one time. */
const mostColumns = 50_000;

/** Refuses frames that cannot be. @throws TerrainFileError */
export function checkFrame(frame: GridFrame): void {
  const { columns, rows, westX, northY, cellX, cellY, crs } = frame;
  if (!(columns >= 2 && rows >= 2)) {
    throw new TerrainFileError(`The grid has ${columns} columns and ${rows} rows; it needs at least 2 of each.`);
  }
  if (columns * rows > mostCells) {
    throw new TerrainFileError(
      `The grid has ${columns} by ${rows} cells, more than 100 million. Cut out the part you need, for instance with gdal_translate -projwin.`,
    );
  }
  if (columns > mostColumns) {
    throw new TerrainFileError(
      `The grid has ${columns} columns; up to ${mostColumns} can be read. Cut it into pieces, for instance with gdal_translate -projwin.`,
    );
  }
  if (![westX, northY, cellX, cellY].every(Number.isFinite) || cellX <= 0 || cellY <= 0) {
    throw new TerrainFileError(`The cell size ${cellX} by ${cellY} makes no sense; both must be more than 0.`);
  }
  const east = westX + cellX * (columns - 1);
  const south = northY - cellY * (rows - 1);
  if (crs.kind === 'geographic') {
    if (westX < -181 || east > 181 || south < -90.1 || northY > 90.1) {
      throw new TerrainFileError(
        `The grid reaches from ${south.toFixed(3)}, ${westX.toFixed(3)} to ${northY.toFixed(3)}, ${east.toFixed(3)}, which are no degrees. Are they metres? Then say which projection.`,
      );
    }
  } else if (westX < -500_000 || east > 1_500_000 || south < -100_000 || northY > 10_100_000) {
    throw new TerrainFileError(
      `The grid reaches from ${westX.toFixed(0)} east, ${south.toFixed(0)} north to ${east.toFixed(0)} east, ${northY.toFixed(0)} north, outside of ${crs.name}. Say the right projection.`,
    );
  }
}

/** The system of an EPSG code. @throws TerrainFileError with the repair */
export function knownCrs(epsg: number): Crs {
  try {
    return crsOf(epsg);
  } catch (error) {
    throw new TerrainFileError(error instanceof Error ? error.message : String(error));
  }
}
