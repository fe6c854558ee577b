import { binned, binWidths } from './bins';
import type { LobePoint } from './lobeFit';

/** A profile flatter than this says nothing about direction: only scatter is heard. */
const leastContrastDb = 6;

/** The quiet part of a sweep is its lowest fifth. */
const lowShare = 0.2;

/** A sweep of fewer bins, or a mirror with fewer pairs, is too short to have a middle. */
const leastBins = 12;
const leastPairs = 10;

/** How alike both sides must be, 1 being the same: noise alone stays under this. */
const leastLikeness = 0.3;

/**
 * The position about which a wide sweep is symmetric. Antennas are, whichever lobes a sweep cuts, so this finds the true direction even
 * where the other axis is so far off that the sweep met side lobes only, and their highest point lies beside it.
 * @returns undefined where the sweep is too flat or too short to tell
 */
export function mirrorCentre(points: readonly LobePoint[], width: number): number | undefined {
  const binX = width * binWidths;
  const levels = new Map([...binned(points, binX)].map(([key, { sum, count }]) => [key, sum / count]));
  const keys = [...levels.keys()];
  const sorted = [...levels.values()].sort((a, b) => a - b);
  const low = sorted[Math.floor(sorted.length * lowShare)];
  const high = sorted.at(-2);
  if (keys.length < leastBins || low === undefined || high === undefined || high - low < leastContrastDb)
    return undefined;

  const mean = sorted.reduce((sum, l) => sum + l, 0) / sorted.length;
  const [first, last] = [Math.min(...keys), Math.max(...keys)];
  let best: { key: number; score: number } | undefined;
  for (let doubled = 2 * first; doubled <= 2 * last; doubled++) {
    let product = 0;
    let pairs = 0;
    let energy = 0;
    for (const [key, level] of levels) {
      const mirrored = levels.get(doubled - key);
      if (mirrored === undefined) continue;
      product += (level - mean) * (mirrored - mean);
      energy += (level - mean) ** 2;
      pairs++;
    }
    // The mirrored part must hold a lobe's width on each side and most of what stands out of the sweep.
    if (pairs < leastPairs || energy <= 0) continue;
    const score = product / Math.sqrt(energy * totalEnergy(levels, mean));
    if (!best || score > best.score) best = { key: doubled / 2, score };
  }
  return best && best.score > leastLikeness ? best.key * binX : undefined;
}

function totalEnergy(levels: Map<number, number>, mean: number): number {
  let energy = 0;
  for (const level of levels.values()) energy += (level - mean) ** 2;
  return energy;
}
