/**
 * Loss through trees in leaf: Weissberger's modified exponential decay, ESD-TR-81-101 (1982), from memory, for 230 MHz to 95 GHz and up to 400 m of foliage;
 * deeper foliage is counted as 400 m. Bare broad-leaved trees take about a third less (common practice, no source).
 */
export function foliageLossDb(depthM: number, frequencyMHz: number): number {
  const f = (frequencyMHz / 1000) ** 0.284;
  const depth = Math.min(depthM, 400);
  return depth <= 14 ? 0.45 * f * depth : 1.33 * f * depth ** 0.588;
}
