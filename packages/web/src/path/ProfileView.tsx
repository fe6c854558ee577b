import type { End } from '@kivram/core/budget/plan';
import type { PathAnalysis } from '@kivram/core/path/analysis';
import { clearanceAt, targetZoneShare } from '@kivram/core/path/clearance';
import { obstacleRules } from '@kivram/core/path/obstacles';
import type { PathSurface } from '@kivram/core/path/surface';
import { heightIn, type UnitSystem } from '@kivram/core/units';
import { withMinus } from '@kivram/core/units/number';
import { useElementSize } from '@mantine/hooks';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { useSettings } from '../settings';
import { axisTicks } from './ticks';

const heightPx = 330;
const topPx = 20;
const bottomPx = 34;

interface Props {
  analysis: PathAnalysis;
  near: { name: string; groundM: number };
  far: { name: string; groundM: number };
  /** far end on the left */
  swapped: boolean;
  label: string;
  /** distance under the pointer, from the near end */
  pointerM: number | null;
  onPoint(distanceM: number | null): void;
  /** an antenna is being dragged to a height above its ground */
  onDrag(end: End, mountHeightM: number): void;
}

/**
 * The path from the side: ground over the curved Earth, what stands on it, the sight line with its first Fresnel zone. Both antennas can be
 * dragged up and down; the pointer asks for the clearance. Heights are stretched.
 */
