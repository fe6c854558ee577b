import { sendingChannel, spectrumUse, type Air } from '../air/air';
import { offBoresightLossDb } from '../antenna/offBoresight';
import { patternLossDb } from '../antenna/pattern';
import { cableRunLossDb, cables, connectorsLossDb, feederLossDb } from '../gear/cable';
import { fastestStep, rateSteps, type Model, type RateStep } from '../gear/model';
import { wrap180 } from '../geodesy/geodesic';
import type { PathAnalysis } from '../path/analysis';
import type { Climate } from '../propagation/climate';
import { freeSpaceLossDb } from '../propagation/freeSpace';
import { atmosphereAt, gasLoss } from '../propagation/gases';
import { noiseDbm } from '../propagation/noise';
import type { Channel } from '../spectrum/channel';
import { askLaw, refusalWords } from '../spectrum/lawAnswer';
import { licensedStep, type Licence } from '../spectrum/licence';
import type { Allowance } from '../spectrum/allowance';
import type { RuleSet } from '../spectrum/ruleSet';
import { outageOf, type HopWeather, type Outage } from './availability';
import { Ledger, type LedgerLine, type LedgerTerm } from './ledger';
import { antennaHeightM, type RadioPlan } from './plan';
import { polarisationLossDb, polarisationMatch, sharedStreams } from './polarisationMatch';

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
  licence: Licence | null;
  /** for which licences are looked at, as in 2026-01-31 */
  day: string;
  /** antenna to antenna */
  rangeM: number;
  /** the receiver seen from the sender, and the sender seen from the receiver */
  there: Sight;
  back: Sight;
  /** what the ground and the obstacles do; null in a shaft */
  path: PathAnalysis | null;
  climate: Climate;
  /** null in a shaft */
  weather: HopWeather | null;
  /** what falls now, and what it takes; null on a clear day */
  shower: { rainMmPerH: number; lossDb: number } | null;
}

/** What one radio sends. */
export interface HopSent {
  channel: Channel;
  eirpDbm: number;
  /** whether the country's rules are at hand */
  lawKnown: boolean;
  /** undefined where the channel is not allowed in the country for this, or its rules are not known */
  eirpLimitDbm: number | undefined;
  /** why the channel is not allowed, in words that begin small; undefined where it is, or where nothing is known */
  lawRefusal: string | undefined;
  /** the rules that the limit comes from */
  allowance: Allowance | undefined;
}

/** One step of modulation on a hop: from which level on it works here, how far the level lies above that, and how long in a year it does not. */
export interface LadderStep {
  step: RateStep;
  /** its sensitivity, and on top what others raise the noise by and what it is sent weaker by */
  fromDbm: number;
  marginDb: number;
  below: Outage;
}

/** What arrives at the other. */
export interface HopReceived {
  rslDbm: number;
  ledger: LedgerLine[];
  /** of the receiver, with what others raise it by */
  noiseDbm: number;
  snrDb: number;
  /** above what the slowest step needs: how far the level may fade before the hop drops */
  marginDb: number;
  overloaded: boolean;
  /** the fastest step that the receiver reaches and the sender knows too */
  step: RateStep | undefined;
  /** the fastest step that both know, at whatever level */
  fastest: RateStep | undefined;
  /** all steps that both know, slowest first */
  ladder: LadderStep[];
  weather: HopWeather | null;
}

export interface HopPrediction {
  sent: HopSent;
  received: HopReceived;
}

/** What takes less than this is as good as nothing, dB. */
const noticeableDb = 0.05;

