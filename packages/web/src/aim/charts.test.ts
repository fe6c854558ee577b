import { beforeEach, describe, expect, it, vi } from 'vitest';
import { lobeOption, traceOption } from './charts';

beforeEach(() => {
  vi.stubGlobal('document', { documentElement: {} });
  vi.stubGlobal('getComputedStyle', () => ({ getPropertyValue: (name: string) => ` ${name}-colour` }));
});

interface Option {
  xAxis: { min: number; max: number };
  yAxis: { max: number; min(range: { min: number }): number };
  series: {
    id: string;
    data: [number, number | null][];
    lineStyle?: { color: string };
    markLine: { data: object[] };
  }[];
}

describe('charts of the aim view', () => {
  const trace = [
    { tS: 100, nearDbm: -70, farDbm: -71 },
    { tS: 100.1, nearDbm: null, farDbm: -72 },
  ];

  it('draw the last minute up to now, a gap where nothing was heard, and each end’s predicted level in its colour', () => {
    const option = traceOption(trace, { near: -50, far: -52 }) as unknown as Option;
    expect([option.xAxis.min, option.xAxis.max]).toEqual([-60, 0]);
    const [near, far] = option.series;
    expect(near?.data.map(([x, y]) => [Math.round(x * 10) / 10, y])).toEqual([
      [-0.1, -70],
      [0, null],
    ]);
    expect(near?.lineStyle?.color).toBe('--near-colour');
    expect(far?.lineStyle?.color).toBe('--far-colour');
    expect(near?.markLine.data).toEqual([{ yAxis: -50 }]);
    expect(far?.markLine.data).toEqual([{ yAxis: -52 }]);
  });

  it('leave room above the better prediction and below the weakest level', () => {
    const { yAxis } = traceOption(trace, { near: -50, far: -52 }) as unknown as Option;
    expect(yAxis.max).toBe(-45);
    expect(yAxis.min({ min: -72 })).toBe(-80);
  });

  it('draw level over angle, and the fitted peak only once there is one', () => {
    const points = Array.from({ length: 700 }, (_, i) => ({ x: i, levelDbm: -60, pushedFrom: 0, agoS: 0 }));
    const without = lobeOption(points, 'far', null) as unknown as Option;
    expect(without.series[0]?.data).toHaveLength(600);
    expect(without.series[0]?.data[0]?.[0]).toBe(100);
    expect(without.series[0]?.markLine.data).toEqual([]);
    const withPeak = lobeOption(points, 'far', { x: 12, dbm: -50 }) as unknown as Option;
    expect(withPeak.series[0]?.markLine.data).toEqual([{ xAxis: 12 }]);
  });
});