export function ProfileView({ analysis, near, far, swapped, label, pointerM, onPoint, onDrag }: Props) {
  const { units } = useSettings();
  const svg = useRef<SVGSVGElement>(null);
  // Drawn at the size it is shown, so that its letters stay readable on a phone.
  const { ref: frame, width } = useElementSize();
  const widthPx = Math.max(320, width || 1200);
  const narrow = widthPx < 700;
  const sidePx = narrow ? 40 : 74;
  const dragged = useRef<End | null>(null);
  const { surface, line } = analysis;
  const { distanceM } = line;
  /** the sight line over sea level, kept a millimetre off the ends, where the zone has no width */
  const over = (d: number) => clearanceAt(line, Math.min(distanceM - 1e-3, Math.max(1e-3, d)), 0);
  const bulge = (d: number): number => over(d).bulgeM;
  const ellipse = Array.from({ length: 121 }, (_, i) => ((1 - Math.cos((Math.PI * i) / 120)) / 2) * distanceM);

  const highest = Math.max(
    ...surface.withTransientsM.map((h, i) => h + bulge(surface.distancesM[i] ?? 0)),
    ...ellipse.map((d) => over(d).sightM + over(d).zoneM),
  );
  const lowest = Math.min(
    ...surface.groundM.map((h, i) => h + bulge(surface.distancesM[i] ?? 0)),
    near.groundM,
    far.groundM,
  );
  const span = Math.max(8, highest - lowest);
  const top = highest + 0.08 * span;
  const bottom = lowest - 0.1 * span;
  const x = (d: number): number => {
    const along = swapped ? 1 - d / distanceM : d / distanceM;
    return sidePx + along * (widthPx - 2 * sidePx);
  };
  const y = (m: number): number => topPx + ((top - m) / (top - bottom)) * (heightPx - topPx - bottomPx);
  const toHeight = (clientY: number): number => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return 0;
    const px = ((clientY - box.top) / box.height) * heightPx;
    return top - ((px - topPx) / (heightPx - topPx - bottomPx)) * (top - bottom);
  };
  const trace = (heights: readonly number[], [from, to]: Run = [0, heights.length]): string =>
    heights
      .slice(from, to)
      .map((h, i) => {
        const d = surface.distancesM[from + i] ?? 0;
        return `L${x(d).toFixed(1)} ${y(h + bulge(d)).toFixed(1)}`;
      })
      .join('');
  const filled = (heights: readonly number[]): string =>
    `M${x(0)} ${y(bottom)}${trace(heights)}L${x(distanceM)} ${y(bottom)}Z`;
  const outlined = (heights: readonly number[], run?: Run): string => trace(heights, run).replace(/^L/, 'M');
  const ring = (share: number): string => {
    const side = (sign: number): string[] =>
      ellipse.map((d) => `${x(d).toFixed(1)} ${y(over(d).sightM + sign * share * over(d).zoneM).toFixed(1)}`);
    return `M${[...side(1), ...side(-1).reverse()].join('L')}Z`;
  };

  const point = (event: PointerEvent): void => {
    if (dragged.current) {
      const end = dragged.current;
      const ground = end === 'near' ? near.groundM : far.groundM;
      onDrag(end, clampMount(toHeight(event.clientY) - ground));
      return;
    }
    const box = svg.current?.getBoundingClientRect();
    if (!box) return;
    const along = (((event.clientX - box.left) / box.width) * widthPx - sidePx) / (widthPx - 2 * sidePx);
    onPoint(along < 0 || along > 1 ? null : (swapped ? 1 - along : along) * distanceM);
  };
  const keys = (event: KeyboardEvent): void => {
    const step = (event.shiftKey ? 0.05 : 0.005) * distanceM * (swapped ? -1 : 1);
    const by = { ArrowLeft: -step, ArrowRight: step }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    onPoint(Math.min(distanceM, Math.max(0, (pointerM ?? analysis.worst.distanceM) + by)));
  };

  const antenna = (end: End) => {
    const d = end === 'near' ? 0 : distanceM;
    const place = end === 'near' ? near : far;
    const aslM = end === 'near' ? line.nearAntennaAslM : line.farAntennaAslM;
    const mountM = aslM - place.groundM;
    const step = (event: KeyboardEvent): void => {
      const by = { ArrowUp: 0.1, ArrowDown: -0.1, PageUp: 1, PageDown: -1 }[event.key];
      if (by === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      onDrag(end, clampMount(mountM + by));
    };
    const onLeft = (end === 'near') !== swapped;
    return (
      <g
        key={end}
        className="profile-antenna"
        role="slider"
        tabIndex={0}
        aria-label={`Antenna at ${place.name}, height above ground`}
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={300}
        aria-valuenow={Number(mountM.toFixed(1))}
        aria-valuetext={`${heightText(mountM, units, 1)} above ground`}
        onKeyDown={step}
        onPointerDown={(event) => {
          dragged.current = end;
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerUp={() => (dragged.current = null)}
      >
        <path d={`M${x(d)} ${y(place.groundM)}V${y(aslM)}`} stroke={`var(--${end})`} strokeWidth="5" />
        <circle cx={x(d)} cy={y(aslM)} r="22" fill="transparent" />
        <circle cx={x(d)} cy={y(aslM)} r="8" fill={`var(--${end})`} stroke="var(--paper)" strokeWidth="2" />
        <path
          d={`M${x(d) - 4} ${y(aslM) - 13}l4 -5l4 5M${x(d) - 4} ${y(aslM) + 13}l4 5l4 -5`}
          fill="none"
          stroke={`var(--${end})`}
          strokeWidth="2"
        />
        <text
          x={x(d) + (onLeft ? -14 : 14) * (narrow ? -1 : 1)}
          y={y(aslM) + (narrow ? -12 : 5)}
          textAnchor={onLeft !== narrow ? 'end' : 'start'}
          fontSize="14"
          fontWeight="600"
          fill={`var(--${end})`}
        >
          {end}
        </text>
      </g>
    );
  };

  const worst = analysis.worst;
  return (
    <figure className="profile" ref={frame}>
      <svg
        ref={svg}
        viewBox={`0 0 ${widthPx} ${heightPx}`}
        width="100%"
        role="group"
        aria-label={label}
        tabIndex={0}
        onPointerMove={point}
        onPointerLeave={() => !dragged.current && onPoint(null)}
        onKeyDown={keys}
      >
        <defs>
          <pattern id="leaves" width="7" height="7" patternUnits="userSpaceOnUse">
            <path d="M0 7L7 0" stroke="var(--holds)" strokeWidth="1.6" />
          </pattern>
        </defs>
        <path d={ring(1)} fill="var(--zone)" stroke="var(--rule)" />
        {transientRuns(surface).map((run) => (
          <path
            key={run[0]}
            d={outlined(surface.withTransientsM, run)}
            fill="none"
            stroke="var(--thin)"
            strokeWidth="1.6"
            strokeDasharray="4 3"
          />
        ))}
        <path d={filled(surface.withTreesM)} fill="var(--paper)" />
        <path d={filled(surface.withTreesM)} fill="url(#leaves)" />
        <path d={filled(surface.solidM)} fill="var(--stone)" />
        <path d={filled(waterSurface(surface))} fill="var(--water)" />
        <path d={filled(surface.groundM)} fill="var(--ground)" />
        <path d={outlined(surface.groundM)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
        <path d={ring(targetZoneShare)} fill="none" stroke="var(--soft)" strokeDasharray="5 5" />
        <path
          d={`M${x(0)} ${y(line.nearAntennaAslM)}L${x(distanceM)} ${y(line.farAntennaAslM)}`}
          stroke="var(--ink)"
          strokeWidth="1.6"
        />
        {surface.placed.map(({ obstacle, stretch }) => {
          const middle = (stretch.fromM + stretch.toM) / 2;
          const i = surface.distancesM.findIndex((d) => d >= middle);
          const groundM = surface.groundM[i] ?? 0;
          return (
            <text
              key={obstacle.id}
              x={x(middle)}
              y={Math.min(heightPx - bottomPx - 6, y(groundM + bulge(middle)) + 18)}
              textAnchor="middle"
              fontSize="13"
              fill="var(--ink)"
            >
              {obstacle.name || obstacleRules[obstacle.kind].words}
            </text>
          );
        })}
        <path
          d={`M${x(worst.distanceM)} ${y(worst.sightM)}V${y(worst.sightM - worst.clearanceM)}`}
          stroke={worst.zoneShare < targetZoneShare ? 'var(--fails)' : 'var(--holds)'}
          strokeWidth="3"
        />
        {pointerM !== null && (
          <path d={`M${x(pointerM)} ${topPx}V${heightPx - bottomPx}`} stroke="var(--soft)" strokeDasharray="2 3" />
        )}
        {antenna('near')}
        {antenna('far')}
        {axisTicks(distanceM, units, widthPx / 150).map(({ atM, text }) => (
          <g key={atM}>
            <path d={`M${x(atM)} ${heightPx - bottomPx}v6`} stroke="var(--ink)" />
            <text
              x={x(atM)}
              y={heightPx - bottomPx + 22}
              textAnchor="middle"
              fontSize="13"
              className="figure"
              fill="var(--soft)"
            >
              {text}
            </text>
          </g>
        ))}
        <path d={`M${x(0)} ${heightPx - bottomPx}H${x(distanceM)}`} stroke="var(--ink)" />
        <text x={narrow ? 0 : sidePx - 64} y={topPx + 2} fontSize="13" fill="var(--soft)">
          <tspan className="figure">{heightText(top, units)}</tspan>
        </text>
        <text x={narrow ? 0 : sidePx - 64} y={heightPx - bottomPx - 4} fontSize="13" fill="var(--soft)">
          <tspan className="figure">{heightText(bottom, units)}</tspan>
        </text>
      </svg>
    </figure>
  );
}

/** Indices from and up to. */
type Run = [number, number];

/** Where something stands only sometimes, a point more on both sides. */
function transientRuns({ withTreesM, withTransientsM }: PathSurface): Run[] {
  const runs: Run[] = [];
  withTransientsM.forEach((top, i) => {
    if (top === withTreesM[i]) return;
    const last = runs.at(-1);
    if (last && last[1] >= i) last[1] = i + 2;
    else runs.push([Math.max(0, i - 1), i + 2]);
  });
  return runs;
}

/** Water stands out from solid things by its level being flat over lower ground. */
function waterSurface({ groundM, solidM, topObstacle }: PathSurface): number[] {
  return groundM.map((ground, i) => (topObstacle[i]?.kind === 'water' ? (solidM[i] ?? ground) : ground));
}

const clampMount = (m: number): number => Math.round(10 * Math.min(300, Math.max(0, m))) / 10;

function heightText(m: number, units: UnitSystem, digits = 0): string {
  const { value, unit } = heightIn(units, m);
  // Adding 0 turns a rounded −0 into 0.
  return withMinus(`${(Number(value.toFixed(digits)) + 0).toFixed(digits)} ${unit}`);
}
