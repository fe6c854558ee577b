import { LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register, type ECharts, type EChartsCoreOption } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';

register([LineChart, ScatterChart, GridComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);

/** A chart that follows its option and its size. `label` is its text alternative. */
export function Chart({ option, heightPx, label }: { option: EChartsCoreOption; heightPx: number; label: string }) {
  const element = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  useEffect(() => {
    if (!element.current) return;
    const made = init(element.current);
    chart.current = made;
    const observer = new ResizeObserver(() => made.resize());
    observer.observe(element.current);
    return () => {
      observer.disconnect();
      made.dispose();
      chart.current = null;
    };
  }, []);
  useEffect(() => {
    chart.current?.setOption(option, { lazyUpdate: true });
  }, [option]);
  return <div ref={element} role="img" aria-label={label} style={{ height: heightPx, width: '100%' }} />;
}

/** A colour of the theme as it stands now, for canvases, which know no variables. */
export function themeColour(name: 'near' | 'far' | 'ink' | 'soft' | 'rule'): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}

export const chartFont = "'Atkinson Hyperlegible Mono', monospace";

/** A number on an axis, with the minus sign of all other figures. */
export function axisFigure(value: number): string {
  return String(value).replace('-', '−');
}
