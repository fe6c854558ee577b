/** Levels that fell into one bin. */
export interface Bin {
  sum: number;
  count: number;
}

/** A fifth of a beam keeps every lobe apart and averages most of the noise away. */
export const binWidths = 1 / 5;

/** Levels by position, in bins of one width; keys count bin widths from zero, and what nothing fell into is left out. */
export function binned(points: readonly { x: number; levelDbm: number }[], binX: number): Map<number, Bin> {
  const bins = new Map<number, Bin>();
  for (const { x, levelDbm } of points) {
    const key = Math.round(x / binX);
    const { sum, count } = bins.get(key) ?? { sum: 0, count: 0 };
    bins.set(key, { sum: sum + levelDbm, count: count + 1 });
  }
  return bins;
}
