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
    markLine?: { data: object[] };
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
    expect(near?.markLine?.data).toEqual([{ yAxis: -50 }]);
    expect(far?.markLine?.data).toEqual([{ yAxis: -52 }]);
  });

  it('show a beam width of the angle at least, and all that was turned', () => {
    const { xAxis } = lobeOption([], 'near', null, 0, 6) as unknown as {
      xAxis: Record<'min' | 'max', (shown: { min: number; max: number }) => number>;
    };
    expect([xAxis.min({ min: 5.4, max: 5.8 }), xAxis.max({ min: 5.4, max: 5.8 })]).toEqual([2, 9]);
    const nothing = { min: Infinity, max: -Infinity };
    expect([xAxis.min(nothing), xAxis.max(nothing)]).toEqual([-3, 3]);
    expect([xAxis.min({ min: -20, max: 8.5 }), xAxis.max({ min: -20, max: 8.5 })]).toEqual([-20, 9]);
  });

  it('leave room above the better prediction and below the weakest level', () => {
    const { yAxis } = traceOption(trace, { near: -50, far: -52 }) as unknown as Option;
    expect(yAxis.max).toBe(-45);
    expect(yAxis.min({ min: -72 })).toBe(-80);
  });

  it('draw level over angle, the fitted lobe only once there is one, and where the mount is', () => {
    const points = Array.from({ length: 700 }, (_, i) => ({ x: i, levelDbm: -60, pushedFrom: 0, agoS: 0 }));
    const [dots, lobe] = (lobeOption(points, 'far', null, null, 6) as unknown as Option).series;
    expect(dots?.data).toHaveLength(600);
    expect(dots?.data[0]?.[0]).toBe(100);
    expect(dots?.markLine?.data).toEqual([]);
    expect(lobe?.data).toEqual([]);

    const known = lobeOption(points, 'far', { deg: 12, dbm: -50, widthDeg: 6 }, 15, 6) as unknown as Option;
    expect(known.series[0]?.markLine?.data).toMatchObject([
      { xAxis: 12, label: { formatter: 'peak' } },
      { xAxis: 15, label: { formatter: 'here' } },
    ]);
    const line = known.series[1]?.data ?? [];
    expect(Math.max(...line.map(([, dbm]) => dbm ?? NaN))).toBeCloseTo(-50, 9);
    const [, threeDegreesOff] = line.reduce((best, p) => (Math.abs(p[0] - 15) < Math.abs(best[0] - 15) ? p : best));
    expect(threeDegreesOff).toBeCloseTo(-53, 0);
  });
});
