import type { Polarisation } from '../path/polarisation';
import { requireRange } from './range';
import { tenTo } from './tenTo';

/** One bell of the fits of ITU-R P.838-3: height, middle and width on the axis of log10(GHz). */
type Bell = readonly [a: number, b: number, c: number];

interface Fit {
  bells: readonly Bell[];
  slope: number;
  offset: number;
}

/** ITU-R P.838-3 tables 1 to 4, from memory; that they give the recommendation's table 5 (see the tests) confirms the memory. */
const logK: Record<Wave, Fit> = {
  horizontal: {
    bells: [
      [-5.3398, -0.10008, 1.13098],
      [-0.35351, 1.2697, 0.454],
      [-0.23789, 0.86036, 0.15354],
      [-0.94158, 0.64552, 0.16817],
    ],
    slope: -0.18961,
    offset: 0.71147,
  },
  vertical: {
    bells: [
      [-3.80595, 0.56934, 0.81061],
      [-3.44965, -0.22911, 0.51059],
      [-0.39902, 0.73042, 0.11899],
      [0.50167, 1.07319, 0.27195],
    ],
    slope: -0.16398,
    offset: 0.63297,
  },
};

const alpha: Record<Wave, Fit> = {
  horizontal: {
    bells: [
      [-0.14318, 1.82442, -0.55187],
      [0.29591, 0.77564, 0.19822],
      [0.32177, 0.63773, 0.13164],
      [-5.3761, -0.9623, 1.47828],
      [16.1721, -3.2998, 3.4399],
    ],
    slope: 0.67849,
    offset: -1.95537,
  },
  vertical: {
    bells: [
      [-0.07771, 2.3384, -0.76284],
      [0.56727, 0.95545, 0.54039],
      [-0.20238, 1.1452, 0.26809],
      [-48.2991, 0.791669, 0.116226],
      [48.5833, 0.791459, 0.116479],
    ],
    slope: -0.053739,
    offset: 0.83433,
  },
};

type Wave = Exclude<Polarisation, 'dual'>;

/** The two coefficients of rain on one frequency: the loss is k R^alpha dB/km at R mm/h. */
export interface RainCoefficients {
  k: number;
  alpha: number;
}

/**
 * Coefficients for a level path, ITU-R P.838-3 equations (2) and (3).
 * @throws RangeError outside 1 to 1000 GHz, where the fits are not made for; rain takes nothing below (`rainFade` says so)
 */
export function rainCoefficients(frequencyMHz: number, wave: Wave): RainCoefficients {
  requireRange('A frequency for loss in rain', frequencyMHz, 1000, 1_000_000, 'MHz');
  const logGHz = Math.log10(frequencyMHz / 1000);
  return { k: 10 ** fitted(logK[wave], logGHz), alpha: fitted(alpha[wave], logGHz) };
}

function fitted({ bells, slope, offset }: Fit, x: number): number {
  return bells.reduce((sum, [a, b, c]) => sum + a * Math.exp(-(((x - b) / c) ** 2)), slope * x + offset);
}

/** What rain does to one path over a year: how deep it fades, for which share of the time. */
export interface RainFade {
  /** specific attenuation at the rate of 0.01 % of the year */
  dbPerKm: number;
  /** length of the even rain that would take as much */
  effectiveKm: number;
  /** exceeded for 0.01 % of the year, 53 minutes */
  db001: number;
  /** exponent pieces of the curve over the time share */
  c1: number;
  c2: number;
  c3: number;
}

/** Rain takes less than a thousandth of a decibel from a kilometre below this. */
const dryBelowMHz = 1000;

/** Rain falls in the tenth of a year at most that reaches a margin of nothing (common practice, no source). */
const mostRainyPercent = 10;

/** Percent of the year that the recommendation's curve is given for. */
const [leastPercent, mostPercent] = [0.001, 1];
const leastLog = Math.log10(leastPercent);

/** The effective path is at most this many times the path, ITU-R P.530-17 equation (32). */
const mostLengthening = 2.5;

