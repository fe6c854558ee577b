/** A direction off the peak with what is lost there, dB, from 0 up. */
export interface PatternPoint {
  angleDeg: number;
  lossDb: number;
}

/**
 * An antenna's pattern as it was drawn or measured: one cut around and one up and down, points by angle from -180 to 180.
 * A cut is the worse of its polarisations' co-polar readings, or the only one there is.
 */
export interface AntennaPattern {
  azimuth: PatternPoint[];
  elevation: PatternPoint[];
}

/** A pattern that cannot be used; the message names the line or the value and the repair. */
export class PatternError extends Error {
  override name = 'PatternError';
}

/** Points that a cut must have, and that it is kept with. */
const leastPoints = 3;
export const mostPatternPoints = 400;

/** What a file may hold of one cut: a point for each tenth of a degree. */
const mostRead = 3610;

/** Behind its antenna nobody measures deeper. */
const deepestDb = 120;

/**
 * Loss of an antenna towards a direction off its peak, dB: the sum of what its two cuts lose there, which is exact on each plane and common practice between
 * them, never below the deepest of both cuts.
 */
export function patternLossDb(
  { azimuth, elevation }: AntennaPattern,
  azimuthOffDeg: number,
  elevationOffDeg: number,
): number {
  const deepest = Math.max(...azimuth.map((p) => p.lossDb), ...elevation.map((p) => p.lossDb));
  return Math.min(deepest, cutLossDb(azimuth, azimuthOffDeg) + cutLossDb(elevation, elevationOffDeg));
}

/** The loss of one cut, between its points by the angle. */
function cutLossDb(points: readonly PatternPoint[], offDeg: number): number {
  const above = points.findIndex((p) => p.angleDeg >= offDeg);
  const [high, low] = [points[above], points[above - 1]];
  if (!high) return points.at(-1)?.lossDb ?? 0;
  if (!low || high.angleDeg === offDeg) return high.lossDb;
  const share = (offDeg - low.angleDeg) / (high.angleDeg - low.angleDeg);
  return low.lossDb + share * (high.lossDb - low.lossDb);
}

/** The width between the 3 dB points of a cut, degrees; NaN where it does not fall by so much. */
export function cutWidthDeg(points: readonly PatternPoint[]): number {
  const peak = points.reduce((best, point, i) => (point.lossDb < (points[best]?.lossDb ?? Infinity) ? i : best), 0);
  const fall = (step: 1 | -1): number => {
    for (let i = peak; points[i + step]; i += step) {
      const [inner, outer] = [points[i], points[i + step]];
      if (inner && outer && outer.lossDb >= 3) {
        return (
          inner.angleDeg + ((3 - inner.lossDb) / (outer.lossDb - inner.lossDb)) * (outer.angleDeg - inner.angleDeg)
        );
      }
    }
    return NaN;
  };
  return fall(1) - fall(-1);
}

/**
 * A cut in order, from -180 to 180, with its peak at 0 dB.
 * @param cut what it is called, for whoever must mend it
 * @throws PatternError
 */
export function cutOf(points: readonly PatternPoint[], cut: string): PatternPoint[] {
  if (points.length < leastPoints)
    throw new PatternError(`The ${cut} cut has ${points.length} points; it takes at least ${leastPoints}.`);
  if (points.length > mostRead)
    throw new PatternError(
      `The ${cut} cut has ${points.length} points; ${mostRead} are the most: one for each tenth of a degree.`,
    );
  const wrapped = points.map(({ angleDeg, lossDb }) => {
    if (!Number.isFinite(angleDeg) || angleDeg < -360 || angleDeg > 360)
      throw new PatternError(
        `The ${cut} cut has an angle of ${angleDeg}; angles go from -180 to 180, or from 0 to 360 degrees.`,
      );
    if (!Number.isFinite(lossDb)) throw new PatternError(`The ${cut} cut has no level at ${angleDeg} degrees.`);
    return { angleDeg: angleDeg > 180 ? angleDeg - 360 : angleDeg < -180 ? angleDeg + 360 : angleDeg, lossDb };
  });
  const least = Math.min(...wrapped.map((p) => p.lossDb));
  const ordered = wrapped
    .map(({ angleDeg, lossDb }) => ({ angleDeg, lossDb: Math.min(deepestDb, lossDb - least) }))
    .sort((a, b) => a.angleDeg - b.angleDeg)
    .filter((point, i, all) => point.angleDeg !== all[i - 1]?.angleDeg);
  // A cut that goes all the way round meets itself behind.
  const [first, last] = [ordered[0], ordered.at(-1)];
  const goesRound =
    first && last && (last.angleDeg - first.angleDeg >= 350 || last.angleDeg === 180 || first.angleDeg === -180);
  if (goesRound) {
    if (first.angleDeg > -180)
      ordered.unshift({ angleDeg: -180, lossDb: last.angleDeg === 180 ? last.lossDb : first.lossDb });
    if (last.angleDeg < 180) ordered.push({ angleDeg: 180, lossDb: ordered[0]?.lossDb ?? last.lossDb });
  }
  return thinned(ordered);
}

