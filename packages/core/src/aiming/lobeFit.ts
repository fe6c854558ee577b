import { Matrix, inverse } from 'ml-matrix';
import { apertureLossDb, apertureSlopeDb } from '../antenna/mainLobe';
import { binned, binWidths } from './bins';

/** One point of a lobe: position x (degrees or seconds), level, and the side the mount was pushed from (for play). */
export interface LobePoint {
  x: number;
  levelDbm: number;
  /** +1 or -1 where play between scale and antenna matters, else 0 */
  pushedFrom: number;
  /** how long ago it was read, seconds, where positions wander; else 0 */
  agoS: number;
}

export interface LobePrior {
  /** width between the 3 dB points, in the unit of x, and how far to trust it (standard deviation over value) */
  width: number;
  widthRelativeSd: number;
  /** half the play of the mount, in the unit of x */
  halfPlaySd?: number;
  /** how fast positions wander, in the unit of x a second */
  driftSd?: number;
  /** level at the peak, where it is known from earlier strokes */
  peakDbm?: number;
  peakSdDb?: number;
  /** position of the peak, where something else than the level foretells it */
  x?: number;
  xSd?: number;
}

export interface LobeFit {
  x: number;
  peakDbm: number;
  width: number;
  halfPlay: number;
  /** how fast positions wander, in the unit of x a second */
  drift: number;
  /** one standard deviation of x, with the fading's correlation counted in */
  xSd: number;
  widthSd: number;
  /** one standard deviation of the peak's level, likewise */
  peakSdDb: number;
  residualSdDb: number;
  /** so many neighbouring points say no more than one: fading is slow */
  inflation: number;
  /** points inside the window, and how many independent ones they are worth */
  points: number;
  effectivePoints: number;
  /** how far points reach from x on each side, in widths */
  reachBelow: number;
  reachAbove: number;
}

/** One step of the fit may change the width by this much of its logarithm, and half the play by this much of the width: more than that overshoots. */
const widthStep = 0.4;
const playStepWidths = 0.2;

/** The level about a position is the mean of what was read this near to it. */
const aboutWidths = 1 / 5;

/** A maximum is the mean of at least so many readings, which one spike cannot make. */
const leastInPeak = 3;

/** The lobe shape holds this far from its peak, in widths (8.3 dB down); weights fade out from the first to the second, so that no point jumps in or out. */
const windowWidths = { whole: 0.7, most: 0.85 } as const;

/** Huber weights (Huber 1964) lead to the lobe from afar; Tukey's biweight (Beaton and Tukey 1974) then forgets what lies far off it. */
const huberDb = 2.5;
const tukeyDb = 8;

/** Rounds in which the window follows the peak, and in which it stands still so that the fit can settle. */
const followingRounds = 10;
const settlingRounds = 20;

/** What is fitted: peak level, position, logarithm of the width, half of the play, and drift. */
const unknowns = 5;

/** Expected scatter, to weigh priors against points before the residuals are known, dB. */
const noiseDb = 1.6;

/**
 * Fits a main lobe, L0 - loss((x - x0 - h s + r t) / w) with the loss of an evenly lit aperture, by iteratively reweighted Gauss-Newton: redescending weights
 * against outliers, priors on width, play, drift and peak as extra observations, and a window that first follows the peak, so that flanks
 * and side lobes do not pull, and then stands still.
 * @returns undefined where there are too few points to say anything
 */
