import type { LobePoint } from './lobeFit';

/** A level profile in bins: mean level per position, gaps left out. */
interface Profile {
  binX: number;
  levels: Map<number, number>;
}

/** A profile flatter than this says nothing about direction: only scatter is heard. */
const leastContrastDb = 6;

/**
 * The position about which a wide sweep is symmetric. Antennas are, whichever lobes a sweep cuts, so this finds the true direction even
 * where the other axis is so far off that the sweep met side lobes only, and their highest point lies beside it.
 * @returns undefined where the sweep is too flat or too short to tell
 */
export function mirrorCentre(points: readonly LobePoint[], width: number): number | undefined {
  const { levels, binX } = binned(points, width / 5);
  const keys = [...levels.keys()];
  const sorted = [...levels.values()].sort((a, b) => a - b);
  const low = sorted[Math.floor(sorted.length * 0.2)];
  const high = sorted.at(-2);
  if (keys.length < 12 || low === undefined || high === undefined || high - low < leastContrastDb) return undefined;

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
    if (pairs < 10 || energy <= 0) continue;
    const score = product / Math.sqrt(energy * totalEnergy(levels, mean));
    if (!best || score > best.score) best = { key: doubled / 2, score };
  }
  return best && best.score > 0.3 ? best.key * binX : undefined;
}

function binned(points: readonly LobePoint[], binX: number): Profile {
  const sums = new Map<number, { sum: number; count: number }>();
  for (const p of points) {
    const key = Math.round(p.x / binX);
    const at = sums.get(key) ?? { sum: 0, count: 0 };
    sums.set(key, { sum: at.sum + p.levelDbm, count: at.count + 1 });
  }
  return { binX, levels: new Map([...sums].map(([key, { sum, count }]) => [key, sum / count])) };
}

function totalEnergy(levels: Map<number, number>, mean: number): number {
  let energy = 0;
  for (const level of levels.values()) energy += (level - mean) ** 2;
  return energy;
}
