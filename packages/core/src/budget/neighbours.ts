import { sendingChannel, type Air } from '../air/air';
import { feederLossDb } from '../gear/cable';
import { wrap180 } from '../geodesy/geodesic';
import { freeSpaceLossDb } from '../propagation/freeSpace';
import { noiseDbm } from '../propagation/noise';
import type { Channel } from '../spectrum/channel';
import { antennaLossDb, eirpOf, type Sight } from './hop';
import { antennaHeightM, ends, otherEnd, type End, type LinkPlan, type RadioPlan } from './plan';
import type { LinkPrediction } from './prediction';

/** A link of the same job on another air: what one's own receivers may hear. */
export interface NeighbourLink {
  name: string;
  airId: string;
  air: Air;
  near: RadioPlan;
  far: RadioPlan;
}

/** Another air of the job, as the two receivers of a link hear it. */
export interface HeardAir {
  airId: string;
  /** its links */
  names: string[];
  protocol: Air['protocol'];
  /** each channel that something is sent on, with the loudest that each end hears of it */
  sent: { channel: Channel; heardDbm: Record<End, number> }[];
  /** share of its time that its links need, 0 to 1 and more */
  load: number;
}

/** What other airs of the job do to a link, in words that begin small. */
export interface Disturbance {
  state: 'fails' | 'thin';
  words: string;
}

/** An 802.11 radio waits for what it hears from this level on in 20 MHz: IEEE 802.11-2020 17.3.10.6, carrier sense; from memory. */
const waitsFromDbm = -82;

/** What raises the noise by less is as good as nothing, dB. */
const noticeableRiseDb = 1;

/** Antennas on one mast are reckoned this far apart at least, m: nearer the far field's formulas say nothing. */
const leastRangeM = 1;

/**
 * The other airs of a job that the receivers of a link hear above their noise, loudest first, over free air: what stands between is not looked at. What their links need
 * is to be added. Of many links the nearest are looked at.
 */
export function heardAirs(
  plan: Pick<LinkPlan, 'air' | 'near' | 'far' | 'shaft'>,
  others: readonly NeighbourLink[],
): Omit<HeardAir, 'load'>[] {
  if (plan.shaft) return [];
  const own = sightsOf(plan);
  const airs = new Map<string, Omit<HeardAir, 'load'>>();
  for (const other of nearestOf(plan, others)) {
    const floorDbm = noiseDbm(Math.min(plan.air.widthMHz, other.air.widthMHz), 0);
    const sights = sightsOf(other);
    for (const sender of ends) {
      const channel = sendingChannel(other.air, other[sender].role);
      const level = (end: End): number =>
        levelDbm(plan[end], own[end], other[sender], sights[sender], channel.centreMHz);
      const heardDbm = { near: level('near'), far: level('far') };
      if (Math.max(heardDbm.near, heardDbm.far) < floorDbm) continue;
      const { airId, name, air } = other;
      const known = airs.get(airId) ?? { airId, names: [], protocol: air.protocol, sent: [] };
      airs.set(airId, known);
      if (!known.names.includes(name)) known.names.push(name);
      const same = known.sent.find((s) => s.channel.centreMHz === channel.centreMHz);
      if (!same) known.sent.push({ channel, heardDbm });
      else for (const end of ends) same.heardDbm[end] = Math.max(same.heardDbm[end], heardDbm[end]);
    }
  }
  return [...airs.values()].sort((a, b) => loudestDbm(b) - loudestDbm(a));
}

/**
 * What those airs do to a link: radios that wait for each other share the time of the channel; what a receiver hears and nobody waits for is noise.
 * @param ownLoad share of the time that all links of the link's own air need
 * @returns the worst of it; undefined where no channel overlaps, or nothing is noticed of it
 */
export function disturbanceOf(
  { air, near, far }: Pick<LinkPlan, 'air' | 'near' | 'far'>,
  prediction: Pick<LinkPrediction, End>,
  ownLoad: number,
  heard: readonly HeardAir[],
): Disturbance | undefined {
  const roles = { near: near.role, far: far.role };
  const found: Disturbance[] = [];
  let load = ownLoad;
  const sharing: string[] = [];
  let loudestShared = -Infinity;
  for (const other of heard) {
    const level = { near: -Infinity, far: -Infinity };
    for (const { channel, heardDbm } of other.sent)
      for (const end of ends) {
        const own = sendingChannel(air, roles[otherEnd(end)]);
        const share = overlapMHz(own, channel) / channel.widthMHz;
        if (share > 0) level[end] = Math.max(level[end], heardDbm[end] + 10 * Math.log10(share));
      }
    const loudest = Math.max(level.near, level.far);
    if (loudest === -Infinity) continue;
    const waits = air.protocol === '802.11' && other.protocol === '802.11' && air.kind !== 'duplex';
    if (waits && loudest >= waitsFromDbm + 10 * Math.log10(air.widthMHz / 20)) {
      load += other.load;
      sharing.push(...other.names);
      loudestShared = Math.max(loudestShared, loudest);
      continue;
    }
    const end: End = riseDb(level.near, prediction.near) >= riseDb(level.far, prediction.far) ? 'near' : 'far';
    const rise = riseDb(level[end], prediction[end]);
    if (rise < noticeableRiseDb) continue;
    const drowned = prediction[end].marginDb < rise;
    const figures = `the ${end} end hears ${named(other.names)} at ${level[end].toFixed(0)} dBm on a channel that overlaps: its noise rises by ${rise.toFixed(0)} dB while that sends`;
    found.push({
      state: drowned ? 'fails' : 'thin',
      words: drowned ? `${figures}, more than the margin` : figures,
    });
  }
  if (sharing.length)
    found.push({
      state: load > 1 ? 'fails' : 'thin',
      words: `shares its channel with ${named(sharing)}, heard at ${loudestShared.toFixed(0)} dBm: together they need ${(100 * load).toFixed(0)} % of the time`,
    });
  return found.find((f) => f.state === 'fails') ?? found[0];
}