export function fitLobe(points: readonly LobePoint[], prior: LobePrior, startX?: number): LobeFit | undefined {
  let x0 = startX ?? smoothedMaximumX(points, prior.width);
  if (x0 === undefined) return undefined;
  let width = prior.width;
  let halfPlay = 0;
  let drift = 0;
  let peak = prior.peakDbm ?? NaN;
  const playSd = prior.halfPlaySd ?? 1e-6;
  const driftSd = prior.driftSd ?? 1e-9;
  let covariance: Matrix | undefined;
  let inside: readonly Inside[] = [];
  let settling = 0;
  const offset = (p: LobePoint): number => (p.x - (x0 ?? 0) - halfPlay * p.pushedFrom + drift * p.agoS) / width;

  for (let round = 0; round < followingRounds + settlingRounds; round++) {
    if (!settling) {
      const widest = Math.min(Math.max(width, 0.5 * prior.width), 1.6 * prior.width);
      inside = within(points, (p) => (Math.abs(offset(p)) * width) / widest);
      if (inside.length < 5) return undefined;
    }
    if (Number.isNaN(peak)) peak = inside.reduce((most, { point }) => Math.max(most, point.levelDbm), -Infinity) - 1;

    const equations = new NormalEquations();
    for (const { point: p, share } of inside) {
      const u = offset(p);
      const residual = p.levelDbm - (peak - apertureLossDb(u));
      const steep = apertureSlopeDb(u);
      const slope = steep / width;
      const weight = (share * (settling ? tukeyWeight(residual) : huberWeight(residual))) / noiseDb ** 2;
      equations.add(1, slope, steep * u, slope * p.pushedFrom, -slope * p.agoS, residual, weight);
    }
    equations.add(0, 0, 1, 0, 0, Math.log(prior.width / width), prior.widthRelativeSd ** -2);
    equations.add(0, 0, 0, 1, 0, -halfPlay, playSd ** -2);
    equations.add(0, 0, 0, 0, 1, -drift, driftSd ** -2);
    if (prior.x !== undefined) equations.add(0, 1, 0, 0, 0, prior.x - x0, (prior.xSd ?? prior.width) ** -2);
    if (prior.peakDbm !== undefined) equations.add(1, 0, 0, 0, 0, prior.peakDbm - peak, (prior.peakSdDb ?? 1) ** -2);

    covariance = equations.covariance();
    const step = covariance.mmul(equations.right()).to1DArray();
    const stepX = clamp(step[1] ?? 0, 0.4 * width);
    peak += step[0] ?? 0;
    x0 += stepX;
    width *= Math.exp(clamp(step[2] ?? 0, widthStep));
    halfPlay += clamp(step[3] ?? 0, playStepWidths * width);
    drift += step[4] ?? 0;
    if (![peak, x0, width, halfPlay, drift].every(Number.isFinite)) return undefined;
    const still = Math.abs(stepX) < 1e-3 * width && Math.abs(step[0] ?? 0) < 5e-3;
    if (settling && still) break;
    if (settling || still || round >= followingRounds - 1) settling++;
  }
  if (!covariance) return undefined;

  const offsets = inside.map(({ point }) => offset(point));
  const residuals = inside.map(({ point }, i) => point.levelDbm - (peak - apertureLossDb(offsets[i] ?? 0)));
  const residualSdDb = Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / Math.max(1, inside.length - 3));
  // Correlated fading makes neighbours repeat each other: an AR(1) series of n is worth n (1 - r) / (1 + r).
  // Of few points it comes out too small, by (1 + 4 r) / n (Marriott and Pope 1954).
  const seen = lagOneCorrelation(residuals);
  const r = clamp(seen + (1 + 4 * seen) / inside.length, 0.96);
  const inflation = Math.max(1, (1 + r) / (1 - r));
  const scale = (Math.max(residualSdDb, 0.5) / noiseDb) * Math.sqrt(inflation);
  return {
    x: x0,
    peakDbm: peak,
    width,
    halfPlay,
    drift,
    xSd: Math.sqrt(covariance.get(1, 1)) * scale,
    widthSd: width * Math.sqrt(covariance.get(2, 2)) * Math.max(1, scale),
    peakSdDb: Math.sqrt(covariance.get(0, 0)) * scale,
    residualSdDb,
    inflation,
    points: inside.length,
    effectivePoints: inside.length / inflation,
    reachBelow: offsets.reduce((most, u) => Math.max(most, -u), 0),
    reachAbove: offsets.reduce((most, u) => Math.max(most, u), 0),
  };
}

/** Sum of squares of how far points near the peak lie off a fitted lobe, dB squared; what is far off counts no more than a little. */
export function misfit(points: readonly LobePoint[], { x, peakDbm, width, halfPlay, drift }: LobeFit): number {
  let sum = 0;
  for (const p of points) {
    const u = (p.x - x - halfPlay * p.pushedFrom + drift * p.agoS) / width;
    const residual = Math.min(tukeyDb, Math.abs(p.levelDbm - (peakDbm - apertureLossDb(u))));
    sum += windowShare(Math.abs(u)) * residual * residual;
  }
  return sum;
}