/** Predicts one hop, from the conducted power of one radio to the step that the other decodes and the time of the year in which it does. */
export function predictHop(hop: HopPlan): HopPrediction {
  const { from, to, air, law, weather } = hop;
  const showerDb = hop.shower?.lossDb ?? 0;
  const channel = sendingChannel(air, from.role);
  const ledger = receive(hop, channel.centreMHz);
  const eirpDbm = eirpOf(from, channel.centreMHz);
  const noise = noiseDbm(channel.widthMHz, to.model.noiseFigureDb) + to.interferenceDb;
  const rslDbm = ledger.levelDbm;
  const steps = sharedSteps(from, to, channel.widthMHz, air.errorCorrection, licensedStep(hop.licence));
  const ladder = steps.map(({ step, mostDbm }) => {
    // Many radios send their fast steps with less power than their slow ones.
    const fromDbm = step.sensitivityDbm + to.interferenceDb + Math.max(0, from.conductedDbm - mostDbm);
    const marginDb = rslDbm - fromDbm;
    // The year goes by the climate, whatever falls now.
    return { step, fromDbm, marginDb, below: outageOf(marginDb + showerDb, weather) };
  });
  const slowest = ladder[0];
  const use = spectrumUse(air, weather !== null);
  const right = { law, isLicensed: air.kind === 'duplex', licence: hop.licence, day: hop.day };
  const { antennaGainDbi } = from.model;
  const { known, allowance, isForbidden } = askLaw(right, channel, use, antennaGainDbi, eirpDbm);
  return {
    sent: {
      channel,
      eirpDbm,
      lawKnown: known,
      eirpLimitDbm: allowance?.mostEirpDbm,
      lawRefusal: isForbidden ? refusalWords(right, channel, use, antennaGainDbi) : undefined,
      allowance,
    },
    received: {
      rslDbm,
      ledger: ledger.lines,
      noiseDbm: noise,
      snrDb: rslDbm - noise,
      marginDb: slowest ? slowest.marginDb : -Infinity,
      overloaded: rslDbm > to.model.overloadDbm,
      step: stepAt(ladder, 0),
      fastest: fastestStep(
        ladder.map((l) => l.step),
        Infinity,
      ),
      ladder,
      weather,
    },
  };
}

/** What a radio radiates in the direction it points to. */
export function eirpOf(radio: RadioPlan, frequencyMHz: number): number {
  return radio.conductedDbm - feederLossDb(radio, frequencyMHz) + radio.model.antennaGainDbi;
}

/** What each of several chains sends of a radio's power; law and ledger count all of them together. */
export function perChainDbm(conductedDbm: number, chains: number): number {
  return conductedDbm - 10 * Math.log10(chains);
}

/** The fastest step of a ladder that still works when the level has faded by so much. */
export function stepAt(ladder: readonly LadderStep[], fadeDb: number): RateStep | undefined {
  let best: RateStep | undefined;
  for (const { step, marginDb } of ladder)
    if (marginDb >= fadeDb && (!best || step.phyRateMbps > best.phyRateMbps)) best = step;
  return best;
}

/** The steps that two radios share on one width, slowest first, as the receiver has them, with the most that the sender sends each with. */
function sharedSteps(
  sender: RadioPlan,
  receiver: RadioPlan,
  widthMHz: number,
  errorCorrection: boolean,
  fastest: number,
): { step: RateStep; mostDbm: number }[] {
  const shared: { step: RateStep; mostDbm: number }[] = [];
  const streams = sharedStreams(sender, receiver);
  const sendable = rateSteps(sender.model, widthMHz, errorCorrection, streams);
  for (const step of rateSteps(receiver.model, widthMHz, errorCorrection, streams)) {
    const sent = sendable.find((s) => s.phyRateMbps === step.phyRateMbps);
    if (sent && step.mcs <= fastest) shared.push({ step, mostDbm: sent.mostConductedDbm });
  }
  return shared;
}

/** What an antenna loses towards the other radio because it points elsewhere; nothing where it is to be aimed at it. */
export function pointingLossDb({ azimuthDeg, tiltDeg, model }: RadioPlan, other: Sight): number {
  if (azimuthDeg === null && tiltDeg === null) return 0;
  const azimuthOffDeg = azimuthDeg === null ? 0 : wrap180(other.azimuthDeg - azimuthDeg);
  const elevationOffDeg = tiltDeg === null ? 0 : other.tiltDeg - tiltDeg;
  return antennaLossDb(model, azimuthOffDeg, elevationOffDeg);
}

