import { sendingChannel } from '../air/air';
import { solveGeodesic, type Geodesic } from '../geodesy/geodesic';
import { slantRangeM, tiltDeg } from '../geodesy/tilt';
import { analyseOver, type PathAnalysis } from '../path/analysis';
import { pathSurface, type GroundPoint, type PathSurface } from '../path/surface';
import { climateOf, type Climate } from '../propagation/climate';
import { fresnelRadiusM } from '../propagation/fresnel';
import { multipathFade } from '../propagation/multipath';
import { rainFade, showerLossDb } from '../propagation/rain';
import { needsRadarWatch } from '../spectrum/ruleSet';
import { accessOf } from '../radio/kinds';
import { expectTcp, type DirectionExpectation } from '../throughput/expectation';
import type { Ceiling } from '../throughput/run';
import { outageOf, type HopWeather, type Outage } from './availability';
import { predictHop, type HopPrediction, type LadderStep, type HopReceived, type HopSent } from './hop';
import { needFadeDb, needFadeInRainDb } from './needFade';
import { antennaHeightM, ends, otherEnd, type End, type LinkPlan, type PathTerrain } from './plan';
import { polarisationMatch, type PolarisationMatch } from './polarisationMatch';
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
  /** how the antennas of both ends swing to each other */
  polarisation: PolarisationMatch;
  /** what the ground and the obstacles do; null in a shaft */
  path: PathAnalysis | null;
  /** levels over the ride of a shaft, closest first; everything else is for the far end of the ride */
  ride: RidePoint[] | null;
  near: EndPrediction;
  far: EndPrediction;
  /** TCP throughput with one direction loaded at a time, and with both loaded */
  nearToFar: DirectionPrediction;
  farToNear: DirectionPrediction;
  /** null where the plan asks for nothing */
  need: NeedPrediction | null;
  climate: Climate;
}