/**
 * Rain over a terrestrial path, ITU-R P.530-17 section 2.4.1, equations (31) to (35), from memory; up to 100 GHz and 60 km. Both waves together: the horizontal
 * one, which loses more.
 * @param rainMmPerH exceeded for 0.01 % of the year
 * @returns null where rain takes nothing: below 1 GHz, and where it does not rain
 */
export function rainFade(
  distanceM: number,
  frequencyMHz: number,
  polarisation: Polarisation,
  rainMmPerH: number,
): RainFade | null {
  if (frequencyMHz < dryBelowMHz || !(rainMmPerH > 0)) return null;
  const { k, alpha } = rainCoefficients(frequencyMHz, polarisation === 'vertical' ? 'vertical' : 'horizontal');
  const km = distanceM / 1000;
  const gHz = frequencyMHz / 1000;
  const wide = 0.477 * km ** 0.633 * gHz ** 0.123;
  const cell = 10.579 * (1 - Math.exp(-0.024 * km));
  const rateAtCap = ((cell + 1 / mostLengthening) / wide) ** (1 / (0.073 * alpha));
  const dbPerKm = k * rainMmPerH ** alpha;
  const factor = rainMmPerH <= rateAtCap ? mostLengthening : 1 / (wide * rainMmPerH ** (0.073 * alpha) - cell);
  // On long paths the curve dips where its cap ends: more rain never takes less, so what the cap gave is held there.
  const db001 = Math.max(dbPerKm * km * factor, k * Math.min(rainMmPerH, rateAtCap) ** alpha * km * mostLengthening);
  const c0 = gHz >= 10 ? 0.12 + 0.4 * Math.log10(gHz / 10) ** 0.8 : 0.12;
  return {
    dbPerKm,
    effectiveKm: db001 / dbPerKm,
    db001,
    c1: 0.07 ** c0 * 0.12 ** (1 - c0),
    c2: 0.855 * c0 + 0.546 * (1 - c0),
    c3: 0.139 * c0 + 0.043 * (1 - c0),
  };
}

/**
 * What rain takes that falls now at one rate, dB: the loss of a kilometre, ITU-R P.838-3, over the path as far as a shower reaches along it, ITU-R P.530-17
 * equation (32). Its factor lengthens short paths, since it makes up for what a year's statistics leave out; of one shower no more than the path counts.
 */
export function showerLossDb(
  distanceM: number,
  frequencyMHz: number,
  polarisation: Polarisation,
  rainMmPerH: number,
): number {
  const fade = rainFade(distanceM, frequencyMHz, polarisation, rainMmPerH);
  return fade ? fade.dbPerKm * Math.min(fade.effectiveKm, distanceM / 1000) : 0;
}

/** What rain takes for more than so many percent of the year, dB; ITU-R P.530-17 equation (33), from 0.001 to 1 %. */
export function rainLossDb({ db001, c1, c2, c3 }: RainFade, percent: number): number {
  requireRange('A share of the year', percent, leastPercent, mostPercent, '%');
  return db001 * c1 * percent ** -(c2 + c3 * Math.log10(percent));
}

/**
 * The percent of an average year in which rain takes more than a margin: the same curve the other way round. Beyond its ends, 0.001 and 1 %, it goes on as steeply
 * as it ended there, which no measurement stands behind.
 */
export function rainyPercent(fade: RainFade | null, marginDb: number): number {
  if (!fade) return 0;
  if (marginDb <= 0) return mostRainyPercent;
  const { db001, c1, c2, c3 } = fade;
  const y = Math.log10(marginDb / (db001 * c1));
  const slope = (x: number): number => c2 + 2 * c3 * x;
  const at = (x: number): number => -(c2 * x + c3 * x * x);
  const mostLog = at(leastLog);
  let x: number;
  if (y > mostLog) x = leastLog - (y - mostLog) / slope(leastLog);
  else if (y < 0) x = -y / c2;
  else x = (-c2 + Math.sqrt(c2 * c2 - 4 * c3 * y)) / (2 * c3);
  return Math.min(mostRainyPercent, tenTo(x));
}
