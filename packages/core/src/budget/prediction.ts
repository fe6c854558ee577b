import { sendingChannel } from '../air';
import { slantRangeM, solveGeodesic, tiltDeg, type Geodesic } from '../geodesy';
import { analysePath, type PathAnalysis } from '../path';
import { fresnelRadiusM } from '../propagation';
import { needsRadarWatch } from '../spectrum';
import { accessOf } from '../radio';
import { expectTcp, type Ceiling, type DirectionExpectation } from '../throughput';
import { predictHop, type HopPrediction, type HopReceived, type HopSent } from './hop';
import { antennaHeightM, ends, otherEnd, type End, type LinkPlan, type PathTerrain } from './plan';
import { checkShaft, rideDistancesM, type Shaft } from './shaft';

/** What is expected at one end: what it sends, and what it receives from the other end's transmitter. */
export interface EndPrediction extends HopSent, HopReceived {
  azimuthDeg: number;
  tiltDeg: number;
  antennaHeightAslM: number;
}

export interface LinkPrediction {
  distanceM: number;
  slantRangeM: number;
  fresnelMidRadiusM: number;
  radarWatch: boolean;
  /** what the ground and the obstacles do; null in a shaft */
  path: PathAnalysis | null;
  /** levels over the ride of a shaft, closest first; everything else is for the far end of the ride */
  ride: RidePoint[] | null;
  near: EndPrediction;
  far: EndPrediction;
  /** TCP throughput with one direction loaded at a time, and with both loaded */
  nearToFar: DirectionPrediction;
  farToNear: DirectionPrediction;
}

export interface DirectionPrediction extends DirectionExpectation {
  ceiling: Ceiling;
}

/** Both ends at one place of a car's ride. */
export interface RidePoint {
  distanceM: number;
  near: RideLevel;
  far: RideLevel;
}
export type RideLevel = Pick<EndPrediction, 'rslDbm' | 'marginDb' | 'overloaded'>;

/**
 * Predicts a link: geometry, loss of the path over what is known of the ground, and a hop each way. Where no terrain is known it is a smooth Earth.
 * @throws RangeError when both ends stand at the same position, or a shaft's car goes nowhere
 */
export function predictLink(plan: LinkPlan): LinkPrediction {
  if (plan.shaft) return predictRide(plan, plan.shaft);
  const line = solveGeodesic(plan.near.position, plan.far.position);
  if (!(line.distanceM >= 1)) {
    throw new RangeError('Both ends stand at the same position: move one of them at least 1 m.');
  }
  const heights = { near: antennaHeightM(plan.near), far: antennaHeightM(plan.far) };
  const ground = (end: End) => ({ ...plan[end].position, groundHeightM: plan[end].groundHeightM });
  const pathAt = (frequencyMHz: number): PathAnalysis =>
    analysePath({
      ...(plan.terrain ?? smoothEarth(line.distanceM)),
      near: ground('near'),
      far: ground('far'),
      nearAntennaAslM: heights.near,
      farAntennaAslM: heights.far,
      polarisation: plan.near.polarisation === plan.far.polarisation ? plan.near.polarisation : 'dual',
      frequencyMHz,
    });
  const frequencyMHz = (end: End): number => sendingChannel(plan.air, plan[end].role).centreMHz;
  const near = pathAt(frequencyMHz('near'));
  return predictOver(plan, {
    line,
    heights,
    rangeM: slantRangeM(heights.near, heights.far, line.distanceM),
    tilts: {
      near: tiltDeg(heights.near, heights.far, line.distanceM),
      far: tiltDeg(heights.far, heights.near, line.distanceM),
    },
    paths: { near, far: frequencyMHz('far') === frequencyMHz('near') ? near : pathAt(frequencyMHz('far')) },
  });
}

function smoothEarth(distanceM: number): PathTerrain {
  return { profile: { distanceM, groundM: [null, null] }, obstacles: [], year: new Date().getFullYear() };
}

