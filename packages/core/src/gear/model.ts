import type { BeamWidth } from '../antenna/mainLobe';
import type { AntennaPattern } from '../antenna/pattern';
import { radioKinds, type Protocol } from '../radio/kinds';
import type { Phy } from '../radio/kinds/kind';
import type { PoeKind } from './poe';

/** Bands that gear works in. `licensed` is full-duplex narrowband on a pair of frequencies. */
export const bands = ['2.4GHz', '5GHz', '60GHz', 'licensed'] as const;
export type Band = (typeof bands)[number];

/** How people write the bands. */
export const bandWords: Record<Band, string> = {
  '2.4GHz': '2.4 GHz',
  '5GHz': '5 GHz',
  '60GHz': '60 GHz',
  licensed: 'licensed',
};

/** Lowest level at which a receiver still decodes one MCS in one channel width. */
export interface Sensitivity {
  mcs: number;
  widthMHz: number;
  rslDbm: number;
  /** with error correction on, where the radio can switch it */
  errorCorrection?: boolean;
  /** the most it sends at this step, where that is less than the radio's most */
  mostConductedDbm?: number;
}

/** How radios of a kind are brought together. */
export const pairingKinds = ['page', 'button', 'paired'] as const;
export type PairingKind = (typeof pairingKinds)[number];
export const pairingKindWords: Record<PairingKind, string> = {
  page: 'on its web page',
  button: 'role switch and button',
  paired: 'comes paired',
};

/** What a thing costs, in whatever money. */
export interface Price {
  amount: number;
  currency: string;
}

/** A gear model's spec sheet. */
export interface Model {
  id: string;
  maker: string;
  name: string;
  band: Band;
  lowestMHz: number;
  highestMHz: number;
  phy: Phy;
  streams: number;
  protocols: Protocol[];
  widthsMHz: number[];
  leastConductedDbm: number;
  mostConductedDbm: number;
  antennaGainDbi: number;
  beamWidth: BeamWidth;
  /** how much weaker it hears what swings across to it, dB */
  crossPolarDb?: number;
  noiseFigureDb: number;
  sensitivities: Sensitivity[];
  /** level above which the receiver distorts */
  overloadDbm: number;
  ethernetMbps: number;
  poe: PoeKind;
  /** of licensed narrowband: what its carrier occupies, per cent of the channel spacing (occupied bandwidth, ITU-R SM.328) */
  occupiedPercent?: number;
  /** whether the radio has an option that admits one station only */
  hasPtpOnly: boolean;
  /** drawn or measured; where there is one the prediction goes by it */
  pattern?: AntennaPattern;
  /** rates of the ports besides the one that power comes in by */
  otherPortsMbps?: number[];
  /** the most it draws */
  poeWatts?: number;
  /** stations that an access point of this model takes */
  mostStations?: number;
  pairingKind?: PairingKind;
  /** where it is found out of the box */
  factoryAddress?: string;
  bootS?: number;
  /** how long it takes to save settings; whoever pulls the plug before has none */
  saveS?: number;
  weightKg?: number;
  price?: Price;
}

/** One step of a model: its MCS with the level it needs and the rate it gives. */
export interface RateStep {
  mcs: number;
  name: string;
  sensitivityDbm: number;
  phyRateMbps: number;
  /** the most that is sent at this step */
  mostConductedDbm: number;
}

/** The steps of each spec sheet by width, streams and error correction: a spec sheet is never changed, a change makes a new one. */
const knownSteps = new WeakMap<Model, Map<number, RateStep[]>>();

/** More than any width, MHz. */
const overWidthMHz = 1e5;

/**
 * The steps a model offers in one width, weakest first; combinations that the standard excludes are left out.
 * @param streams that cross at once, where they are fewer than it has
 */
export function rateSteps(
  model: Model,
  widthMHz: number,
  errorCorrection = false,
  streams = model.streams,
): readonly RateStep[] {
  let known = knownSteps.get(model);
  if (!known) knownSteps.set(model, (known = new Map()));
  const key = (errorCorrection ? -1 : 1) * (widthMHz + overWidthMHz * streams);
  let steps = known.get(key);
  if (!steps) known.set(key, (steps = stepsOf(model, widthMHz, errorCorrection, streams)));
  return steps;
}

function stepsOf(model: Model, widthMHz: number, errorCorrection: boolean, streams: number): RateStep[] {
  const kind = radioKinds[model.phy];
  return model.sensitivities
    .filter((s) => s.widthMHz === widthMHz && (s.errorCorrection ?? false) === errorCorrection)
    .flatMap((s) => {
      const rate = kind.rateMbps(s.mcs, widthMHz, streams, errorCorrection);
      if (rate === undefined) return [];
      const mostConductedDbm = s.mostConductedDbm ?? model.mostConductedDbm;
      return [
        { mcs: s.mcs, name: kind.stepName(s.mcs), sensitivityDbm: s.rslDbm, phyRateMbps: rate, mostConductedDbm },
      ];
    })
    .sort((a, b) => a.sensitivityDbm - b.sensitivityDbm);
}

/**
 * The fastest step whose sensitivity a level reaches, or undefined when it reaches none.
 * @param backoffDb by how much less a step is sent than the level was reckoned with
 */
export function fastestStep(
  steps: readonly RateStep[],
  rslDbm: number,
  backoffDb: (step: RateStep) => number = () => 0,
): RateStep | undefined {
  return steps
    .filter((step) => step.sensitivityDbm <= rslDbm - backoffDb(step))
    .reduce<RateStep | undefined>(
      (best, step) => (best && best.phyRateMbps >= step.phyRateMbps ? best : step),
      undefined,
    );
}
