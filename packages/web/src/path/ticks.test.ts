import { describe, expect, it } from 'vitest';
import { axisTicks, kmPerUnit, metresPerUnit } from './ticks';

describe('the distance axis', () => {
  it.each([
    [3532, 'metric', ['0.0 km', '0.5 km', '1.0 km'], 8],
    [648, 'metric', ['0 m', '100 m', '200 m'], 7],
    [12, 'metric', ['0 m', '2 m', '4 m'], 7],
    [3532, 'imperial', ['0.0 mi', '0.5 mi', '1.0 mi'], 5],
    [233, 'imperial', ['0 ft', '100 ft', '200 ft'], 8],
  ] as const)('of %d m, %s, has round steps', (distanceM, units, first, count) => {
    const ticks = axisTicks(distanceM, units);
    expect(ticks.slice(0, 3).map((t) => t.text)).toEqual(first);
    expect(ticks).toHaveLength(count);
    expect(ticks.at(-1)?.atM).toBeLessThanOrEqual(distanceM + 1e-6);
  });

  it('lies at true distances in feet and miles', () => {
    expect(axisTicks(3532, 'imperial')[2]?.atM).toBeCloseTo(1609.344, 6);
    expect(metresPerUnit('imperial')).toBeCloseTo(0.3048, 12);
    expect(kmPerUnit('metric')).toBe(1);
    expect(kmPerUnit('imperial')).toBeCloseTo(1.609344, 9);
  });
});
