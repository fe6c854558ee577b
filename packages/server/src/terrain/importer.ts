import { cellSizeM } from '@kivram/core/terrain/grid';
import type { Sequelize, Transaction } from 'sequelize';
import { TerrainFileRow } from '../database/models/terrainFile';
import { TerrainTileRow } from '../database/models/terrainTile';
import { openTerrain } from '../formats/terrain';
import { TerrainFileError, type OpenTerrain, type TerrainSource } from '../formats/terrain/format';
import { packTile, tileSide, tilesAcross } from './tile';

/** What no ground on Earth is lower or higher than; used as void marks by files that do not say so. */
const leastGroundM = -500;
const mostGroundM = 9000;
const undeclaredVoids = new Set([-32768, -9999]);

export interface ImportOptions {
  sha256: string;
  /** for files that do not tell their projection */
  epsg?: number;
  onProgress?(share: number): void;
}

/**
 * Reads a terrain file and stores it in tiles, all of it or nothing, in bounded memory: a strip of the file and a band of tiles.
 * @throws TerrainFileError when the file cannot be used
 */
export async function importTerrain(
  sequelize: Sequelize,
  source: TerrainSource,
  { sha256, epsg, onProgress }: ImportOptions,
): Promise<TerrainFileRow> {
  const known = await TerrainFileRow.findOne({ where: { sha256 } });
  if (known) throw new TerrainFileError(`This very file has been imported already, as ${known.name}.`);
  const terrain = await openTerrain(source, epsg);
  const { frame, wholeMetres } = terrain;
  const size = cellSizeM(frame);
  const cellM = Math.max(size.widthM, size.heightM);
  if (!(cellM >= 0.1 && cellM <= 5000)) {
    throw new TerrainFileError(
      `A cell is ${cellM.toFixed(cellM < 1 ? 3 : 0)} m wide; Kivram takes 0.1 m to 5 km. Is the projection right?`,
    );
  }
  return sequelize.transaction(async (transaction) => {
    const { crs, ...place } = frame;
    const file = await TerrainFileRow.create(
      {
        ...place,
        name: source.name.slice(0, 200),
        format: terrain.format,
        epsg: crs.epsg,
        cellM,
        wholeMetres,
        leastM: 0,
        mostM: 0,
        voidShare: 0,
        bytes: source.bytes,
        sha256,
      },
      { transaction },
    );
    const heights = await storeTiles(file, terrain, transaction, onProgress);
    await file.update(heights, { transaction });
    return file;
  });
}

/** Fills bands of tiles from strips of any height. @returns the range of heights and the share of voids */
async function storeTiles(
  file: TerrainFileRow,
  terrain: OpenTerrain,
  transaction: Transaction,
  onProgress?: (share: number) => void,
): Promise<{ leastM: number; mostM: number; voidShare: number }> {
  const { columns, rows } = terrain.frame;
  const band = new Float32Array(tileSide * columns);
  let row = 0;
  let voids = 0;
  let leastM = Infinity;
  let mostM = -Infinity;
  for await (const strip of terrain.strips()) {
    for (let r = 0; r < strip.rows; r++) {
      const inBand = (row % tileSide) * columns;
      for (let column = 0; column < columns; column++) {
        const height = strip.heightsM[r * columns + column] as number;
        const known = Number.isFinite(height) && height > -1e30 && !undeclaredVoids.has(height);
        if (known) {
          if (height < leastGroundM || height > mostGroundM) {
            throw new TerrainFileError(
              `Row ${row + 1}, column ${column + 1} of ${file.name} is ${height} m high, which no ground is. Are these metres? A void mark must be declared: gdal_translate -a_nodata ${height}.`,
            );
          }
          if (height < leastM) leastM = height;
          if (height > mostM) mostM = height;
        } else voids++;
        band[inBand + column] = known ? height : NaN;
      }
      row++;
      if (row % tileSide === 0 || row === rows) {
        await storeBand(file, band, row, transaction);
        onProgress?.(row / rows);
        // Others are served between two bands.
        await new Promise((resolve) => setImmediate(resolve));
      }
    }
  }
  if (row < rows) throw new TerrainFileError(`${file.name} is cut short: ${row} rows of ${rows}. Load it again.`);
  if (voids === columns * rows) throw new TerrainFileError(`${file.name} holds nothing but voids.`);
  return { leastM, mostM, voidShare: voids / (columns * rows) };
}

/** Cuts the band that ends before a row into tiles; what lies beyond the grid is void. */
async function storeBand(
  file: TerrainFileRow,
  band: Float32Array,
  untilRow: number,
  transaction: Transaction,
): Promise<void> {
  const tileRow = Math.ceil(untilRow / tileSide) - 1;
  const rows = untilRow - tileRow * tileSide;
  const across = tilesAcross(file.columns);
  const tiles = Array.from({ length: across }, async (_, tileColumn) => {
    const cells = new Float32Array(tileSide * tileSide).fill(NaN);
    const from = tileColumn * tileSide;
    const width = Math.min(tileSide, file.columns - from);
    for (let r = 0; r < rows; r++) {
      cells.set(band.subarray(r * file.columns + from, r * file.columns + from + width), r * tileSide);
    }
    return { fileId: file.id, number: tileRow * across + tileColumn, cells: await packTile(cells, file.wholeMetres) };
  });
  await TerrainTileRow.bulkCreate(await Promise.all(tiles), { transaction });
}
