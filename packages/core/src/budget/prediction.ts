import { fastestStep, rateSteps, type Model, type RateStep } from '../gear';
import { slantRangeM, solveGeodesic, tiltDeg, type Geodesic } from '../geodesy';
import { analysePath, type PathAnalysis } from '../path';
import { freeSpaceLossDb, fresnelRadiusM, keepOutDistanceM, noiseDbm, oxygenLossDbPerKm } from '../propagation';
import { eirpLimitDbm, needsRadarWatch } from '../spectrum';
import { expectTcp, type DirectionExpectation } from '../throughput';
import { Ledger, type LedgerLine } from './ledger';
import { ends, otherEnd, type End, type EndPlan, type LinkPlan } from './plan';
import { checkShaft, rideDistancesM, type Shaft } from './shaft';

/** What is expected at one end. */
export interface EndPrediction {
  azimuthDeg: number;
  tiltDeg: number;
  antennaHeightAslM: number;
  eirpDbm: number;
  /** undefined where the channel is not allowed in the country */
  eirpLimitDbm: number | undefined;
  /** in front of this end's antenna, for the general public */
  keepOutM: number;
  /** the level received here, and how it came about, from the other end's transmitter */
  rslDbm: number;
  ledger: LedgerLine[];
  noiseDbm: number;
  snrDb: number;
  /** above the sensitivity of the slowest step: how far the level may fade before the link drops */
  marginDb: number;
  overloaded: boolean;
  step: RateStep | undefined;
}

export interface LinkPrediction {
  distanceM: number;
  slantRangeM: number;
  fresnelMidRadiusM: number;
  radarWatch: boolean;
  /** what the ground and the obstacles do; null where no terrain is known */
  path: PathAnalysis | null;
  /** levels over the ride of a shaft, closest first; everything else is for the far end of the ride */
  ride: RidePoint[] | null;
  near: EndPrediction;
  far: EndPrediction;
  /** TCP throughput with one direction loaded at a time, and with both loaded */
  nearToFar: DirectionExpectation;
  farToNear: DirectionExpectation;
}

/** Both ends at one place of a car's ride. */
export interface RidePoint {
  distanceM: number;
  near: RideLevel;
  far: RideLevel;
}
export type RideLevel = Pick<EndPrediction, 'rslDbm' | 'marginDb' | 'overloaded'>;

/**
 * Predicts a link: geometry, loss of the path over what is known of the ground, levels and rates of both directions. Where no terrain is
 * known it is free space.
 * @throws RangeError when both ends stand at the same position, or a shaft's car goes nowhere
 */
export function predictLink(plan: LinkPlan): LinkPrediction {
  if (plan.shaft) return predictRide(plan, plan.shaft);
  const line = solveGeodesic(plan.near.position, plan.far.position);
  if (!(line.distanceM >= 1)) {
    throw new RangeError('Both ends stand at the same position: move one of them at least 1 m.');
  }
  const heights = { near: antennaHeightM(plan.near), far: antennaHeightM(plan.far) };
  const path =
    plan.terrain &&
    analysePath({
      ...plan.terrain,
      near: plan.near.position,
      far: plan.far.position,
      nearAntennaAslM: heights.near,
      farAntennaAslM: heights.far,
      frequencyMHz: plan.centreMHz,
    });
  return predictOver(plan, {
    line,
    heights,
    rangeM: slantRangeM(heights.near, heights.far, line.distanceM),
    tilts: {
      near: tiltDeg(heights.near, heights.far, line.distanceM),
      far: tiltDeg(heights.far, heights.near, line.distanceM),
    },
    path: path ?? null,
  });
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
      path: null,
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
  path: PathAnalysis | null;
}