/** How far the need is from not being met. */
export interface NeedPrediction {
  /** by how much both levels may fade together until less crosses than is needed; -Infinity where it does not cross on a clear day */
  fadeDb: number;
  below: Outage;
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

/** Where two ends lie to each other, and what lies between them: all that stays while radios, power and channel are tried. */
export interface LinkGround {
  line: Geodesic;
  heights: Record<End, number>;
  rangeM: number;
  tilts: Record<End, number>;
  climate: Climate;
  /** null in a shaft */
  pathAt(frequencyMHz: number): PathAnalysis | null;
  weatherAt(frequencyMHz: number): HopWeather | null;
  /** what rain that falls now takes, dB */
  showerDbAt(frequencyMHz: number): number;
}

/**
 * Predicts a link: geometry, loss of the path over what is known of the ground, and a hop each way. Where no terrain is known it is a smooth Earth.
 * @throws RangeError when both ends stand at the same position, or a shaft's car goes nowhere
 */
export function predictLink(plan: LinkPlan): LinkPrediction {
  return plan.shaft ? predictRide(plan, plan.shaft) : predictOver(plan, groundOf(plan));
}

/**
 * The ground of a plan, to predict many plans over that differ in radios, power or channel only. Paths are analysed once for each frequency.
 * @throws RangeError when both ends stand at the same position, or a shaft's car goes nowhere
 */
export function groundOf(plan: LinkPlan): LinkGround {
  if (plan.shaft) {
    checkShaft(plan.shaft);
    return shaftGround(plan, plan.shaft.mostM);
  }
  const line = solveGeodesic(plan.near.position, plan.far.position);
  if (!(line.distanceM >= 1)) {
    throw new RangeError('Both ends stand at the same position: move one of them at least 1 m.');
  }
  const heights = { near: antennaHeightM(plan.near), far: antennaHeightM(plan.far) };
  const ground = (end: End): GroundPoint => {
    const { position, groundHeightM } = plan[end];
    return { latitudeDeg: position.latitudeDeg, longitudeDeg: position.longitudeDeg, groundHeightM };
  };
  const terrain = plan.terrain ?? smoothEarth(line.distanceM);
  const polarisation = plan.near.polarisation === plan.far.polarisation ? plan.near.polarisation : 'dual';
  const climate = climateAt(plan);
  const rangeM = slantRangeM(heights.near, heights.far, line.distanceM);
  return {
    line,
    heights,
    rangeM,
    tilts: {
      near: tiltDeg(heights.near, heights.far, line.distanceM),
      far: tiltDeg(heights.far, heights.near, line.distanceM),
    },
    climate,
    pathAt: once((frequencyMHz) =>
      analyseOver(surfaceOf(terrain, ground('near'), ground('far')), {
        nearAntennaAslM: heights.near,
        farAntennaAslM: heights.far,
        polarisation,
        frequencyMHz,
        year: terrain.year,
        ...(terrain.k === undefined ? {} : { k: terrain.k }),
      }),
    ),
    showerDbAt: once((frequencyMHz) => showerLossDb(rangeM, frequencyMHz, polarisation, plan.rainNowMmPerH ?? 0)),
    weatherAt: once((frequencyMHz) => ({
      rain: rainFade(rangeM, frequencyMHz, polarisation, climate.rainMmPerH),
      multipath: multipathFade({
        distanceM: line.distanceM,
        frequencyMHz,
        nearAntennaAslM: heights.near,
        farAntennaAslM: heights.far,
        latitudeDeg: middleLatitudeDeg(plan),
        gradientPerKm: climate.gradientPerKm,
      }),
    })),
  };
}

interface KnownSurface {
  near: GroundPoint;
  far: GroundPoint;
  surface: PathSurface;
}

/** The surface takes most of an analysis, and stays while antennas rise and channels change: the last one over each terrain is kept. */
const knownSurfaces = new WeakMap<PathTerrain, KnownSurface>();

function surfaceOf(terrain: PathTerrain, near: GroundPoint, far: GroundPoint): PathSurface {
  const known = knownSurfaces.get(terrain);
  if (known && isSamePoint(known.near, near) && isSamePoint(known.far, far)) return known.surface;
  const surface = pathSurface(terrain.profile, near, far, terrain.obstacles, terrain.year);
  knownSurfaces.set(terrain, { near, far, surface });
  return surface;
}

function isSamePoint(a: GroundPoint, b: GroundPoint): boolean {
  return a.latitudeDeg === b.latitudeDeg && a.longitudeDeg === b.longitudeDeg && a.groundHeightM === b.groundHeightM;
}

function middleLatitudeDeg({ near, far }: LinkPlan): number {
  return (near.position.latitudeDeg + far.position.latitudeDeg) / 2;
}

function climateAt(plan: LinkPlan): Climate {
  return climateOf(plan.climate ?? { class: null, rainMmPerH: null }, middleLatitudeDeg(plan));
}

/** A function of a number that computes each value once. */
function once<Value>(compute: (x: number) => Value): (x: number) => Value {
  const known = new Map<number, Value>();
  return (x) => {
    const value = known.get(x);
    if (value !== undefined) return value;
    const computed = compute(x);
    known.set(x, computed);
    return computed;
  };
}

/** Nothing stands on it, so nothing on it grows: the year does not matter. */
function smoothEarth(distanceM: number): PathTerrain {
  return { profile: { distanceM, groundM: [null, null] }, obstacles: [], year: 0 };
}

/** A shaft is straight up and free of ground and weather. The figures are those of the far end of the ride; overload is looked for all along it. */
function predictRide(plan: LinkPlan, shaft: Shaft): LinkPrediction {
  checkShaft(shaft);
  const at = (distanceM: number): LinkPrediction => predictOver(plan, shaftGround(plan, distanceM));
  const level = ({ rslDbm, marginDb, overloaded }: EndPrediction): RideLevel => ({ rslDbm, marginDb, overloaded });
  const ride = rideDistancesM(shaft).map((distanceM) => {
    const { near, far } = at(distanceM);
    return { distanceM, near: level(near), far: level(far) };
  });
  const farthest = at(shaft.mostM);
  for (const end of ends) farthest[end].overloaded = ride.some((point) => point[end].overloaded);
  return { ...farthest, ride };
}

/** A shaft with its car so far away. */
export function shaftGround(plan: LinkPlan, distanceM: number): LinkGround {
  const bottomM = antennaHeightM(plan.near);
  return {
    line: { distanceM, azimuthDeg: 0, reverseAzimuthDeg: 0 },
    heights: { near: bottomM, far: bottomM + distanceM },
    rangeM: distanceM,
    tilts: { near: 90, far: -90 },
    climate: climateAt(plan),
    pathAt: () => null,
    weatherAt: () => null,
    showerDbAt: () => 0,
  };
}

/** Predicts a plan over a ground; of a shaft, with its car at one point. */
export function predictOver(plan: LinkPlan, ground: LinkGround): LinkPrediction {
  const { line, heights, rangeM, tilts, climate } = ground;
  const frequencyMHz = (end: End): number => sendingChannel(plan.air, plan[end].role).centreMHz;
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
      licence: plan.licence ?? null,
      day: plan.day,
      rangeM,
      there: sight(from),
      back: sight(otherEnd(from)),
      path: ground.pathAt(frequencyMHz(from)),
      climate,
      weather: ground.weatherAt(frequencyMHz(from)),
      shower:
        plan.rainNowMmPerH && ground.weatherAt(frequencyMHz(from))
          ? { rainMmPerH: plan.rainNowMmPerH, lossDb: ground.showerDbAt(frequencyMHz(from)) }
          : null,
    });
  const hops = { near: hop('near'), far: hop('far') };
  // Written out: spreading four objects takes longer than computing them.
  const at = (end: End): EndPrediction => {
    const { azimuthDeg, tiltDeg } = sight(end);
    const { channel, eirpDbm, lawKnown, eirpLimitDbm, lawRefusal, allowance } = hops[end].sent;
    const received = hops[otherEnd(end)].received;
    const { rslDbm, ledger, noiseDbm, snrDb, marginDb, overloaded, step, fastest, ladder, weather } = received;
    return {
      azimuthDeg,
      tiltDeg,
      antennaHeightAslM: heights[end],
      channel,
      eirpDbm,
      lawKnown,
      eirpLimitDbm,
      lawRefusal,
      allowance,
      rslDbm,
      ledger,
      noiseDbm,
      snrDb,
      marginDb,
      overloaded,
      step,
      fastest,
      ladder,
      weather,
    };
  };
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
    radarWatch: hops.near.sent.allowance?.radar ?? needsRadarWatch(plan.law, plan.air),
    polarisation: polarisationMatch(plan.near, plan.far),
    path: ground.pathAt(frequencyMHz('near')),
    ride: null,
    near: at('near'),
    far: at('far'),
    nearToFar: tcp('near'),
    farToNear: tcp('far'),
    need: needOver(plan, hops, ground, ethernetMbps),
    climate,
  };
}

