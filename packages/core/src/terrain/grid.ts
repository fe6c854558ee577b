import { solveGeodesic } from '../geodesy/geodesic';
import type { Crs } from './crs';

/** Where a terrain grid lies. Column 0, row 0 is the north-west cell; x and y are those of cell centres. */
export interface GridFrame {
  crs: Crs;
  columns: number;
  rows: number;
  /** centre of the north-west cell */
  westX: number;
  northY: number;
  /** cell size in units of the system, both positive; y falls as rows rise */
  cellX: number;
  cellY: number;
}

/** Height in metres of a cell, NaN where it is void. Column and row lie within the grid. */
export type CellHeight = (column: number, row: number) => number;

/** A small grid held in memory, row by row from the north-west, NaN for voids. */
export interface HeightRaster {
  columns: number;
  rows: number;
  heightsM: Float32Array;
}

/** The fractional column and row of grid coordinates; whole numbers are cell centres. */
export function cellAt(frame: GridFrame, x: number, y: number): { column: number; row: number } {
  return { column: (x - frame.westX) / frame.cellX, row: (frame.northY - y) / frame.cellY };
}

/** Whether a fractional cell lies within half a cell of the grid's centres: the area the grid covers. */
export function covers({ columns, rows }: Pick<GridFrame, 'columns' | 'rows'>, column: number, row: number): boolean {
  return column >= -0.5 && row >= -0.5 && column <= columns - 0.5 && row <= rows - 0.5;
}

/**
 * Bilinear height between four cell centres. Where some of them are void the others carry their weight; NaN when the nearest is void or the
 * place lies outside. In the outer half cell the edge's own heights hold.
 */
export function bilinearHeightM(
  size: Pick<GridFrame, 'columns' | 'rows'>,
  height: CellHeight,
  column: number,
  row: number,
): number {
  if (!covers(size, column, row)) return NaN;
  const c = Math.min(Math.max(column, 0), size.columns - 1);
  const r = Math.min(Math.max(row, 0), size.rows - 1);
  const c0 = Math.min(Math.floor(c), Math.max(0, size.columns - 2));
  const r0 = Math.min(Math.floor(r), Math.max(0, size.rows - 2));
  const c1 = Math.min(c0 + 1, size.columns - 1);
  const r1 = Math.min(r0 + 1, size.rows - 1);
  const right = c - c0;
  const down = r - r0;
  const nw = height(c0, r0);
  const ne = height(c1, r0);
  const sw = height(c0, r1);
  const se = height(c1, r1);
  const whole = (nw * (1 - right) + ne * right) * (1 - down) + (sw * (1 - right) + se * right) * down;
  if (!Number.isNaN(whole)) return whole;
  if (Number.isNaN(height(Math.round(c), Math.round(r)))) return NaN;
  const corners: [number, number][] = [
    [nw, (1 - right) * (1 - down)],
    [ne, right * (1 - down)],
    [sw, (1 - right) * down],
    [se, right * down],
  ];
  let sum = 0;
  let weights = 0;
  for (const [value, weight] of corners) {
    if (Number.isNaN(value)) continue;
    sum += value * weight;
    weights += weight;
  }
  return sum / weights;
}

/** Size of a cell on the ground in the middle of the grid, east-west and north-south. */
export function cellSizeM(frame: GridFrame): { widthM: number; heightM: number } {
  if (frame.crs.kind === 'utm') return { widthM: frame.cellX, heightM: frame.cellY };
  const x = frame.westX + (frame.cellX * (frame.columns - 1)) / 2;
  const y = frame.northY - (frame.cellY * (frame.rows - 1)) / 2;
  const centre = { longitudeDeg: x, latitudeDeg: y };
  return {
    widthM: solveGeodesic(centre, { longitudeDeg: x + frame.cellX, latitudeDeg: y }).distanceM,
    heightM: solveGeodesic(centre, { longitudeDeg: x, latitudeDeg: y > 0 ? y - frame.cellY : y + frame.cellY })
      .distanceM,
  };
}
