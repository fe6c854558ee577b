import type { Position } from '@kivram/core/geodesy/coordinates';
import { crsOf } from '@kivram/core/terrain/crs';
import { bilinearHeightM, cellAt, covers, type GridFrame } from '@kivram/core/terrain/grid';
import { fromMercator } from '@kivram/core/terrain/mercator';
import { profilePositions, type TerrainProfile } from '@kivram/core/terrain/profile';
import { LRUCache } from 'lru-cache';
import { TerrainFileRow } from '../database/models/terrainFile';
import { TerrainTileRow } from '../database/models/terrainTile';
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

/** Coordinates in the system of a grid. */
interface GridPoints {
  x: Float64Array;
  y: Float64Array;
}

const tileBytes = tileSide * tileSide * 4;

/** tiles read in one statement */
const tilesAtOnce = 64;

/**
 * All terrain that has been imported. Where grids overlap, the finest that is not void wins. Tiles are unpacked when first needed and kept
 * while there is room.
 */
export class TerrainShelf {
  private readonly tiles = new LRUCache<string, Float32Array>({
    maxSize: 128 * 1024 * 1024,
    sizeCalculation: () => tileBytes,
  });
  /** tiles that are being read */
  private readonly coming = new Map<string, Promise<Float32Array | undefined>>();
  private readonly profiles = new LRUCache<string, TerrainProfile>({ max: 2000 });

  files(): Promise<TerrainFileRow[]> {
    return TerrainFileRow.findAll({
      order: [
        ['cellM', 'ASC'],
        ['importedAt', 'DESC'],
      ],
    });
  }

  /** Of some files those that one of these positions lies on. */
  filesUnder(files: readonly TerrainFileRow[], positions: readonly Position[]): TerrainFileRow[] {
    return files.filter((file) => {
      const frame = frameOf(file);
      const { x, y } = pointsOf(frame, positions);
      return positions.some((_, i) => {
        const { column, row } = cellAt(frame, x[i] as number, y[i] as number);
        return covers(frame, column, row);
      });
    });
  }

  /** Heights at positions, NaN where no terrain is known. */
  async heightsM(positions: readonly Position[]): Promise<Float64Array> {
    return this.sample(await this.files(), positions.length, (frame) => pointsOf(frame, positions));
  }

  /** The profile along the geodesic; all nulls where no terrain is known. Whoever needs many reads the files once and hands them in. */
  async profile(near: Position, far: Position, known?: TerrainFileRow[]): Promise<TerrainProfile> {
    const files = known ?? (await this.files());
    const key = [near, far].map((p) => `${p.latitudeDeg} ${p.longitudeDeg}`).join() + files.map((f) => f.id).join();
    const kept = this.profiles.get(key);
    if (kept) return kept;
    const cellM = files[0]?.cellM ?? 1000;
    const { distanceM, positions } = profilePositions(near, far, cellM);
    const heights = await this.sample(files, positions.length, (frame) => pointsOf(frame, positions));
    const profile = {
      distanceM,
      // To the centimetre: finer than any terrain is true, and short to send.
      groundM: Array.from(heights, (h) => (Number.isNaN(h) ? null : Math.round(h * 100) / 100)),
    };
    this.profiles.set(key, profile);
    return profile;
  }

  /** Heights of a map window, row by row from the north-west, NaN where no terrain is known. */
  async window(window: MercatorWindow): Promise<Float32Array> {
    const files = await this.files();
    const heights = await this.sample(files, window.columns * window.rows, (frame) => windowPoints(frame, window));
    return Float32Array.from(heights);
  }

  /** Asks one grid after the other for what is still unknown. */
  private async sample(
    files: TerrainFileRow[],
    count: number,
    pointsIn: (frame: GridFrame) => GridPoints,
  ): Promise<Float64Array> {
    const heights = new Float64Array(count).fill(NaN);
    for (const file of files) {
      const frame = frameOf(file);
      const left = await this.sampleFile(file, frame, pointsIn(frame), heights);
      if (!left) break;
    }
    return heights;
  }

