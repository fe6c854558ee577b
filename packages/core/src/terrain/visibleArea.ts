import { earthRadiusM, standardK } from '../geodesy';
import { lightSpeedMPerS } from '../propagation';
import type { HeightRaster } from './grid';

/** How well a cell is seen, best first, with the diffraction parameter v (ITU-R P.526) that may not be exceeded on the way. */
export const sightSteps = [
  { key: 'clear', words: '60 % of the zone clear, no loss', v: -0.6 * Math.SQRT2 },
  { key: 'grazing', words: 'in sight, up to 6 dB', v: 0 },
  { key: 'behind', words: 'just behind, 6 to 13 dB', v: 1 },
  { key: 'deep', words: 'behind, 13 to 20 dB', v: 2.4 },
] as const;

/** Value of cells behind more than every step; and of cells that were not looked at, or whose height is void. */
export const hiddenStep = sightSteps.length;
export const notLooked = 255;

export interface VisibleAreaQuery {
  raster: HeightRaster;
  cellWidthM: number;
  cellHeightM: number;
  /** cell of the mast */
  column: number;
  row: number;
  /** of the antenna, and of the other antenna wherever it will stand, above ground */
  mastHeightM: number;
  targetHeightM: number;
  radiusM: number;
  k?: number;
  /** without a frequency only plain sight is judged: steps 1 and hidden */
  frequencyMHz?: number;
}

/**
 * Everything within a radius that is seen from a mast, as one step per cell. Rays run from the mast to every cell of the rim; a cell takes the
 * answer of the ray that passes nearest its centre. Heights between cells are interpolated where a ray crosses the grid lines, and cells
 * sink away by d^2 / (2 k a) with the Earth. Each step asks: does anything on the way exceed v? Cost is proportional to the cells, also with Fresnel zones
 * (see `Horizon`). Void ground on the way hides nothing; a void cell stays `notLooked`.
 *
 * A generator, so that its caller can show progress and give up: it yields the share that is done. The raster should be cut to the radius.
 * @throws RangeError where the mast stands on void ground
 */
export function* visibleArea(query: VisibleAreaQuery): Generator<number, Uint8Array, void> {
  const { raster, column, row } = query;
  const steps = new Uint8Array(raster.columns * raster.rows).fill(notLooked);
  const mastGroundM = raster.heightsM[row * raster.columns + column] ?? NaN;
  if (Number.isNaN(mastGroundM)) {
    throw new RangeError('There is no terrain where the mast stands: import some, or move the mast.');
  }
  const horizons = horizonsFor(query.frequencyMHz, Math.max(raster.columns, raster.rows));
  steps[row * raster.columns + column] = horizons[0]?.step ?? 0;
  /** how far from a ray the centre of a cell lies whose answer is kept; nearer rays win */
  const aside = new Float32Array(steps.length).fill(1);
  const rim = rimOf(query);
  for (let r = 0; r < rim.length; r += 2) {
    if (r % 512 === 0) yield r / rim.length;
    walk(query, mastGroundM + query.mastHeightM, rim[r] as number, rim[r + 1] as number, horizons, aside, steps);
  }
  return steps;
}

/** Walks one ray from the mast, a cell of its longer axis at a time. The innermost loop: indexed access is known to be in range. */
function walk(
  { raster, column, row, cellWidthM, cellHeightM, targetHeightM, radiusM, k }: VisibleAreaQuery,
  mastM: number,
  toColumns: number,
  toRows: number,
  horizons: Horizon[],
  aside: Float32Array,
  steps: Uint8Array,
): void {
  const { columns, heightsM } = raster;
  const bend = 1 / (2 * (k ?? standardK) * earthRadiusM);
  const count = Math.max(Math.abs(toColumns), Math.abs(toRows));
  const stepM = Math.hypot((toColumns / count) * cellWidthM, (toRows / count) * cellHeightM);
  const alongColumns = Math.abs(toColumns) >= Math.abs(toRows);
  // Index strides of one step along the longer axis and of one cell sideways, and how far the ray drifts sideways a step.
  const along = alongColumns ? Math.sign(toColumns) : Math.sign(toRows) * columns;
  const sideways = alongColumns ? columns : 1;
  const drift = (alongColumns ? toRows : toColumns) / count;
  const start = row * columns + column;
  const lastHorizon = horizons.length - 1;
  for (let h = 0; h <= lastHorizon; h++) (horizons[h] as Horizon).reset();
  const reach = Math.min(count, Math.floor(radiusM / stepM));
  for (let i = 1; i <= reach; i++) {
    const drifted = i * drift;
    const side = Math.floor(drifted);
    const share = drifted - side;
    const first = start + i * along + side * sideways;
    const low = heightsM[first] as number;
    const high = share === 0 ? low : (heightsM[first + sideways] as number);
    const distanceM = i * stepM;
    const inverse = 1 / distanceM;
    const dropM = distanceM * distanceM * bend + mastM;
    const nearest = share < 0.5 ? first : first + sideways;
    const offset = share < 0.5 ? share : 1 - share;
    if (offset < (aside[nearest] as number)) {
      aside[nearest] = offset;
      const slope = ((share < 0.5 ? low : high) + targetHeightM - dropM) * inverse;
      // Void ground makes the slope NaN, which is no step.
      if (slope === slope) {
        let h = 0;
        while (h <= lastHorizon && slope < (horizons[h] as Horizon).leastSlope(inverse)) h++;
        steps[nearest] = h <= lastHorizon ? (horizons[h] as Horizon).step : hiddenStep;
      }
    }
    const groundSlope = (low + (high - low) * share - dropM) * inverse;
    if (groundSlope === groundSlope) {
      for (let h = 0; h <= lastHorizon; h++) (horizons[h] as Horizon).add(groundSlope, inverse);
    }
  }
}

