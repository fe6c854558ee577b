/** Units a speed test may show. A rate without its unit is never guessed. */
export const rateUnits = ['kbit/s', 'Mbit/s', 'Gbit/s', 'MByte/s'] as const;
export type RateUnit = (typeof rateUnits)[number];

const mbpsPer: Record<RateUnit, number> = { 'kbit/s': 0.001, 'Mbit/s': 1, 'Gbit/s': 1000, 'MByte/s': 8 };

export function toMbps(value: number, unit: RateUnit): number {
  return value * mbpsPer[unit];
}

/** Warns where a rate would fit the expectation much better had bits and bytes been mixed up. */
export function unitConfusion(value: number, unit: RateUnit, expectedMbps: number): string | undefined {
  if (!(expectedMbps > 0)) return undefined;
  const near = (mbps: number): boolean => mbps > 0.7 * expectedMbps && mbps < 1.05 * expectedMbps;
  const mbps = toMbps(value, unit);
  if (unit === 'Mbit/s' && near(mbps * 8)) {
    return `${value} Mbit/s is an eighth of what this link should give. Did the test show MByte/s?`;
  }
  if (unit === 'MByte/s' && mbps > 1.3 * expectedMbps) {
    return `${value} MByte/s is ${mbps.toFixed(0)} Mbit/s, more than this link can carry. Did the test show Mbit/s?`;
  }
  return undefined;
}