/** What an antenna loses beside its axis. */
export function antennaLossDb(model: Model, azimuthOffDeg: number, elevationOffDeg: number): number {
  return model.pattern
    ? patternLossDb(model.pattern, azimuthOffDeg, elevationOffDeg)
    : offBoresightLossDb(model.beamWidth, azimuthOffDeg, elevationOffDeg);
}

/** What an aim that may be off costs, by the narrower cut of the beam. */
function aimLossDb({ model, aimOffDeg }: RadioPlan): number {
  return aimOffDeg > 0 ? Math.max(antennaLossDb(model, aimOffDeg, 0), antennaLossDb(model, 0, aimOffDeg)) : 0;
}

/** The ledger from the conducted power at one radio to the received level at the other. */
function receive(hop: HopPlan, frequencyMHz: number): Ledger {
  const { from, to, rangeM, path, there, back, climate } = hop;
  const ledger = new Ledger('conducted', 'Conducted power', from.conductedDbm, 'plan');
  feederLines(ledger, 'tx', 'sending', from, frequencyMHz);
  ledger
    .change('txGain', 'Antenna gain, sending', from.model.antennaGainDbi, `spec sheet ${from.model.name}`)
    .mark('eirp', 'EIRP', 'sum');
  pointingLines(ledger, 'tx', 'sending', from, there);
  ledger.change('freeSpace', 'Free-space loss', -freeSpaceLossDb(rangeM, frequencyMHz), 'ITU-R P.525-4', () => [
    { name: 'antenna to antenna', value: rangeM, unit: 'm' },
    { name: 'frequency', value: frequencyMHz, unit: 'MHz' },
  ]);
  const air = atmosphereAt(meanHeightM(from, to), climate);
  const gas = gasLoss(frequencyMHz, air);
  const inAir = (key: string, label: string, lossDbPerKm: number): void => {
    const lossDb = (lossDbPerKm * rangeM) / 1000;
    if (lossDb <= noticeableDb) return;
    const source = climate.isGuessed ? 'ITU-R P.676-12, in a climate that is guessed' : 'ITU-R P.676-12, sum of lines';
    ledger.change(key, label, -lossDb, source, () => [
      { name: 'a kilometre takes', value: lossDbPerKm, unit: 'dB' },
      { name: 'way', value: rangeM / 1000, unit: 'km' },
      { name: 'dry air', value: air.dryPressureHPa, unit: 'hPa' },
      { name: 'temperature', value: air.temperatureC, unit: '°C' },
      { name: 'vapour', value: air.vapourGPerM3, unit: 'g/m³' },
    ]);
  };
  inAir('oxygen', 'Oxygen', gas.oxygenDbPerKm);
  inAir('waterVapour', 'Water vapour', gas.waterVapourDbPerKm);
  if (path) {
    const { zoneShare, clearanceM, zoneM } = path.worst;
    ledger.change(
      'diffraction',
      'Terrain and buildings',
      -path.diffractionDb,
      'ITU-R P.526-15 delta-Bullington',
      () => [
        { name: 'clearance where it is tightest', value: clearanceM, unit: 'm' },
        { name: 'radius of the zone there', value: zoneM, unit: 'm' },
        { name: 'that is free', value: 100 * zoneShare, unit: '% of the zone' },
      ],
    );
    if (path.vegetationDb > 0) {
      ledger.change('vegetation', 'Trees', -path.vegetationDb, 'Weissberger, or P.526 over their tops', () => [
        { name: 'through leaves', value: path.vegetationDepthM, unit: 'm' },
        { name: 'frequency', value: frequencyMHz, unit: 'MHz' },
      ]);
    }
  }
  const { shower } = hop;
  if (shower)
    ledger.change('rainNow', 'Rain that falls now', -shower.lossDb, 'ITU-R P.838-3, P.530-17', () => [
      { name: 'rain', value: shower.rainMmPerH, unit: 'mm/h' },
      { name: 'way', value: rangeM / 1000, unit: 'km' },
    ]);
  polarisationLine(ledger, from, to);
  pointingLines(ledger, 'rx', 'receiving', to, back);
  ledger.change('rxGain', 'Antenna gain, receiving', to.model.antennaGainDbi, `spec sheet ${to.model.name}`);
  feederLines(ledger, 'rx', 'receiving', to, frequencyMHz);
  return ledger.mark('rsl', 'Received level', 'sum');
}

