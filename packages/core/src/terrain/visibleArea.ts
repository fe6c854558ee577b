import { earthRadiusM, standardK } from '../geodesy/tilt';
import { lightSpeedMPerS } from '../propagation/freeSpace';
import type { HeightRaster } from './grid';

/** How well a cell is seen, best first, with the diffraction parameter v (ITU-R P.526) that may not be exceeded on the way. */
export const sightSteps = [
  { key: 'clear', words: '60 % of the zone clear, no loss', v: -0.6 * Math.SQRT2 },
  { key: 'grazing', words: 'in sight, up to 6 dB', v: 0 },
  { key: 'behind', words: 'just behind, 6 to 13.9 dB', v: 1 },
  { key: 'deep', words: 'behind, 13.9 to 20.5 dB', v: 2.4 },
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
 * Everything within a radius that is seen from a mast, as one step per cell. Rays run from the mast to every cell of the rim of a square; a
 * cell takes the answer of the ray that passes nearest its centre. Heights between cells are interpolated where a ray crosses the grid lines,
 * and cells sink away by d^2 / (2 k a) with the Earth. Each step asks: does anything on the way exceed v? Cost is proportional to the cells,
 * also with Fresnel zones (see `Horizon`). Void ground on the way hides nothing; a void cell stays `notLooked`.
 *
 * A generator, so that its caller can show progress and give up: it yields the share that is done. The raster should be cut to the radius.
 * @throws RangeError where the mast stands on void ground
 */
export function* visibleArea(query: VisibleAreaQuery): Generator<number, Uint8Array, void> {
  const { raster, column, row, radiusM } = query;
  const { columns, rows } = raster;
  const steps = new Uint8Array(columns * rows).fill(notLooked);
  const start = row * columns + column;
  const mastGroundM = raster.heightsM[start] ?? NaN;
  if (Number.isNaN(mastGroundM)) {
    throw new RangeError('There is no terrain where the mast stands: import some, or move the mast.');
  }
  const horizons = horizonsFor(query.frequencyMHz, Math.max(columns, rows));
  const best = horizons[0]?.step ?? 0;
  steps[start] = best;
  // The rim: a square around the mast that reaches as far as the radius and the grid do.
  const reach = Math.min(
    Math.ceil(radiusM / Math.min(query.cellWidthM, query.cellHeightM)),
    Math.max(column, columns - 1 - column, row, rows - 1 - row),
  );
  const mastM = mastGroundM + query.mastHeightM;
  const [east, south] = [columns - 1 - column, rows - 1 - row];
  // Strides of a step outwards and of a cell sideways; how far the grid goes outwards, and sideways to both hands.
  const sides = [
    { out: 1, aside: columns, far: east, left: row, right: south, outM: query.cellWidthM, asideM: query.cellHeightM },
    {
      out: -1,
      aside: columns,
      far: column,
      left: row,
      right: south,
      outM: query.cellWidthM,
      asideM: query.cellHeightM,
    },
    {
      out: columns,
      aside: 1,
      far: south,
      left: column,
      right: east,
      outM: query.cellHeightM,
      asideM: query.cellWidthM,
    },
    { out: -columns, aside: 1, far: row, left: column, right: east, outM: query.cellHeightM, asideM: query.cellWidthM },
  ];
  let done = 0;
  for (const side of sides) {
    for (let k = -reach; k <= reach; k++) {
      if (done++ % 256 === 0) yield done / (8 * reach + 4);
      walk(query, side, k / reach, reach, start, mastM, horizons, steps);
    }
  }
  return steps;
}

interface Side {
  out: number;
  aside: number;
  far: number;
  left: number;
  right: number;
  outM: number;
  asideM: number;
}

/**
 * Walks one ray from the mast, which drifts sideways by a part of a cell for each cell outwards. The innermost loop: indexed access is known to
 * be in range.
 */
function walk(
  { raster: { heightsM }, targetHeightM, radiusM, k }: VisibleAreaQuery,
  side: Side,
  drift: number,
  reach: number,
  start: number,
  mastM: number,
  horizons: readonly Horizon[],
  steps: Uint8Array,
): void {
  const { out, aside } = side;
  const stepM = Math.hypot(side.outM, drift * side.asideM);
  const bend = (stepM * stepM) / (2 * (k ?? standardK) * earthRadiusM);
  const room = drift < 0 ? side.left : side.right;
  const within = drift === 0 ? reach : Math.floor(room / Math.abs(drift) + 1e-9);
  const count = Math.min(side.far, reach, within, Math.floor(radiusM / stepM));
  // A cell belongs to the ray that meets the rim nearest to its own line: aside by no more than half a rim cell, scaled down to here.
  // Lines that pass halfway between two rim cells are taken by both rays; the slack is for their rounding.
  const half = 0.5 / reach;
  const last = horizons.length;
  for (let h = 0; h < last; h++) (horizons[h] as Horizon).reset();
  for (let i = 1; i <= count; i++) {
    const drifted = i * drift;
    const whole = Math.floor(drifted + 1e-9);
    const share = drifted - whole < 1e-9 ? 0 : drifted - whole;
    const first = start + i * out + whole * aside;
    const low = heightsM[first] as number;
    const high = share === 0 ? low : (heightsM[first + aside] as number);
    const inverse = 1 / (i * stepM);
    const dropM = i * i * bend + mastM;
    const groundSlope = (low + (high - low) * share - dropM) * inverse;
    const nearFirst = share < 0.5;
    const decides = (nearFirst ? share : 1 - share) <= half * i + 1e-6;
    const slope = ((nearFirst ? low : high) + targetHeightM - dropM) * inverse;
    let step = hiddenStep as number;
    for (let h = last - 1; h >= 0; h--) {
      const horizon = horizons[h] as Horizon;
      const least = horizon.leastSlope(inverse);
      if (slope >= least) step = horizon.step;
      // Void ground makes the slope NaN, which is never added.
      if (groundSlope === groundSlope) horizon.add(groundSlope, inverse, least);
    }
    if (decides && slope === slope) steps[nearFirst ? first : first + aside] = step;
  }
}

function horizonsFor(frequencyMHz: number | undefined, capacity: number): Horizon[] {
  if (frequencyMHz === undefined) return [new Horizon(1, 0, capacity)];
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  // v = h sqrt(2 / lambda (1/d1 + 1/d2)): an obstacle may rise h = v sqrt(lambda / 2) / sqrt(1/d1 + 1/d2) over the line.
  return sightSteps.map(({ v }, step) => new Horizon(step, -v * Math.sqrt(wavelengthM / 2), capacity));
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

  /** @param least what is demanded at this distance already */
  add(slope: number, w: number, least: number): void {
    if (this.c === 0) {
      if (slope > least) this.steepest = slope;
      return;
    }
    if (this.c > 0) {
      // A point whose demand will never grow beyond what is demanded already cannot lead.
      if (slope + this.c * Math.sqrt(w) <= least) return;
      // The newest gains from now on: whoever is not above it will never be again.
      while (this.last >= this.first && this.demand(this.last, w) <= slope) this.last--;
    } else if (slope <= least) {
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