function predictOver(plan: LinkPlan, { line, heights, rangeM, tilts, path }: Geometry): LinkPrediction {
  const channel = { centreMHz: plan.centreMHz, widthMHz: plan.widthMHz };
  const limitDbm = eirpLimitDbm(plan.country, channel);

  const at = (end: End): EndPrediction => {
    const here = plan[end];
    const there = plan[otherEnd(end)];
    const received = receive(there, here, rangeM, plan.centreMHz, path);
    const noise = noiseDbm(plan.widthMHz, here.model.noiseFigureDb);
    const slowest = rateSteps(here.model, plan.widthMHz)[0];
    const eirpDbm = here.conductedDbm - here.cableLossDb + here.model.antennaGainDbi;
    return {
      azimuthDeg: end === 'near' ? line.azimuthDeg : line.reverseAzimuthDeg,
      tiltDeg: tilts[end],
      antennaHeightAslM: heights[end],
      eirpDbm,
      eirpLimitDbm: limitDbm,
      keepOutM: keepOutDistanceM(eirpDbm),
      rslDbm: received.levelDbm,
      ledger: received.lines,
      noiseDbm: noise,
      snrDb: received.levelDbm - noise,
      marginDb: slowest ? received.levelDbm - slowest.sensitivityDbm : -Infinity,
      overloaded: received.levelDbm > here.model.overloadDbm,
      step: commonStep(there.model, here.model, plan.widthMHz, received.levelDbm),
    };
  };
  const near = at('near');
  const far = at('far');
  const tcp = (from: End): DirectionExpectation => {
    const [there, back] = from === 'near' ? [far, near] : [near, far];
    return expectTcp({
      phy: plan[from].model.phy,
      protocol: plan.protocol,
      phyRateMbps: there.step?.phyRateMbps ?? 0,
      reversePhyRateMbps: back.step?.phyRateMbps ?? 0,
      ethernetMbps: Math.min(plan.near.model.ethernetMbps, plan.far.model.ethernetMbps),
    });
  };
  return {
    distanceM: line.distanceM,
    slantRangeM: rangeM,
    fresnelMidRadiusM: fresnelRadiusM(rangeM / 2, rangeM / 2, plan.centreMHz),
    radarWatch: needsRadarWatch(plan.country, channel),
    path,
    ride: null,
    near,
    far,
    nearToFar: tcp('near'),
    farToNear: tcp('far'),
  };
}

function antennaHeightM(end: EndPlan): number {
  return end.groundHeightM + end.mountHeightM;
}

/** The ledger from the conducted power at one end to the received level at the other. */
function receive(from: EndPlan, to: EndPlan, rangeM: number, frequencyMHz: number, path: PathAnalysis | null): Ledger {
  const ledger = new Ledger('conducted', 'Conducted power', from.conductedDbm, 'plan')
    .change('txCable', 'Cable loss, sending', -from.cableLossDb, 'plan')
    .change('txGain', 'Antenna gain, sending', from.model.antennaGainDbi, `spec sheet ${from.model.name}`)
    .mark('eirp', 'EIRP', 'sum')
    .change('freeSpace', 'Free-space loss', -freeSpaceLossDb(rangeM, frequencyMHz), 'ITU-R P.525');
  if (frequencyMHz > 10_000 && frequencyMHz <= 63_000) {
    ledger.change('oxygen', 'Oxygen', (-oxygenLossDbPerKm(frequencyMHz) * rangeM) / 1000, 'ITU-R P.676');
  }
  if (path) {
    ledger.change('diffraction', 'Terrain and buildings', -path.diffractionDb, 'ITU-R P.526 delta-Bullington');
    if (path.vegetationDb > 0) {
      ledger.change('vegetation', 'Trees', -path.vegetationDb, 'Weissberger, or P.526 over their tops');
    }
  }
  return ledger
    .change('rxGain', 'Antenna gain, receiving', to.model.antennaGainDbi, `spec sheet ${to.model.name}`)
    .change('rxCable', 'Cable loss, receiving', -to.cableLossDb, 'plan')
    .mark('rsl', 'Received level', 'sum');
}

/** The fastest step that the receiver reaches and the sender knows too. */
function commonStep(sender: Model, receiver: Model, widthMHz: number, rslDbm: number): RateStep | undefined {
  const reached = fastestStep(receiver, widthMHz, rslDbm);
  const sent = fastestStep(sender, widthMHz, Infinity);
  return reached && sent && sent.phyRateMbps < reached.phyRateMbps ? sent : reached;
}
