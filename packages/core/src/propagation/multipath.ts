import { tenTo } from './tenTo';

/** Where and through what air a path goes, as far as fading by several rays depends on it. */
export interface MultipathInput {
  distanceM: number;
  frequencyMHz: number;
  nearAntennaAslM: number;
  farAntennaAslM: number;
  /** of the middle of the path */
  latitudeDeg: number;
  /** refractivity gradient in the lowest 65 m not exceeded for 1 % of the average year, N-units/km: negative */
  gradientPerKm: number;
}

/** How often several rays meet on a path. */
export interface MultipathFade {
  /** percent of the worst month, the occurrence factor p0 */
  occurrencePercent: number;
  /** what an average year has of the worst month's percent */
  yearFactor: number;
  /** the fade from which on the depth has a slope of 10 dB a decade, and the shape above it */
  deepFromDb: number;
  shape: number;
}

/**
 * Fading in clear air: occurrence by ITU-R P.530-17 section 2.3.1 (the method for initial planning, equations (4), (5), (7)), its shape at all depths by
 * section 2.3.2, and the step from the worst month to an average year by section 2.3.4, equation (23). From memory. Made for paths over land of some kilometres
 * and more; over shorter ones it tends to nothing by its own formula.
 */
export function multipathFade(input: MultipathInput): MultipathFade {
  const { distanceM, frequencyMHz, nearAntennaAslM, farAntennaAslM, latitudeDeg, gradientPerKm } = input;
  const km = distanceM / 1000;
  const inclinationMrad = Math.abs(farAntennaAslM - nearAntennaAslM) / km;
  const lowerM = Math.max(0, Math.min(nearAntennaAslM, farAntennaAslM));
  const climate = 10 ** (-4.6 - 0.0027 * gradientPerKm);
  const occurrencePercent = Math.min(
    mostOccurrencePercent,
    climate * km ** 3.1 * (1 + inclinationMrad) ** -1.29 * (frequencyMHz / 1000) ** 0.8 * 10 ** (-0.00089 * lowerM),
  );
  const deepFromDb = Math.max(1, 25 + 1.2 * Math.log10(occurrencePercent));
  const deepPercent = occurrencePercent * 10 ** (-deepFromDb / 10);
  const q = (-20 / deepFromDb) * Math.log10(-Math.log1p(-Math.min(99.99, deepPercent) / 100));
  return {
    occurrencePercent,
    yearFactor: tenTo(-yearGainDb(latitudeDeg, km, inclinationMrad) / 10),
    deepFromDb,
    shape: (q - 2) / falling(deepFromDb, amplitude(deepFromDb)) - small(deepFromDb, amplitude(deepFromDb)),
  };
}

/** The method is monotonic up to this occurrence factor (P.530-17 section 2.3.2). */
const mostOccurrencePercent = 2000;

/** Percent of an average year in which several rays take more than a margin. */
export function multipathPercent(fade: MultipathFade, marginDb: number): number {
  return worstMonthPercent(fade, Math.max(0, marginDb)) * fade.yearFactor;
}

/** The same for the worst month, ITU-R P.530-17 equations (10) to (18). */
export function worstMonthPercent({ occurrencePercent, deepFromDb, shape }: MultipathFade, marginDb: number): number {
  if (marginDb >= deepFromDb) return Math.min(100, occurrencePercent * tenTo(-marginDb / 10));
  const left = amplitude(marginDb);
  const q = 2 + falling(marginDb, left) * (shape + small(marginDb, left));
  return -100 * Math.expm1(-tenTo((-q * marginDb) / 20));
}

const amplitude = (db: number): number => tenTo(-db / 20);
const falling = (db: number, left: number): number => (1 + 0.3 * left) * tenTo(-0.016 * db);
const small = (db: number, left: number): number => 4.3 * (left + db / 800);

/** At most, dB. */
const mostYearGainDb = 10.8;

function yearGainDb(latitudeDeg: number, km: number, inclinationMrad: number): number {
  const cos = Math.abs(Math.cos((2 * latitudeDeg * Math.PI) / 180)) ** 0.7;
  const around = Math.abs(latitudeDeg) <= 45 ? 1.1 + cos : 1.1 - cos;
  const gain = 10.5 - 5.6 * Math.log10(around) - 2.7 * Math.log10(km) + 1.7 * Math.log10(1 + inclinationMrad);
  return Math.min(mostYearGainDb, gain);
}
