import type { EChartsCoreOption } from 'echarts/core';
import type { LobePoint } from '@kivram/core/aiming/lobeFit';
import { apertureLossDb } from '@kivram/core/antenna/mainLobe';
import type { End } from '@kivram/core/budget/plan';
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

/** Main lobe as it was fitted: where its peak is, how strong, and how wide between the points 3 dB under it. */
export interface FittedLobe {
  deg: number;
  dbm: number;
  widthDeg: number;
}

/** What a chart has to show along an axis; of nothing, the least is infinite and above the most. */
interface AxisRange {
  min: number;
  max: number;
}

/** The lobe is drawn so far to each side of its peak, beam widths, in so many pieces. */
const lobeReachWidths = 0.85;
const lobePieces = 34;

/**
 * Level over position of the axis in hand.
 * @param peak null where none is known yet, or no degrees are
 * @param hereDeg where the mount is now, in the same degrees
 * @param leastSpanDeg no less is shown: of a mount that trembles there is nothing to see closer
 */
export function lobeOption(
  points: readonly LobePoint[],
  end: End,
  peak: FittedLobe | null,
  hereDeg: number | null,
  leastSpanDeg: number,
): EChartsCoreOption {
  // Where nothing was read there is no range: then it is that about the mount.
  const shownDeg = ({ min, max }: AxisRange): AxisRange => {
    const [from, to] = max >= min ? [min, max] : [hereDeg ?? 0, hereDeg ?? 0];
    const lackingDeg = Math.max(0, leastSpanDeg - (to - from)) / 2;
    return { min: Math.floor(from - lackingDeg), max: Math.ceil(to + lackingDeg) };
  };
  const upright = (name: string, xAxis: number, type: 'solid' | 'dashed', colour: 'ink' | End) => ({
    xAxis,
    lineStyle: { type, color: themeColour(colour), width: type === 'solid' ? 2 : 1.5 },
    label: {
      formatter: name,
      position: type === 'solid' ? 'start' : 'end',
      color: themeColour(colour),
      fontFamily: chartFont,
      fontSize: 12,
      distance: 4,
    },
  });
  return {
    animation: false,
    textStyle: { fontFamily: chartFont },
    grid: { left: 44, right: 8, top: 20, bottom: 40 },
    xAxis: {
      type: 'value',
      min: (range: AxisRange) => shownDeg(range).min,
      max: (range: AxisRange) => shownDeg(range).max,
      axisLine: { onZero: false },
      axisLabel: { ...axisText('°'), margin: 24, hideOverlap: true },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      scale: true,
      minInterval: 1,
      axisLine: { show: true, onZero: false },
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
          data: [
            ...(peak ? [upright('peak', peak.deg, 'dashed', 'ink')] : []),
            ...(hereDeg === null ? [] : [upright('here', hereDeg, 'solid', end)]),
          ],
        },
      },
      {
        id: 'lobe',
        type: 'line',
        silent: true,
        showSymbol: false,
        lineStyle: { width: 1.5, color: themeColour('ink') },
        data: peak ? lobeLine(peak) : [],
      },
    ],
  };
}

function lobeLine({ deg, dbm, widthDeg }: FittedLobe): [number, number][] {
  return Array.from({ length: lobePieces + 1 }, (_, i) => {
    const offDeg = lobeReachWidths * widthDeg * ((2 * i) / lobePieces - 1);
    return [deg + offDeg, dbm - apertureLossDb(offDeg / widthDeg)];
  });
}
