import { requireRange } from './range';

/** Weissberger's formula was fitted to this much foliage and these frequencies. */
export const foliageLimits = { depthM: 400, leastMHz: 230, mostMHz: 95_000 } as const;

/**
 * Loss through trees in leaf: Weissberger's modified exponential decay, ESD-TR-81-101 (1982), from memory.
 * Bare broad-leaved trees take about a third less (common practice, no source).
 * @throws RangeError outside 230 MHz to 95 GHz, and for a depth below 0 or over 400 m
 */
export function foliageLossDb(depthM: number, frequencyMHz: number): number {
  requireRange('A frequency for loss in trees', frequencyMHz, foliageLimits.leastMHz, foliageLimits.mostMHz, 'MHz');
  requireRange('A depth of trees', depthM, 0, foliageLimits.depthM, 'm');
  const f = (frequencyMHz / 1000) ** 0.284;
  return depthM <= 14 ? 0.45 * f * depthM : 1.33 * f * depthM ** 0.588;
}