function horizonsFor(frequencyMHz: number | undefined, capacity: number): Horizon[] {
  if (frequencyMHz === undefined) return [new Horizon(1, 0, capacity)];
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  // v = h sqrt(2 / lambda (1/d1 + 1/d2)): an obstacle may rise h = v sqrt(lambda / 2) / sqrt(1/d1 + 1/d2) over the line.
  return sightSteps.map(({ v }, step) => new Horizon(step, -v * Math.sqrt(wavelengthM / 2), capacity));
}

/** Offsets from the mast to every cell of the rim of the square around the radius, clipped to the grid, as pairs. */
function rimOf({ raster, column, row, radiusM, cellWidthM, cellHeightM }: VisibleAreaQuery): Int32Array {
  const reachColumns = Math.ceil(radiusM / cellWidthM);
  const reachRows = Math.ceil(radiusM / cellHeightM);
  const west = -Math.min(reachColumns, column);
  const east = Math.min(reachColumns, raster.columns - 1 - column);
  const north = -Math.min(reachRows, row);
  const south = Math.min(reachRows, raster.rows - 1 - row);
  const rim: number[] = [];
  for (let c = west; c <= east; c++) {
    if (north < 0) rim.push(c, north);
    if (south > 0) rim.push(c, south);
  }
  for (let r = north < 0 ? north + 1 : 0; r <= (south > 0 ? south - 1 : 0); r++) {
    if (west < 0) rim.push(west, r);
    if (east > 0) rim.push(east, r);
  }
  return Int32Array.from(rim);
}

/**
 * What a ray has passed, asked for the least slope of a sight line that keeps a margin over all of it.
 *
 * A point at distance d and slope s demands of a line to D the slope s + c sqrt(1/d - 1/D): c carries the margin, scaled by the Fresnel zone
 * (positive: keep clear of the point; negative: it may stick in). The demands of two points cross at most once while D grows: for c > 0 the
 * later point only ever gains, for c < 0 it only ever loses. So a point that cannot lead again is dropped for good, and finding the leader
 * costs constant time a step on average: an upper envelope kept like a convex hull. With c > 0 the leader is the oldest kept point, else the
 * newest. Distances are held as w = 1/d, the other end's as u = 1/D.
 */
class Horizon {
  private readonly w: Float64Array;
  private readonly s: Float64Array;
  /** u at which the point and the one before it are equal */
  private readonly meets: Float64Array;
  private first = 0;
  private last = -1;
  private steepest = -Infinity;

  constructor(
    readonly step: number,
    private readonly c: number,
    capacity: number,
  ) {
    this.w = new Float64Array(capacity);
    this.s = new Float64Array(capacity);
    this.meets = new Float64Array(capacity);
  }

  reset(): void {
    this.first = 0;
    this.last = -1;
    this.steepest = -Infinity;
  }

  add(slope: number, w: number): void {
    if (this.c === 0) {
      if (slope > this.steepest) this.steepest = slope;
      return;
    }
    if (this.c > 0) {
      // The newest gains from now on: whoever is not above it will never be again.
      while (this.last >= this.first && this.demand(this.last, w) <= slope) this.last--;
    } else if (slope <= this.leastSlope(w)) {
      // The newest loses from now on: unless it leads now it never will.
      return;
    }
    let meets = -Infinity;
    while (this.last >= this.first) {
      meets = this.meetsNew(slope, w);
      if (this.last === this.first) break;
      // The last point never leads when what comes after it takes the lead before it would.
      const mine = this.meets[this.last] as number;
      if (this.c > 0 ? meets < mine : mine < meets) break;
      this.last--;
    }
    this.last++;
    this.w[this.last] = w;
    this.s[this.last] = slope;
    this.meets[this.last] = meets;
  }

  leastSlope(u: number): number {
    if (this.c === 0) return this.steepest;
    if (this.last < this.first) return -Infinity;
    if (this.c > 0) {
      while (this.first < this.last && u <= (this.meets[this.first + 1] as number)) this.first++;
      return this.demand(this.first, u);
    }
    while (this.last > 0 && u <= (this.meets[this.last] as number)) this.last--;
    return this.demand(this.last, u);
  }

  private demand(i: number, u: number): number {
    return (this.s[i] as number) + this.c * Math.sqrt(Math.max(0, (this.w[i] as number) - u));
  }

  /**
   * The u at which the last point's demand equals a new one's, from sqrt(wLast - u) - sqrt(wNew - u) = (sNew - sLast) / c. The left side is
   * largest at u = wNew, sqrt(wLast - wNew), and falls towards 0 as u falls. @returns -Infinity when they never meet
   */
  private meetsNew(slope: number, w: number): number {
    const difference = (slope - (this.s[this.last] as number)) / this.c;
    const gap = (this.w[this.last] as number) - w;
    if (difference <= 0) return -Infinity;
    if (difference * difference >= gap) return w;
    const root = (gap - difference * difference) / (2 * difference);
    return w - root * root;
  }
}