/**
 * A cut with fewer points where it has many: those go whose absence is seen least, by how far off the line between its neighbours it lies (Ramer, Douglas and Peucker). Deep in
 * the nulls, where nobody measures well, less is seen.
 */
function thinned(points: PatternPoint[]): PatternPoint[] {
  let kept = points;
  for (let toleranceDb = 0.02; kept.length > mostPatternPoints; toleranceDb *= 1.5) kept = within(points, toleranceDb);
  return kept;
}

/** So far under its peak a pattern matters most, dB. */
const seenWellDb = 6;

function within(points: PatternPoint[], toleranceDb: number): PatternPoint[] {
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last || points.length < 3) return points;
  const slope = (last.lossDb - first.lossDb) / (last.angleDeg - first.angleDeg);
  let worst = 0;
  let at = 0;
  points.forEach(({ angleDeg, lossDb }, i) => {
    const line = first.lossDb + slope * (angleDeg - first.angleDeg);
    const offDb = Math.abs(lossDb - line) / (1 + (Math.min(lossDb, line) / seenWellDb) ** 2);
    if (offDb > worst) [worst, at] = [offDb, i];
  });
  if (worst <= toleranceDb) return [first, last];
  return [...within(points.slice(0, at + 1), toleranceDb), ...within(points.slice(at), toleranceDb).slice(1)];
}

/**
 * A pattern from a table: the cut (azimuth or elevation), the angle in degrees, the level in dB, a row each; levels fall from 0 or rise as losses. Cells are apart by commas,
 * semicolons, tabs or blanks; a first row of words is passed over.
 * @throws PatternError
 */
export function parsePatternCsv(text: string): AntennaPattern {
  const cuts: Record<'azimuth' | 'elevation', PatternPoint[]> = { azimuth: [], elevation: [] };
  text.split(/\r?\n/).forEach((line, i) => {
    if (!line.trim()) return;
    const [word = '', angle = '', level = ''] = line.trim().split(/[,;\t ]+/);
    const cut = /^(az|h)/i.test(word) ? 'azimuth' : /^(el|v)/i.test(word) ? 'elevation' : undefined;
    const [angleDeg, levelDb] = [Number(angle), Number(level)];
    if (i === 0 && (!cut || !angle || Number.isNaN(angleDeg))) return;
    if (!cut || !angle || !level || Number.isNaN(angleDeg) || Number.isNaN(levelDb)) {
      throw new PatternError(
        `Line ${i + 1}, "${line.trim().slice(0, 60)}", is no point: write the cut, the angle and the level, like azimuth,10,-3.1`,
      );
    }
    cuts[cut].push({ angleDeg, lossDb: levelDb });
  });
  return patternOf(cuts.azimuth, cuts.elevation);
}

/** Both cuts in order; whether levels are gains under the peak or losses is told by which of them stands ahead. @throws PatternError */
export function patternOf(azimuth: readonly PatternPoint[], elevation: readonly PatternPoint[]): AntennaPattern {
  const losses = (points: readonly PatternPoint[]): PatternPoint[] => {
    const ahead = points.reduce<PatternPoint | undefined>(
      (best, p) => (best && Math.abs(best.angleDeg) <= Math.abs(p.angleDeg) ? best : p),
      undefined,
    );
    const mean = points.reduce((sum, p) => sum + p.lossDb, 0) / points.length;
    // Gains are most ahead, losses least.
    const isGain = ahead !== undefined && ahead.lossDb > mean;
    return points.map(({ angleDeg, lossDb }) => ({ angleDeg, lossDb: isGain ? -lossDb : lossDb }));
  };
  return { azimuth: cutOf(losses(azimuth), 'azimuth'), elevation: cutOf(losses(elevation), 'elevation') };
}