  /** Fills in what one grid knows. @returns how many points are still unknown */
  private async sampleFile(
    file: TerrainFileRow,
    frame: GridFrame,
    { x, y }: GridPoints,
    heights: Float64Array,
  ): Promise<number> {
    const columns = new Float64Array(x.length);
    const rows = new Float64Array(x.length);
    const across = tilesAcross(frame.columns);
    const needed = new Set<number>();
    const tileOf = (cell: number, cells: number): number =>
      Math.floor(Math.min(Math.max(0, cell), cells - 1) / tileSide);
    let left = 0;
    for (let i = 0; i < x.length; i++) {
      columns[i] = NaN;
      if (!Number.isNaN(heights[i])) continue;
      left++;
      const { column, row } = cellAt(frame, x[i] as number, y[i] as number);
      if (!covers(frame, column, row)) continue;
      columns[i] = column;
      rows[i] = row;
      // The four cells around may lie in up to four tiles.
      const [west, north] = [Math.floor(column), Math.floor(row)];
      const [c0, c1] = [tileOf(west, frame.columns), tileOf(west + 1, frame.columns)];
      const [r0, r1] = [tileOf(north, frame.rows) * across, tileOf(north + 1, frame.rows) * across];
      needed.add(r0 + c0);
      if (c1 !== c0) needed.add(r0 + c1).add(r1 + c1);
      if (r1 !== r0) needed.add(r1 + c0);
    }
    if (!needed.size) return left;
    const tiles = await this.load(file, needed);
    // Most cells lie in the tile of the one before.
    let number = -1;
    let tile: Float32Array | undefined;
    const cell = (column: number, row: number): number => {
      const wanted = Math.floor(row / tileSide) * across + Math.floor(column / tileSide);
      if (wanted !== number) [number, tile] = [wanted, tiles.get(wanted)];
      return tile ? (tile[(row % tileSide) * tileSide + (column % tileSide)] as number) : NaN;
    };
    for (let i = 0; i < x.length; i++) {
      if (Number.isNaN(columns[i])) continue;
      const height = bilinearHeightM(frame, cell, columns[i] as number, rows[i] as number);
      if (Number.isNaN(height)) continue;
      heights[i] = height;
      left--;
    }
    return left;
  }

  /** Tiles by their number in the file, from memory or the database. A tile that several ask for at once is read once. */
  private async load(file: TerrainFileRow, needed: ReadonlySet<number>): Promise<Map<number, Float32Array>> {
    const missing: number[] = [];
    for (const number of needed) {
      const key = `${file.id} ${number}`;
      if (!this.tiles.has(key) && !this.coming.has(key)) missing.push(number);
    }
    for (let i = 0; i < missing.length; i += tilesAtOnce) this.fetch(file, missing.slice(i, i + tilesAtOnce));
    const loaded = new Map<number, Float32Array>();
    for (const number of needed) {
      const key = `${file.id} ${number}`;
      const tile = this.tiles.get(key) ?? (await this.coming.get(key));
      if (tile) loaded.set(number, tile);
    }
    return loaded;
  }

  /** Begins to read tiles; who needs one of them waits for it. */
  private fetch(file: TerrainFileRow, numbers: number[]): void {
    const rows = TerrainTileRow.findAll({ where: { fileId: file.id, number: numbers } });
    for (const number of numbers) {
      const key = `${file.id} ${number}`;
      const tile = rows.then(async (all) => {
        const row = all.find((r) => r.number === number);
        return row && (await unpackTile(row.cells, file.wholeMetres));
      });
      this.coming.set(key, tile);
      tile
        .then((cells) => cells && this.tiles.set(key, cells))
        .catch(() => undefined) // whoever waits for it is told
        .finally(() => this.coming.delete(key));
    }
  }
}

/** The one shelf of this program: its memory is shared by all that read terrain. */
export const terrainShelf = new TerrainShelf();

function frameOf(file: TerrainFileRow): GridFrame {
  const { columns, rows, westX, northY, cellX, cellY } = file;
  return { crs: crsOf(file.epsg), columns, rows, westX, northY, cellX, cellY };
}

function pointsOf(frame: GridFrame, positions: readonly Position[]): GridPoints {
  const points = { x: new Float64Array(positions.length), y: new Float64Array(positions.length) };
  positions.forEach((position, i) => {
    const { x, y } = frame.crs.fromPosition(position);
    points.x[i] = x;
    points.y[i] = y;
  });
  return points;
}

/** Every how many cells of a window the projection is computed exactly; between them it is straight to a small part of a cell. */
const latticeCells = 16;

function windowPoints(frame: GridFrame, { west, north, cell, columns, rows }: MercatorWindow): GridPoints {
  const nodesAcross = Math.ceil(columns / latticeCells) + 1;
  const nodesDown = Math.ceil(rows / latticeCells) + 1;
  const nodes = pointsOf(
    frame,
    Array.from({ length: nodesAcross * nodesDown }, (_, i) =>
      fromMercator(
        west + (i % nodesAcross) * latticeCells * cell,
        north - Math.floor(i / nodesAcross) * latticeCells * cell,
      ),
    ),
  );
  const points = { x: new Float64Array(columns * rows), y: new Float64Array(columns * rows) };
  for (const axis of ['x', 'y'] as const) {
    const [at, to] = [nodes[axis], points[axis]];
    for (let row = 0; row < rows; row++) {
      const nodeRow = Math.floor(row / latticeCells);
      const down = row / latticeCells - nodeRow;
      for (let column = 0; column < columns; column++) {
        const nodeColumn = Math.floor(column / latticeCells);
        const right = column / latticeCells - nodeColumn;
        const n = nodeRow * nodesAcross + nodeColumn;
        const upper = (at[n] as number) * (1 - right) + (at[n + 1] as number) * right;
        const lower = (at[n + nodesAcross] as number) * (1 - right) + (at[n + nodesAcross + 1] as number) * right;
        to[row * columns + column] = upper * (1 - down) + lower * down;
      }
    }
  }
  return points;
}
