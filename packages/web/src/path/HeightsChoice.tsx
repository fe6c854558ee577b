import type { PathAnalysis } from '@kivram/core/path/analysis';
import { leastHeights, type HeightPair } from '@kivram/core/path/heights';
import { heightIn } from '@kivram/core/units';
import { Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { useMemo } from 'react';
import { Height } from '../parts/Figure';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';

interface Wishes {
  nearLimitM: TypedNumber;
  farLimitM: TypedNumber;
  nearCost: TypedNumber;
  farCost: TypedNumber;
}

/** Taken while a field is empty or holds no number. */
const usual = { limitM: 30, cost: 1 };
const limitOf = (typed: TypedNumber): number => (numberIn(typed) >= 2 ? Math.min(300, numberIn(typed)) : usual.limitM);
const costOf = (typed: TypedNumber): number => (numberIn(typed) >= 0 ? numberIn(typed) : usual.cost);

interface Props {
  analysis: PathAnalysis;
  near: { name: string; groundM: number; mountM: number };
  far: { name: string; groundM: number; mountM: number };
  onChoose(heights: HeightPair): void;
}

const sidePx = 300;
const marginPx = 44;

/** The least heights that clear the path, one end traded against the other, and the cheapest pair. */
export function HeightsChoice({ analysis, near, far, onChoose }: Props) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const [wishes, setWishes] = useLocalStorage<Wishes>({
    key: 'kivram-height-limits',
    defaultValue: { nearLimitM: 30, farLimitM: 30, nearCost: 1, farCost: 1 },
    getInitialValueInEffect: false,
  });
  const answer = useMemo(
    () =>
      leastHeights({
        line: analysis.line,
        distancesM: analysis.surface.distancesM,
        surfaceM: analysis.surface.withTreesM,
        nearGroundM: near.groundM,
        farGroundM: far.groundM,
        nearLimitM: limitOf(wishes.nearLimitM),
        farLimitM: limitOf(wishes.farLimitM),
        nearCostPerM: costOf(wishes.nearCost),
        farCostPerM: costOf(wishes.farCost),
      }),
    [analysis, near.groundM, far.groundM, wishes],
  );
  const limit = (key: 'nearLimitM' | 'farLimitM', label: string) => (
    <NumberField
      label={label}
      size="sm"
      w={180}
      unit={unitSuffix(units)}
      perUnit={perUnit}
      digits={1}
      value={wishes[key]}
      onChange={(value) => setWishes({ ...wishes, [key]: value })}
      error={numberIn(wishes[key]) >= 2 && numberIn(wishes[key]) <= 300 ? undefined : 'From 2 to 300 m; 30 m is taken'}
    />
  );
  const cost = (key: 'nearCost' | 'farCost', label: string) => (
    <NumberField
      label={label}
      size="sm"
      w={180}
      value={wishes[key]}
      onChange={(value) => setWishes({ ...wishes, [key]: value })}
      error={numberIn(wishes[key]) >= 0 ? undefined : 'From 0 up; 1 is taken'}
    />
  );
  const { cheapest, curve } = answer;
  return (
    <section>
      <h2>Least heights that clear 60 % of the zone</h2>
      <div className="row" style={{ alignItems: 'flex-start', columnGap: 24 }}>
        <Curve {...{ curve, cheapest, wishes }} now={{ nearM: near.mountM, farM: far.mountM }} />
        <div style={{ maxWidth: 330 }}>
          {cheapest ? (
            <>
              <p style={{ marginTop: 0 }}>
                Cheapest: <span className="near">near</span> <Height metres={cheapest.nearM} />,{' '}
                <span className="far">far</span> <Height metres={cheapest.farM} /> above ground.
              </p>
              <Button size="sm" variant="default" onClick={() => onChoose(cheapest)}>
                Try these heights
              </Button>
            </>
          ) : (
            <p style={{ marginTop: 0 }}>
              No pair within these limits clears it. Raise a limit, move an end, or put a relay where both see it.
            </p>
          )}
          <div className="row" style={{ marginTop: 10 }}>
            {limit('nearLimitM', 'Most at the near end')}
            {limit('farLimitM', 'Most at the far end')}
            {cost('nearCost', `One ${unitSuffix(units).trim()} more at near costs`)}
            {cost('farCost', `One ${unitSuffix(units).trim()} more at far costs`)}
          </div>
          <p className="note">
            Costs are compared with each other only: money, hours or any other measure, the same at both ends. 1 and 1:
            a metre is as dear here as there.
          </p>
        </div>
      </div>
    </section>
  );
}

interface CurveProps {
  curve: HeightPair[];
  cheapest: HeightPair | null;
  now: HeightPair;
  wishes: Wishes;
}

/** Near height across, far height up; the side on which the path is clear is filled. */
function Curve({ curve, cheapest, now, wishes }: CurveProps) {
  const most = {
    near: Math.max(limitOf(wishes.nearLimitM), now.nearM),
    far: Math.max(limitOf(wishes.farLimitM), now.farM),
  };
  const x = (m: number): number => marginPx + (m / most.near) * (sidePx - marginPx - 10);
  const y = (m: number): number => sidePx - marginPx - (m / most.far) * (sidePx - marginPx - 10);
  const first = curve[0];
  const last = curve.at(-1);
  const line = curve.map((p, i) => `${i ? 'L' : 'M'}${x(p.nearM).toFixed(1)} ${y(p.farM).toFixed(1)}`).join('');
  const { units } = useSettings();
  const say = (m: number): string => {
    const { value, unit, digits } = heightIn(units, m);
    return `${value.toFixed(digits)} ${unit}`;
  };
  const words = cheapest
    ? `Cheapest is near ${say(cheapest.nearM)} with far ${say(cheapest.farM)}.`
    : 'No pair of heights within the limits clears the path.';
  return (
    <svg
      width={sidePx}
      height={sidePx}
      viewBox={`0 0 ${sidePx} ${sidePx}`}
      role="img"
      aria-label={`Far height over near height. ${words}`}
    >
      {first && last && (
        <path d={`${line}L${x(most.near)} ${y(last.farM)}V${y(most.far)}H${x(first.nearM)}Z`} fill="var(--zone)" />
      )}
      <path d={line} fill="none" stroke="var(--ink)" strokeWidth="2" />
      <path d={`M${marginPx} 10V${sidePx - marginPx}`} stroke="var(--far)" strokeWidth="2" />
      <path d={`M${marginPx} ${sidePx - marginPx}H${sidePx - 10}`} stroke="var(--near)" strokeWidth="2" />
      <path
        d={`M${x(now.nearM) - 6} ${y(now.farM)}h12M${x(now.nearM)} ${y(now.farM) - 6}v12`}
        stroke="var(--ink)"
        strokeWidth="2"
      />
      <text x={x(now.nearM) + 8} y={y(now.farM) - 6} fontSize="13" fill="var(--ink)">
        now
      </text>
      {cheapest && <circle cx={x(cheapest.nearM)} cy={y(cheapest.farM)} r="6" fill="var(--holds)" />}
      <text x={sidePx - 10} y={sidePx - 8} fontSize="13" textAnchor="end" fill="var(--near)">
        near height, to {say(most.near)}
      </text>
      <text x={14} y={14} fontSize="13" fill="var(--far)" transform={`rotate(-90 14 14) translate(-${sidePx - 130} 0)`}>
        far height, to {say(most.far)}
      </text>
    </svg>
  );
}
