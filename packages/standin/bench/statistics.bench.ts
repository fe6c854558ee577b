/** The value below which a share of the values lies. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}

/** Runs a piece of work over and over for two seconds, one to get warm, and gives the median time of one, microseconds. */
export function timeUs(work: () => void): number {
  const times: number[] = [];
  const warm = performance.now() + 1000;
  while (performance.now() < warm + 1000) {
    const start = performance.now();
    work();
    if (start > warm) times.push(1000 * (performance.now() - start));
  }
  return quantile(times, 0.5);
}
