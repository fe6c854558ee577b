import { minutesAYear } from '@kivram/core/budget/availability';
import type { PlanNeed } from '@kivram/core/budget/plan';
import type { YearStep } from '@kivram/core/budget/year';
import { directions, type Direction } from '@kivram/core/verdict/throughputVerdict';
import { useMantineColorScheme } from '@mantine/core';
import { useMemo } from 'react';
import { axisFigure, Chart, chartFont, themeColour } from '../parts/Chart';
import { shortTime } from './shortTime';

/** Shorter times of a year are drawn as this, minutes. */
const leastMin = 0.1;

const ticks = [0.1, 1, 10, 60, 600, 1440, 14_400, minutesAYear];

/** What crosses against the time of a year for which no more does. */
export function YearChart({ years, need }: { years: Record<Direction, YearStep[]>; need: PlanNeed | null }) {
  const { colorScheme } = useMantineColorScheme();
  const option = useMemo(() => {
    const [ink, soft, rule] = [themeColour('ink'), themeColour('soft'), themeColour('rule')];
    const text = { color: soft, fontFamily: chartFont, fontSize: 12 };
    const drawn = directions.map((direction) => {
      const colour = themeColour(direction === 'nearToFar' ? 'far' : 'near');
      const needed = need?.[direction === 'nearToFar' ? 'nearToFarMbps' : 'farToNearMbps'] ?? 0;
      return {
        name: direction,
        type: 'line' as const,
        showSymbol: false,
        lineStyle: {
          color: colour,
          width: 2,
          type: direction === 'nearToFar' ? ('solid' as const) : ('dashed' as const),
        },
        data: pointsOf(years[direction]),
        ...(needed > 0 && {
          markLine: {
            silent: true,
            symbol: 'none',
            lineStyle: { color: colour, type: 'dotted' as const },
            label: {
              formatter: `needed ${direction === 'nearToFar' ? 'near to far' : 'far to near'}`,
              position: 'insideStartTop' as const,
              color: ink,
              fontFamily: chartFont,
            },
            data: [{ yAxis: needed }],
          },
        }),
      };
    });
    return {
      animation: false,
      grid: { left: 64, right: 20, top: 16, bottom: 44 },
      xAxis: {
        type: 'log',
        min: leastMin,
        max: minutesAYear,
        name: 'of a year, less crosses than this',
        nameLocation: 'middle',
        nameGap: 28,
        nameTextStyle: text,
        axisLabel: { ...text, customValues: ticks, formatter: (value: number) => tickText(value) },
        axisTick: { customValues: ticks },
        splitLine: { show: false },
        axisLine: { lineStyle: { color: rule } },
      },
      yAxis: {
        type: 'value',
        min: 0,
        name: 'Mbit/s',
        nameTextStyle: text,
        axisLabel: { ...text, formatter: axisFigure },
        splitLine: { lineStyle: { color: rule } },
      },
      series: drawn,
    };
    // oxlint-disable-next-line react/exhaustive-deps -- the scheme changes what the theme's colours are
  }, [years, need, colorScheme]);
  return <Chart option={option} heightPx={220} label={labelOf(years)} />;
}

function tickText(minutes: number): string {
  return minutes < 1 ? '0' : minutes >= minutesAYear ? 'a year' : shortTime(minutes).replace('under ', '<');
}

/** From nothing on the right, step by step up to the fastest on the left. */
function pointsOf(year: readonly YearStep[]): [number, number][] {
  const points: [number, number][] = [];
  const clear = year.filter(({ below }) => below.clearMin === 0);
  // Slowest first: for the time that even this one is not reached nothing crosses.
  let mbps = 0;
  for (const step of [...clear].reverse()) {
    const min = Math.max(leastMin, step.below.totalMin);
    points.push([min, mbps]);
    points.push([min, step.mbps]);
    mbps = step.mbps;
  }
  return [[leastMin, 0], ...points, [minutesAYear, mbps]];
}

function labelOf(years: Record<Direction, YearStep[]>): string {
  const best = (direction: Direction): string => {
    const top = years[direction].find(({ below }) => below.clearMin === 0);
    return top ? `${top.mbps.toFixed(0)} Mbit/s but for ${shortTime(top.below.totalMin)} a year` : 'nothing';
  };
  return `What crosses over a year: near to far ${best('nearToFar')}, far to near ${best('farToNear')}. The tables below have all steps.`;
}
