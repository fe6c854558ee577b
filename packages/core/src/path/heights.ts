import { earthBulgeM } from '../geodesy/tilt';
import { fresnelRadiusM } from '../propagation/fresnel';
import { targetZoneShare, type SightLine } from './clearance';

/** What stands in the way of choosing heights. */
export interface HeightsQuery {
  line: Pick<SightLine, 'distanceM' | 'frequencyMHz' | 'k'>;
  distancesM: readonly number[];
  surfaceM: readonly number[];
  nearGroundM: number;
  farGroundM: number;
  /** the most that can be built at each end, above its ground */
  nearLimitM: number;
  farLimitM: number;
  /** what a metre costs at each end, in any unit */
  nearCostPerM: number;
  farCostPerM: number;
  zoneShare?: number;
}

export interface HeightPair {
  nearM: number;
  farM: number;
}

export interface HeightsAnswer {
  /** for each near height the least far height, both above ground; only pairs within the limits */
  curve: HeightPair[];
  /** null when no pair within the limits clears the path */
  cheapest: HeightPair | null;
}

/** Nothing is mounted lower, so that people walk under it: common practice, no source. */
const leastMountM = 2;
const stepM = 0.1;

/**
 * The least antenna heights that keep the target share of the first zone clear over the whole path: near height a and far height b with
 * a (1 - t) + b t >= surface + bulge + share R everywhere. The far height is a convex, falling curve over the near one.
 */
export function leastHeights(query: HeightsQuery): HeightsAnswer {
  const { line, nearGroundM, farGroundM } = query;
  const share = query.zoneShare ?? targetZoneShare;
  const demands: { t: number; needM: number }[] = [];
  query.distancesM.forEach((d, i) => {
    const rest = line.distanceM - d;
    if (d <= 0 || rest <= 0) return;
    const needM =
      (query.surfaceM[i] as number) + earthBulgeM(d, rest, line.k) + share * fresnelRadiusM(d, rest, line.frequencyMHz);
    demands.push({ t: d / line.distanceM, needM });
  });
  const curve: HeightPair[] = [];
  let cheapest: HeightPair | null = null;
  let leastCost = Infinity;
  const steps = Math.floor((query.nearLimitM - leastMountM) / stepM + 1e-9);
  for (let i = 0; i <= steps; i++) {
    const nearM = leastMountM + i * stepM;
    const nearAslM = nearGroundM + nearM;
    let farAslM = farGroundM + leastMountM;
    for (const { t, needM } of demands) farAslM = Math.max(farAslM, (needM - nearAslM * (1 - t)) / t);
    const farM = Math.ceil((farAslM - farGroundM) / stepM - 1e-6) * stepM;
    if (farM > query.farLimitM + 1e-9) continue;
    const pair = { nearM: Number(nearM.toFixed(1)), farM: Number(farM.toFixed(1)) };
    curve.push(pair);
    const cost = nearM * query.nearCostPerM + farM * query.farCostPerM;
    if (cost < leastCost - 1e-9) {
      leastCost = cost;
      cheapest = pair;
    }
  }
  return { curve, cheapest };
}