/** What two antennas lose that do not swing alike. */
function polarisationLine(ledger: Ledger, from: RadioPlan, to: RadioPlan): void {
  const match = polarisationMatch(from, to);
  if (match === 'alike') return;
  const told = [from, to].filter(({ model }) => model.crossPolarDb !== undefined);
  const source = match === 'half' ? 'half of the power' : told.length ? 'spec sheet' : 'common practice, no source';
  ledger.change(
    'polarisation',
    match === 'half' ? 'One polarisation against both' : 'Crossed polarisation',
    -polarisationLossDb(from, to),
    source,
  );
}

/** The air changes little over such a height, and is summed anew for each, m. */
const sameAirM = 20;

function meanHeightM(from: RadioPlan, to: RadioPlan): number {
  return sameAirM * Math.round((antennaHeightM(from) + antennaHeightM(to)) / (2 * sameAirM));
}

/** What lies between a radio and its antenna. */
function feederLines(ledger: Ledger, key: string, doing: string, radio: RadioPlan, frequencyMHz: number): void {
  const { cable, cableLossDb } = radio;
  if (!cable || cableLossDb > 0) ledger.change(`${key}Cable`, `Cable loss, ${doing}`, -cableLossDb, 'plan');
  if (!cable) return;
  const { words, source, skin, dielectric } = cables[cable.kind];
  ledger.change(`${key}CableRun`, `Cable ${words}, ${doing}`, -cableRunLossDb(cable, frequencyMHz), source, () => [
    { name: 'length', value: cable.lengthM, unit: 'm' },
    { name: '100 m take', value: skin * Math.sqrt(frequencyMHz) + dielectric * frequencyMHz, unit: 'dB' },
    { name: 'frequency', value: frequencyMHz, unit: 'MHz' },
  ]);
  if (cable.connectors > 0)
    ledger.change(
      `${key}Connectors`,
      `Connectors, ${doing}`,
      -connectorsLossDb(cable.connectors, frequencyMHz),
      'type N, MIL-PRF-39012',
      () => [
        { name: 'pairs', value: cable.connectors, unit: '' },
        { name: 'frequency', value: frequencyMHz, unit: 'MHz' },
      ],
    );
}

/** What an antenna loses because it points elsewhere, and because its aim may be off. */
function pointingLines(ledger: Ledger, key: string, doing: string, radio: RadioPlan, sight: Sight): void {
  const { model, azimuthDeg, tiltDeg, aimOffDeg } = radio;
  const by = model.pattern ? `pattern of ${model.name}` : 'ITU-R F.1336';
  const beam = (): LedgerTerm[] => [
    { name: 'beam, left and right', value: model.beamWidth.azimuthDeg, unit: '°' },
    { name: 'beam, up and down', value: model.beamWidth.elevationDeg, unit: '°' },
  ];
  const elsewhereDb = pointingLossDb(radio, sight);
  if (elsewhereDb > noticeableDb)
    ledger.change(`${key}Pointing`, `Off the boresight, ${doing}`, -elsewhereDb, `${by}, from where it points`, () => [
      { name: 'beside it', value: azimuthDeg === null ? 0 : wrap180(sight.azimuthDeg - azimuthDeg), unit: '°' },
      { name: 'above it', value: tiltDeg === null ? 0 : sight.tiltDeg - tiltDeg, unit: '°' },
      ...beam(),
    ]);
  const aimDb = aimLossDb(radio);
  if (aimDb > noticeableDb)
    ledger.change(`${key}Aim`, `Aim off by ${aimOffDeg}°, ${doing}`, -aimDb, by, () => [
      { name: 'aim off by', value: aimOffDeg, unit: '°' },
      ...beam(),
    ]);
}
