import {
  bilinearHeightM,
  cellAt,
  covers,
  crsOf,
  fromMercator,
  profilePositions,
  type GridFrame,
  type Position,
  type TerrainProfile,
} from '@kivram/core';
import { LRUCache } from 'lru-cache';
import { TerrainFileRow, TerrainTileRow } from '../database/models';
import { tileSide, tilesAcross, unpackTile } from './tile';

/** A window of heights in web Mercator, row by row from the north-west. */
export interface MercatorWindow {
  /** centre of the north-west cell, projected metres */
  west: number;
  north: number;
  cell: number;
  columns: number;
  rows: number;
}

const tileBytes = tileSide * tileSide * 4;

/**
 * All terrain that has been imported. Where grids overlap, the finest that is not void wins. Tiles are unpacked when first needed and kept
 * while there is room.
 */
export class TerrainShelf {
  private readonly tiles = new LRUCache<string, Float32Array>({
    maxSize: 128 * 1024 * 1024,
    sizeCalculation: () => tileBytes,
  });
  private readonly profiles = new LRUCache<string, TerrainProfile>({ max: 500 });

  files(): Promise<TerrainFileRow[]> {
    return TerrainFileRow.findAll({
      order: [
        ['cellM', 'ASC'],
        ['importedAt', 'DESC'],
      ],
    });
  }

  /** Heights at positions, NaN where no terrain is known. */
  async heightsM(positions: readonly Position[]): Promise<Float64Array> {
    return this.sample(await this.files(), positions);
  }

  /** The profile along the geodesic; all nulls where no terrain is known. */
  async profile(near: Position, far: Position): Promise<TerrainProfile> {
    const files = await this.files();
    const key = [near, far].map((p) => `${p.latitudeDeg} ${p.longitudeDeg}`).join() + files.map((f) => f.id).join();
    const known = this.profiles.get(key);
    if (known) return known;
    const cellM = files[0]?.cellM ?? 1000;
    const { distanceM, positions } = profilePositions(near, far, cellM);
    const heights = await this.sample(files, positions);
    const profile = {
      distanceM,
      // To the centimetre: finer than any terrain is true, and short to send.
      groundM: Array.from(heights, (h) => (Number.isNaN(h) ? null : Math.round(h * 100) / 100)),
    };
    this.profiles.set(key, profile);
    return profile;
  }

  async window({ west, north, cell, columns, rows }: MercatorWindow): Promise<Float32Array> {
    const positions: Position[] = [];
    for (let row = 0; row < rows; row++) {
      const { latitudeDeg } = fromMercator(0, north - row * cell);
      for (let column = 0; column < columns; column++) {
        positions.push({ latitudeDeg, longitudeDeg: fromMercator(west + column * cell, 0).longitudeDeg });
      }
    }
    return Float32Array.from(await this.heightsM(positions));
  }

  private async sample(files: TerrainFileRow[], positions: readonly Position[]): Promise<Float64Array> {
    const heights = new Float64Array(positions.length).fill(NaN);
    let open = positions.map((_, i) => i);
    for (const file of files) {
      if (!open.length) break;
      open = await this.sampleFile(file, positions, heights, open);
    }
    return heights;
  }

  /** Fills in what one grid knows. @returns the indices that are still open */
  private async sampleFile(
    file: TerrainFileRow,
    positions: readonly Position[],
    heights: Float64Array,
    open: number[],
  ): Promise<number[]> {
    const frame = frameOf(file);
    const inside: { index: number; column: number; row: number }[] = [];
    const outside: number[] = [];
    const needed = new Set<number>();
    const across = tilesAcross(file.columns);
    const tileOf = (cell: number, cells: number): number =>
      Math.floor(Math.min(Math.max(0, cell), cells - 1) / tileSide);
    for (const index of open) {
      const { x, y } = frame.crs.fromPosition(positions[index] as Position);
      const { column, row } = cellAt(frame, x, y);
      if (!covers(frame, column, row)) {
        outside.push(index);
        continue;
      }
      inside.push({ index, column, row });
      // The four cells around may lie in up to four tiles.
      const [west, north] = [Math.floor(column), Math.floor(row)];
      for (const r of [north, north + 1]) {
        for (const c of [west, west + 1]) needed.add(tileOf(r, file.rows) * across + tileOf(c, file.columns));
      }
    }
    if (!inside.length) return outside;
    const tiles = await this.load(file, needed);
    const cell = (column: number, row: number): number => {
      const tile = tiles.get(Math.floor(row / tileSide) * across + Math.floor(column / tileSide));
      return tile ? (tile[(row % tileSide) * tileSide + (column % tileSide)] as number) : NaN;
    };
    for (const { index, column, row } of inside) {
      const height = bilinearHeightM(frame, cell, column, row);
      if (Number.isNaN(height)) outside.push(index);
      else heights[index] = height;
    }
    return outside;
  }

  /** Tiles by their number in the file, from memory or the database. */
  private async load(file: TerrainFileRow, needed: ReadonlySet<number>): Promise<Map<number, Float32Array>> {
    const loaded = new Map<number, Float32Array>();
    const missing: number[] = [];
    for (const number of needed) {
      const tile = this.tiles.get(`${file.id} ${number}`);
      if (tile) loaded.set(number, tile);
      else missing.push(number);
    }
    for (let i = 0; i < missing.length; i += 64) {
      const rows = await TerrainTileRow.findAll({ where: { fileId: file.id, number: missing.slice(i, i + 64) } });
      for (const { number, cells } of rows) {
        const tile = await unpackTile(cells, file.wholeMetres);
        this.tiles.set(`${file.id} ${number}`, tile);
        loaded.set(number, tile);
      }
    }
    return loaded;
  }
}

/** The one shelf of this program: its memory is shared by all that read terrain. */
export const terrainShelf = new TerrainShelf();

function frameOf(file: TerrainFileRow): GridFrame {
  const { columns, rows, westX, northY, cellX, cellY } = file;
  return { crs: crsOf(file.epsg), columns, rows, westX, northY, cellX, cellY };
}
