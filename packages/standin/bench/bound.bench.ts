import { sweepSeconds } from '@kivram/core/aiming/guide';
import { apertureLossDb, apertureSlopeDb } from '@kivram/core/antenna/mainLobe';

/**
 * Cramer-Rao bound of the peak's position, in beam widths, for strokes through the lobe at the asked speed: the least standard deviation
 * that any unbiased estimate from these levels can have. Unknown are peak level, position and width. The levels' errors are
 * an AR(1) process (fading) plus white noise of the quantiser (q^2 / 12); both are whitened by a Kalman filter that runs over the levels'
 * derivatives just as it would over the levels.
 */
export function peakBoundWidths(strokes: number, fadingSdDb: number, correlationS: number, quantumDb: number): number {
  const dtS = 0.1;
  const reach = 0.8; // the window of the fit
  const fisher = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  const keep = Math.exp(-dtS / correlationS);
  const white = quantumDb ** 2 / 12;
  for (let stroke = 0; stroke < strokes; stroke++) {
    let variance = fadingSdDb ** 2;
    const state = [0, 0, 0];
    for (let u = -reach; u <= reach; u += dtS / sweepSeconds) {
      const slope = apertureSlopeDb(u);
      const derivative = [1, slope, slope * u];
      const total = variance + white;
      const gain = variance / total;
      const innovation = derivative.map((d, i) => d - (state[i] ?? 0));
      innovation.forEach((a, i) =>
        innovation.forEach((b, j) => ((fisher[i] as number[])[j] = (fisher[i]?.[j] ?? 0) + (a * b) / total)),
      );
      innovation.forEach((d, i) => (state[i] = keep * ((state[i] ?? 0) + gain * d)));
      variance = keep ** 2 * (1 - gain) * variance + fadingSdDb ** 2 * (1 - keep ** 2);
    }
  }
  // By symmetry the position is orthogonal to level and width, so its bound is its own element's inverse.
  return 1 / Math.sqrt(fisher[1]?.[1] ?? 0);
}

/** Loss that a normal pointing error of this size on both axes costs, at a share of the distribution: chi square of two degrees. */
export function boundLossDb(sdWidths: number, share: number): number {
  const radius = sdWidths * Math.sqrt(-2 * Math.log(1 - share));
  return apertureLossDb(radius);
}
