import { lengthIn, metresFrom, type UnitSystem } from '@kivram/core/units';

/** Round distances along an axis, in the unit that suits its length; about `most` of them. */
export function axisTicks(distanceM: number, units: UnitSystem, most = 8): { atM: number; text: string }[] {
  const { unit, value } = lengthIn(units, distanceM);
  const unitM = distanceM / value;
  const rough = value / Math.max(1, most);
  const magnitude = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * magnitude).find((s) => s >= rough) ?? rough;
  const digits = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  return Array.from({ length: Math.floor(value / step + 1e-9) + 1 }, (_, i) => ({
    atM: i * step * unitM,
    text: `${(i * step).toFixed(digits)} ${unit}`,
  }));
}

/** Metres for one unit a person types heights in. */
export const metresPerUnit = (units: UnitSystem): number => metresFrom(units, 1);

/** Kilometres for one unit a person types distances in. */
export const kmPerUnit = (units: UnitSystem): number => 1000 / lengthIn(units, 1_000_000).value;

/** What stands behind a height that is typed. */
export const unitSuffix = (units: UnitSystem): string => (units === 'metric' ? ' m' : ' ft');