function needOver(
  plan: LinkPlan,
  hops: Record<End, HopPrediction>,
  ground: LinkGround,
  ethernetMbps: number,
): NeedPrediction | null {
  if (!plan.need) return null;
  const [there, back] = [hops.near.received, hops.far.received];
  const { need } = plan;
  const fades = (
    nearToFar: readonly LadderStep[],
    farToNear: readonly LadderStep[],
  ): { dryDb: number; rainDb: number } => {
    const ladders = { nearToFar, farToNear, ethernetMbps };
    const dryDb = needFadeDb(plan, need, ladders);
    const { othersInRain } = need;
    return { dryDb, rainDb: othersInRain ? needFadeInRainDb(plan, need, othersInRain, ladders) : dryDb };
  };
  const now = fades(there.ladder, back.ladder);
  // The year goes by the climate, whatever falls now.
  const dry = (from: End): LadderStep[] => {
    const showerDb = ground.showerDbAt(sendingChannel(plan.air, plan[from].role).centreMHz);
    return hops[from].received.ladder.map((step) => ({ ...step, marginDb: step.marginDb + showerDb }));
  };
  const clear = plan.rainNowMmPerH ? fades(dry('near'), dry('far')) : now;
  // Of a licensed pair each direction has weather of its own; what loses more counts.
  const below = (weather: HopWeather | null): Outage => outageOf(clear.dryDb, weather, clear.rainDb);
  const [a, b] = [below(there.weather), below(back.weather)];
  return { fadeDb: now.dryDb, below: a.totalMin >= b.totalMin ? a : b };
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
