import { parseNumber } from '../units/number';

/** Units a speed test may show. A rate without its unit is never guessed. */
export const rateUnits = ['kbit/s', 'Mbit/s', 'Gbit/s', 'MByte/s'] as const;
export type RateUnit = (typeof rateUnits)[number];

const mbpsPer: Record<RateUnit, number> = { 'kbit/s': 0.001, 'Mbit/s': 1, 'Gbit/s': 1000, 'MByte/s': 8 };

export function toMbps(value: number, unit: RateUnit): number {
  return value * mbpsPer[unit];
}

/** How people write units of rates: a small b is bits, a capital B bytes, and where only small letters are used nobody can know. */
const rateWords: readonly [pattern: RegExp, unit: RateUnit][] = [
  [/^(kbit|kb)(\/s|ps)$|^kbit$/, 'kbit/s'],
  [/^(Mbit|mbit|Mb)(\/s|ps)$|^[Mm]bit$/, 'Mbit/s'],
  [/^(Gbit|gbit|Gb)(\/s|ps)$|^[Gg]bit$/, 'Gbit/s'],
  [/^(MByte|Mbyte|mbyte|MB)(\/s|ps)?$/, 'MByte/s'],
];

/** A rate that was typed with its unit: "1 MB/s", "800 kbit/s", "2.4 Gbps". @returns null where no number with a known unit stands there */
export function parseRate(text: string): { value: number; unit: RateUnit; mbps: number } | null {
  const [, number = '', word = ''] = /^\s*([\d.,' ]*\d)\s*([A-Za-z]+(?:\/s)?)\s*$/.exec(text) ?? [];
  const unit = rateWords.find(([pattern]) => pattern.test(word))?.[1];
  if (!unit) return null;
  try {
    const value = parseNumber(number);
    return value === null ? null : { value, unit, mbps: toMbps(value, unit) };
  } catch {
    return null;
  }
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