function named(names: readonly string[]): string {
  const [first = '', ...more] = names;
  return more.length ? `${first} and ${more.length} more` : first;
}

function loudestDbm({ sent }: Pick<HeardAir, 'sent'>): number {
  return Math.max(...sent.map(({ heardDbm }) => Math.max(heardDbm.near, heardDbm.far)));
}

/** By how much a level raises the noise of a receiver: the powers add. */
function riseDb(levelDbm: number, { noiseDbm: noise }: { noiseDbm: number }): number {
  return 10 * Math.log10(1 + 10 ** ((levelDbm - noise) / 10));
}

/** Whether anything that is sent on one air falls into a channel of another. */
export function airsOverlap(a: Air, b: Air): boolean {
  const channels = (air: Air): Channel[] => [sendingChannel(air, 'access'), sendingChannel(air, 'station')];
  return channels(a).some((own) => channels(b).some((other) => overlapMHz(own, other) > 0));
}

function overlapMHz(a: Channel, b: Channel): number {
  const low = Math.max(a.centreMHz - a.widthMHz / 2, b.centreMHz - b.widthMHz / 2);
  const high = Math.min(a.centreMHz + a.widthMHz / 2, b.centreMHz + b.widthMHz / 2);
  return Math.max(0, high - low);
}

/** One antenna from another, on a flat Earth: on the scale on which radios disturb each other no answer hangs on its curve. */
interface Way {
  rangeM: number;
  /** null where they share a mast, one above the other */
  azimuthDeg: number | null;
  tiltDeg: number;
}

const degrees = 180 / Math.PI;
/** Mean length of a degree along a meridian, m. */
const metresPerDeg = 111_195;

function wayTo(from: RadioPlan, to: RadioPlan): Way {
  const northM = metresPerDeg * (to.position.latitudeDeg - from.position.latitudeDeg);
  const shrink = Math.cos(from.position.latitudeDeg / degrees);
  const eastM = metresPerDeg * shrink * wrap180(to.position.longitudeDeg - from.position.longitudeDeg);
  const upM = antennaHeightM(to) - antennaHeightM(from);
  const alongM = Math.hypot(northM, eastM);
  return {
    rangeM: Math.max(leastRangeM, Math.hypot(alongM, upM)),
    azimuthDeg: alongM < leastRangeM ? null : Math.atan2(eastM, northM) * degrees,
    tiltDeg: alongM < leastRangeM ? (upM < 0 ? -90 : 90) : Math.atan2(upM, alongM) * degrees,
  };
}

/** So many other links are looked at, the nearest. */
const mostLinks = 40;

/** The links that have a radio nearest to one of the link's own. */
function nearestOf(plan: Record<End, RadioPlan>, others: readonly NeighbourLink[]): readonly NeighbourLink[] {
  if (others.length <= mostLinks) return others;
  const shrink = Math.cos(plan.near.position.latitudeDeg / degrees);
  const apart = (a: RadioPlan, b: RadioPlan): number => {
    const northDeg = a.position.latitudeDeg - b.position.latitudeDeg;
    const eastDeg = shrink * wrap180(a.position.longitudeDeg - b.position.longitudeDeg);
    return northDeg ** 2 + eastDeg ** 2;
  };
  const { near, far } = plan;
  return others
    .map((other) => ({
      other,
      apart: Math.min(apart(near, other.near), apart(near, other.far), apart(far, other.near), apart(far, other.far)),
    }))
    .sort((a, b) => a.apart - b.apart)
    .slice(0, mostLinks)
    .map(({ other }) => other);
}

/** Where the antennas of a link point: as they were told, else at each other. */
function sightsOf(link: Record<End, RadioPlan>): Record<End, Sight> {
  const sight = (end: End): Sight => {
    const way = wayTo(link[end], link[otherEnd(end)]);
    return {
      azimuthDeg: link[end].azimuthDeg ?? way.azimuthDeg ?? 0,
      tiltDeg: link[end].tiltDeg ?? way.tiltDeg,
    };
  };
  return { near: sight('near'), far: sight('far') };
}

/** What a receiver hears of a sender that is none of its own. */
function levelDbm(listener: RadioPlan, listens: Sight, sender: RadioPlan, sends: Sight, frequencyMHz: number): number {
  const [there, back] = [wayTo(listener, sender), wayTo(sender, listener)];
  const lossDb = ({ model }: RadioPlan, faces: Sight, { azimuthDeg, tiltDeg }: Way): number =>
    antennaLossDb(model, azimuthDeg === null ? 0 : wrap180(azimuthDeg - faces.azimuthDeg), tiltDeg - faces.tiltDeg);
  const level =
    eirpOf(sender, frequencyMHz) -
    lossDb(sender, sends, back) -
    freeSpaceLossDb(there.rangeM, frequencyMHz) -
    lossDb(listener, listens, there) +
    listener.model.antennaGainDbi -
    feederLossDb(listener, frequencyMHz);
  // Beside each other formulas of the far field may promise more than was sent.
  return Math.min(level, sender.conductedDbm);
}
