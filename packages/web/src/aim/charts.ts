import type { EChartsCoreOption } from 'echarts/core';
import type { End, LobePoint } from '@kivram/core';
import { axisFigure, chartFont, themeColour } from '../parts/Chart';
import type { TracePoint } from './AimFeed';

const axisText = (unit = '') => ({
  color: themeColour('soft'),
  fontFamily: chartFont,
  fontSize: 12,
  formatter: (value: number) => axisFigure(value) + unit,
});

/** Levels of both ends over the last minute, the predicted level of each as a dashed target. */
export function traceOption(trace: readonly TracePoint[], expectedDbm: Record<End, number>): EChartsCoreOption {
  const now = trace.at(-1)?.tS ?? 0;
  const line = (end: End, key: 'nearDbm' | 'farDbm') => ({
    id: end,
    type: 'line',
    showSymbol: false,
    animation: false,
    lineStyle: { width: 2, color: themeColour(end) },
    data: trace.map((p) => [p.tS - now, p[key]]),
    markLine: {
      silent: true,
      symbol: 'none',
      animation: false,
      lineStyle: { color: themeColour(end), type: 'dashed', width: 1.5 },
      label: { show: false },
      data: [{ yAxis: expectedDbm[end] }],
    },
  });
  return {
    animation: false,
    textStyle: { fontFamily: chartFont },
    grid: { left: 44, right: 8, top: 10, bottom: 26 },
    xAxis: {
      type: 'value',
      min: -60,
      max: 0,
      axisLabel: axisText(' s'),
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      min: (value: { min: number }) => Math.floor((value.min - 3) / 10) * 10,
      max: Math.ceil((Math.max(expectedDbm.near, expectedDbm.far) + 4) / 5) * 5,
      axisLabel: axisText(),
      splitLine: { lineStyle: { color: themeColour('rule') } },
    },
    series: [line('near', 'nearDbm'), line('far', 'farDbm')],
  };
}

/** Level over position of the axis in hand. */
export function lobeOption(
  points: readonly LobePoint[],
  end: End,
  peak: { x: number; dbm: number } | null,
): EChartsCoreOption {
  return {
    animation: false,
    textStyle: { fontFamily: chartFont },
    grid: { left: 44, right: 8, top: 10, bottom: 26 },
    xAxis: {
      type: 'value',
      scale: true,
      axisLabel: axisText('°'),
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      scale: true,
      axisLabel: axisText(),
      splitLine: { lineStyle: { color: themeColour('rule') } },
    },
    series: [
      {
        id: 'points',
        type: 'scatter',
        symbolSize: 4,
        itemStyle: { color: themeColour(end) },
        data: points.slice(-600).map((p) => [p.x, p.levelDbm]),
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: themeColour('ink'), width: 1.5 },
          data: peak ? [{ xAxis: peak.x }] : [],
        },
      },
    ],
  };
}