/** A shaft is straight up and free of ground. The figures are those of the far end of the ride; overload is looked for all along it. */
function predictRide(plan: LinkPlan, shaft: Shaft): LinkPrediction {
  checkShaft(shaft);
  const bottomM = antennaHeightM(plan.near);
  const at = (distanceM: number): LinkPrediction =>
    predictOver(plan, {
      line: { distanceM, azimuthDeg: 0, reverseAzimuthDeg: 0 },
      heights: { near: bottomM, far: bottomM + distanceM },
      rangeM: distanceM,
      tilts: { near: 90, far: -90 },
      paths: { near: null, far: null },
    });
  const level = ({ rslDbm, marginDb, overloaded }: EndPrediction): RideLevel => ({ rslDbm, marginDb, overloaded });
  const ride = rideDistancesM(shaft).map((distanceM) => {
    const { near, far } = at(distanceM);
    return { distanceM, near: level(near), far: level(far) };
  });
  const farthest = at(shaft.mostM);
  for (const end of ends) farthest[end].overloaded = ride.some((point) => point[end].overloaded);
  return { ...farthest, ride };
}

/** Where two ends lie to each other. */
interface Geometry {
  line: Geodesic;
  heights: Record<End, number>;
  rangeM: number;
  tilts: Record<End, number>;
  /** by the end that sends: the two directions of a licensed pair have their own frequencies */
  paths: Record<End, PathAnalysis | null>;
}

function predictOver(plan: LinkPlan, { line, heights, rangeM, tilts, paths }: Geometry): LinkPrediction {
  const sight = (end: End) => ({
    azimuthDeg: end === 'near' ? line.azimuthDeg : line.reverseAzimuthDeg,
    tiltDeg: tilts[end],
  });
  const hop = (from: End): HopPrediction =>
    predictHop({
      from: plan[from],
      to: plan[otherEnd(from)],
      air: plan.air,
      law: plan.law,
      rangeM,
      there: sight(from),
      back: sight(otherEnd(from)),
      path: paths[from],
    });
  const hops = { near: hop('near'), far: hop('far') };
  const at = (end: End): EndPrediction => ({
    ...sight(end),
    antennaHeightAslM: heights[end],
    ...hops[end].sent,
    ...hops[otherEnd(end)].received,
  });
  const ethernetMbps = Math.min(plan.near.model.ethernetMbps, plan.far.model.ethernetMbps);
  const tcp = (from: End): DirectionPrediction => {
    const { phy } = plan[from].model;
    const { protocol } = plan.air;
    return {
      ...expectTcp({
        phy,
        protocol,
        phyRateMbps: hops[from].received.step?.phyRateMbps ?? 0,
        reversePhyRateMbps: hops[otherEnd(from)].received.step?.phyRateMbps ?? 0,
        ethernetMbps,
      }),
      ceiling: {
        portMbps: ethernetMbps,
        airMbps: hops[from].received.fastest?.phyRateMbps ?? 0,
        inTurns: !accessOf(phy, protocol).fullDuplex,
      },
    };
  };
  return {
    distanceM: line.distanceM,
    slantRangeM: rangeM,
    fresnelMidRadiusM: fresnelRadiusM(rangeM / 2, rangeM / 2, plan.air.centreMHz),
    radarWatch: needsRadarWatch(plan.law, plan.air),
    path: paths.near,
    ride: null,
    near: at('near'),
    far: at('far'),
    nearToFar: tcp('near'),
    farToNear: tcp('far'),
  };
}

/** The prediction, or the words why there is none. */
export function tryPredict(plan: LinkPlan): { prediction: LinkPrediction | null; predictionError: string | null } {
  try {
    return { prediction: predictLink(plan), predictionError: null };
  } catch (error) {
    if (error instanceof RangeError) return { prediction: null, predictionError: error.message };
    throw error;
  }
}
