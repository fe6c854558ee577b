import { sendingChannel, type Air } from '../air';
import { offBoresightLossDb, patternLossDb } from '../antenna';
import { fastestStep, rateSteps, type RateStep } from '../gear';
import { wrap180 } from '../geodesy';
import type { PathAnalysis } from '../path';
import {
  freeSpaceLossDb,
  gasLoss,
  keepOutDistanceM,
  noiseDbm,
  publicPowerDensityLimitWPerM2,
  referenceAtmosphere,
} from '../propagation';
import { eirpLimitDbm, type Channel, type RuleSet } from '../spectrum';
import { Ledger, type LedgerLine } from './ledger';
import { antennaHeightM, type RadioPlan } from './plan';

/** Where one radio sees another. */
export interface Sight {
  azimuthDeg: number;
  tiltDeg: number;
}

/** From one radio to another: what is sent, over what, on what. */
export interface HopPlan {
  from: RadioPlan;
  to: RadioPlan;
  air: Air;
  law: RuleSet | null;
  /** antenna to antenna */
  rangeM: number;
  /** the receiver seen from the sender, and the sender seen from the receiver */
  there: Sight;
  back: Sight;
  /** what the ground and the obstacles do; null in a shaft */
  path: PathAnalysis | null;
}

/** What one radio sends. */
export interface HopSent {
  channel: Channel;
  eirpDbm: number;
  /** whether the country's rules are at hand */
  lawKnown: boolean;
  /** undefined where the channel is not allowed in the country, or its rules are not known */
  eirpLimitDbm: number | undefined;
  /** in front of the sender's antenna, for the general public */
  keepOutM: number;
}

/** What arrives at the other. */
export interface HopReceived {
  rslDbm: number;
  ledger: LedgerLine[];
  noiseDbm: number;
  snrDb: number;
  /** above the sensitivity of the slowest step: how far the level may fade before the hop drops */
  marginDb: number;
  overloaded: boolean;
  /** the fastest step that the receiver reaches and the sender knows too */
  step: RateStep | undefined;
  /** the fastest step that both know, at whatever level */
  fastest: RateStep | undefined;
}

export interface HopPrediction {
  sent: HopSent;
  received: HopReceived;
}

/** An antenna that misses the other by less than this is as good as on it, dB. */
const noticeableDb = 0.05;

/** Predicts one hop, from the conducted power of one radio to the step that the other decodes. */
export function predictHop(hop: HopPlan): HopPrediction {
  const { from, to, air, law } = hop;
  const channel = sendingChannel(air, from.role);
  const ledger = receive(hop, channel.centreMHz);
  const eirpDbm = from.conductedDbm - from.cableLossDb + from.model.antennaGainDbi;
  const noise = noiseDbm(channel.widthMHz, to.model.noiseFigureDb);
  const steps = rateSteps(to.model, channel.widthMHz, air.errorCorrection);
  const sendable = new Map(
    rateSteps(from.model, channel.widthMHz, air.errorCorrection).map((step) => [step.phyRateMbps, step]),
  );
  const shared = steps.filter((step) => sendable.has(step.phyRateMbps));
  /** Many radios send their fast steps with less power than their slow ones. */
  const backoffDb = ({ phyRateMbps }: RateStep): number =>
    Math.max(0, from.conductedDbm - (sendable.get(phyRateMbps)?.mostConductedDbm ?? Infinity));
  const rslDbm = ledger.levelDbm;
  return {
    sent: {
      channel,
      eirpDbm,
      lawKnown: law !== null,
      eirpLimitDbm: eirpLimitDbm(law, channel, air.kind === 'duplex'),
      keepOutM: keepOutDistanceM(eirpDbm, publicPowerDensityLimitWPerM2(channel.centreMHz)),
    },
    received: {
      rslDbm,
      ledger: ledger.lines,
      noiseDbm: noise,
      snrDb: rslDbm - noise,
      marginDb: steps[0] ? rslDbm - backoffDb(steps[0]) - steps[0].sensitivityDbm : -Infinity,
      overloaded: rslDbm > to.model.overloadDbm,
      step: fastestStep(shared, rslDbm, backoffDb),
      fastest: fastestStep(shared, Infinity),
    },
  };
}

/** What an antenna loses towards the other radio because it points elsewhere; nothing where it is to be aimed at it. */
export function pointingLossDb({ azimuthDeg, tiltDeg, model }: RadioPlan, other: Sight): number {
  if (azimuthDeg === null && tiltDeg === null) return 0;
  const azimuthOffDeg = azimuthDeg === null ? 0 : wrap180(other.azimuthDeg - azimuthDeg);
  const elevationOffDeg = tiltDeg === null ? 0 : other.tiltDeg - tiltDeg;
  return model.pattern
    ? patternLossDb(model.pattern, azimuthOffDeg, elevationOffDeg)
    : offBoresightLossDb(model.beamWidth, azimuthOffDeg, elevationOffDeg);
}

/** The ledger from the conducted power at one radio to the received level at the other. */
function receive({ from, to, rangeM, path, there, back }: HopPlan, frequencyMHz: number): Ledger {
  const ledger = new Ledger('conducted', 'Conducted power', from.conductedDbm, 'plan')
    .change('txCable', 'Cable loss, sending', -from.cableLossDb, 'plan')
    .change('txGain', 'Antenna gain, sending', from.model.antennaGainDbi, `spec sheet ${from.model.name}`)
    .mark('eirp', 'EIRP', 'sum');
  const off = (key: string, label: string, radio: RadioPlan, sight: Sight): void => {
    const lossDb = pointingLossDb(radio, sight);
    const source = radio.model.pattern ? `pattern of ${radio.model.name}` : 'ITU-R F.1336';
    if (lossDb > noticeableDb) ledger.change(key, label, -lossDb, `${source}, from where it points`);
  };
  off('txPointing', 'Off the boresight, sending', from, there);
  ledger.change('freeSpace', 'Free-space loss', -freeSpaceLossDb(rangeM, frequencyMHz), 'ITU-R P.525');
  const air = gasLoss(frequencyMHz, referenceAtmosphere((antennaHeightM(from) + antennaHeightM(to)) / 2));
  const inAir = (key: string, label: string, lossDbPerKm: number): void => {
    const lossDb = (lossDbPerKm * rangeM) / 1000;
    if (lossDb > noticeableDb) ledger.change(key, label, -lossDb, 'ITU-R P.676-12, mean air of ITU-R P.835');
  };
  inAir('oxygen', 'Oxygen', air.oxygenDbPerKm);
  inAir('waterVapour', 'Water vapour', air.waterVapourDbPerKm);
  if (path) {
    ledger.change('diffraction', 'Terrain and buildings', -path.diffractionDb, 'ITU-R P.526 delta-Bullington');
    if (path.vegetationDb > 0) {
      ledger.change('vegetation', 'Trees', -path.vegetationDb, 'Weissberger, or P.526 over their tops');
    }
  }
  off('rxPointing', 'Off the boresight, receiving', to, back);
  return ledger
    .change('rxGain', 'Antenna gain, receiving', to.model.antennaGainDbi, `spec sheet ${to.model.name}`)
    .change('rxCable', 'Cable loss, receiving', -to.cableLossDb, 'plan')
    .mark('rsl', 'Received level', 'sum');
}
