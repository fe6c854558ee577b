import { fitLobe, type LobeFit, type LobePoint } from '../lobeFit';
import { lobeIsWhole } from '../steering';

/** Where one stroke showed the peak. */
export interface Crossing {
  deg: number;
  sdDeg: number;
  /** how far what was known before may lie beside it in the degrees of who is on this stroke still, one standard deviation */
  besideSdDeg: number;
  /** how long ago it was crossed, seconds */
  agoS: number;
}

/** Where the peak is now, and how fast its reading wanders, each with one standard deviation. */
export interface WanderingPeak {
  deg: number;
  sdDeg: number;
  driftDegPerS: number;
  driftSdDegPerS: number;
}

/** How fast what tells an angle may wander, degrees a second, and how likely that is before anything was seen: most stand still (common practice, no source). */
const paces: readonly { degPerS: number; share: number }[] = [
  { degPerS: 0, share: 0.85 },
  { degPerS: 0.01, share: 0.05 },
  { degPerS: 0.03, share: 0.05 },
  { degPerS: 0.06, share: 0.05 },
];

/** It wanders one way for about so long (common practice, no source). */
const oneWayS = 60;

/** Strokes through one lobe see it as wide as all of them together do, give or take so much. */
const sharedWidthSpread = 0.05;
/** A stroke that has seen one flank only errs by the shape of the lobe too, beam widths. */
const halfStrokeWidths = 0.1;
/** Who is on a stroke still knows so many times less well where on it than all of it tells afterwards. */
const inHandRatio = 1.75;
/** Fewer independent points tell nothing. */
const leastEffective = 1.5;

/**
 * Where each stroke crossed the lobe that all of them show together. Of half a stroke in hand both the peak and the place of now are read in its own degrees.
 * @param strokes levels over position, the oldest stroke first
 * @param strokeSdDeg how far a whole stroke may lie beside where it was
 */
export function crossingsOf(
  strokes: readonly (readonly LobePoint[])[],
  whole: LobeFit,
  strokeSdDeg: number,
): Crossing[] {
  const prior = {
    width: whole.width,
    widthRelativeSd: sharedWidthSpread,
    peakDbm: whole.peakDbm,
    peakSdDb: whole.peakSdDb,
  };
  const crossings: Crossing[] = [];
  for (const points of strokes) {
    const fit = fitLobe(points, prior, crossings.at(-1)?.deg ?? whole.x);
    if (!fit || fit.effectivePoints < leastEffective) continue;
    const nearest = points.reduce((best, p) => (Math.abs(p.x - fit.x) < Math.abs(best.x - fit.x) ? p : best));
    const isHalf = !lobeIsWhole(fit);
    const isInHand = isHalf && points === strokes.at(-1);
    crossings.push({
      deg: fit.x,
      sdDeg: Math.hypot(fit.xSd, isHalf ? halfStrokeWidths * whole.width : 0, isInHand ? 0 : strokeSdDeg),
      besideSdDeg: isInHand ? inHandRatio * strokeSdDeg : 0,
      agoS: nearest.agoS,
    });
  }
  return crossings;
}

/**
 * Follows a peak from crossing to crossing by a Kalman filter of place and pace (Kalman 1960; the pace is forgotten exponentially, as in Singer 1970), once for
 * each pace that what tells the angle may wander at, and weighs these by how well each foretold the crossings.
 * @param crossings the oldest first
 * @returns null where there are none
 */
export function followPeak(crossings: readonly Crossing[]): WanderingPeak | null {
  if (!crossings.length) return null;
  const followed = paces.map(({ degPerS, share }) => {
    const state = follow(crossings, degPerS);
    return { ...state, logShare: Math.log(share) + state.logLikelihood };
  });
  const most = Math.max(...followed.map(({ logShare }) => logShare));
  const total = followed.reduce((sum, { logShare }) => sum + Math.exp(logShare - most), 0);
  const mean = (of: (state: State) => number): number =>
    followed.reduce((sum, state) => sum + Math.exp(state.logShare - most) * of(state), 0) / total;
  const deg = mean(({ x }) => x);
  const driftDegPerS = mean(({ v }) => v);
  return {
    deg,
    sdDeg: Math.sqrt(mean(({ x, xx }) => xx + (x - deg) ** 2)),
    driftDegPerS,
    driftSdDegPerS: Math.sqrt(mean(({ v, vv }) => vv + (v - driftDegPerS) ** 2)),
  };
}

/** Place and pace with their covariance. */
interface State {
  x: number;
  v: number;
  xx: number;
  xv: number;
  vv: number;
  logLikelihood: number;
}

function follow(crossings: readonly Crossing[], degPerS: number): State {
  const [first] = crossings;
  let s: State = { x: first?.deg ?? 0, v: 0, xx: (first?.sdDeg ?? 0) ** 2, xv: 0, vv: degPerS ** 2, logLikelihood: 0 };
  let agoS = first?.agoS ?? 0;
  for (const crossing of crossings.slice(1)) {
    s = foretold(s, agoS - crossing.agoS, degPerS);
    agoS = crossing.agoS;
    s.xx += crossing.besideSdDeg ** 2;
    const variance = s.xx + crossing.sdDeg ** 2;
    const off = crossing.deg - s.x;
    const [gainX, gainV] = [s.xx / variance, s.xv / variance];
    s = {
      x: s.x + gainX * off,
      v: s.v + gainV * off,
      xx: (1 - gainX) * s.xx,
      xv: (1 - gainX) * s.xv,
      vv: s.vv - gainV * s.xv,
      logLikelihood: s.logLikelihood - (off * off) / variance / 2 - Math.log(variance) / 2,
    };
  }
  return foretold(s, agoS, degPerS);
}

/** So much later: the pace goes on, and is forgotten meanwhile. */
function foretold({ x, v, xx, xv, vv, logLikelihood }: State, seconds: number, degPerS: number): State {
  const kept = Math.exp(-seconds / oneWayS);
  const wayS = oneWayS * (1 - kept);
  const anew = degPerS ** 2 * (1 - kept ** 2);
  return {
    x: x + v * wayS,
    v: v * kept,
    // A pace that is new by now grew in on the way: a third of its variance, and half of it together.
    xx: xx + 2 * wayS * xv + wayS ** 2 * vv + (anew * seconds ** 2) / 3,
    xv: kept * (xv + wayS * vv) + (anew * seconds) / 2,
    vv: kept ** 2 * vv + anew,
    logLikelihood,
  };
}