interface Inside {
  point: LobePoint;
  share: number;
}

function within(points: readonly LobePoint[], widthsOff: (point: LobePoint) => number): Inside[] {
  const inside: Inside[] = [];
  for (const point of points) {
    const share = windowShare(widthsOff(point));
    if (share > 0) inside.push({ point, share });
  }
  return inside;
}

/** Sums of products, observation after observation: the normal equations of a weighted least squares fit. */
class NormalEquations {
  private readonly products = new Float64Array(unknowns * unknowns);
  private readonly sides = new Float64Array(unknowns);
  private readonly row = new Float64Array(unknowns);

  add(a: number, b: number, c: number, d: number, e: number, residual: number, weight: number): void {
    const { row, sides, products } = this;
    row[0] = a;
    row[1] = b;
    row[2] = c;
    row[3] = d;
    row[4] = e;
    for (let i = 0; i < unknowns; i++) {
      const weighted = weight * (row[i] ?? 0);
      sides[i] = (sides[i] ?? 0) + weighted * residual;
      // They are the same on both sides of the diagonal.
      for (let j = i; j < unknowns; j++)
        products[i * unknowns + j] = (products[i * unknowns + j] ?? 0) + weighted * (row[j] ?? 0);
    }
  }

  covariance(): Matrix {
    const whole = new Matrix(unknowns, unknowns);
    for (let i = 0; i < unknowns; i++)
      for (let j = 0; j < unknowns; j++)
        whole.set(i, j, (this.products[Math.min(i, j) * unknowns + Math.max(i, j)] ?? 0) + (i === j ? 1e-9 : 0));
    return inverse(whole);
  }

  right(): Matrix {
    return Matrix.columnVector([...this.sides]);
  }
}

function huberWeight(residualDb: number): number {
  return Math.abs(residualDb) <= huberDb ? 1 : huberDb / Math.abs(residualDb);
}

/** Weight of a level so far off the others: Tukey's biweight. */
export function tukeyWeight(residualDb: number): number {
  return Math.abs(residualDb) >= tukeyDb ? 0 : (1 - (residualDb / tukeyDb) ** 2) ** 2;
}

/** How much a point so far from the peak, in widths, counts: all of it inside, nothing outside, fading between. */
function windowShare(widths: number): number {
  const { whole, most } = windowWidths;
  if (widths <= whole) return 1;
  return widths >= most ? 0 : (1 + Math.cos((Math.PI * (widths - whole)) / (most - whole))) / 2;
}

/** The position of the highest local mean over a fifth of a lobe, which one spike cannot make. */
export function smoothedMaximumX(points: readonly LobePoint[], width: number): number | undefined {
  const bin = width * binWidths;
  const bins = binned(points, bin);
  let best: { key: number; mean: number } | undefined;
  for (const [key] of bins) {
    let sum = 0;
    let count = 0;
    for (const near of [key - 1, key, key + 1]) {
      const at = bins.get(near);
      if (!at) continue;
      sum += at.sum;
      count += at.count;
    }
    if (count >= leastInPeak && (!best || sum / count > best.mean)) best = { key, mean: sum / count };
  }
  return best && best.key * bin;
}

/** Mean of what was read within a fifth of a lobe of a position; nothing, -Infinity, where none was. */
export function levelAbout(points: readonly LobePoint[], x: number | undefined, width: number): number {
  if (x === undefined) return -Infinity;
  const near = points.filter((p) => Math.abs(p.x - x) <= aboutWidths * width);
  return near.reduce((sum, p) => sum + p.levelDbm, 0) / Math.max(1, near.length);
}

function lagOneCorrelation(values: readonly number[]): number {
  let product = 0;
  let square = 0;
  for (let i = 0; i < values.length; i++) {
    square += (values[i] ?? 0) ** 2;
    if (i) product += (values[i] ?? 0) * (values[i - 1] ?? 0);
  }
  return square > 0 ? product / square : 0;
}

function clamp(value: number, most: number): number {
  return Math.max(-most, Math.min(most, value));
}
