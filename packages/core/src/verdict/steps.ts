import type { Diagnosis } from '../aiming';
import type { LinkPrediction } from '../budget';
import type { Finding } from '../pairing';
import { judgePath } from '../path';
import type { State } from './verdict';

/** The steps of the work on a link, in order. */
export const steps = ['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record'] as const;
export type Step = (typeof steps)[number];

/** What is known of a link, for judging how far it is. */
export interface LinkFacts {
  prediction: LinkPrediction | null;
  predictionError: string | null;
  needNearToFarMbps: number;
  needFarToNearMbps: number;
  findings: Finding[];
  sheetsExist: boolean;
  /** whether a pair has been seen to associate with the sheets as they stand */
  paired: boolean | null;
  mounted: { near: boolean; far: boolean };
  alignment: { diagnosis: Diagnosis; shortDb: number | null } | null;
  tests: { state: State; direction: 'nearToFar' | 'farToNear'; headline: string }[];
}

export interface StepState {
  step: Step;
  state: State;
  /** what the state rests on, in a few words */
  because: string;
}

/** Margins over the slowest step: common practice, no source. */
const soundMarginDb = 10;
const thinMarginDb = 5;

/** Judges every step of a link. */
export function judgeSteps(facts: LinkFacts): StepState[] {
  const list: StepState[] = [
    { step: 'path', ...judgePathStep(facts) },
    { step: 'radio', ...judgeRadio(facts) },
    { step: 'bench', ...judgeBench(facts) },
    { step: 'mount', ...judgeMount(facts) },
    { step: 'aim', ...judgeAim(facts) },
    { step: 'prove', ...judgeProve(facts) },
  ];
  return [...list, { step: 'record', ...judgeRecord(list) }];
}

type Judgement = Omit<StepState, 'step'>;

function judgePathStep({ prediction, predictionError }: LinkFacts): Judgement {
  if (!prediction) return { state: 'fails', because: predictionError ?? 'no geometry' };
  const { ride } = prediction;
  if (ride) {
    const swingDb = (ride[0]?.near.rslDbm ?? 0) - (ride.at(-1)?.near.rslDbm ?? 0);
    return { state: 'holds', because: `a shaft; the level swings ${swingDb.toFixed(0)} dB over the ride` };
  }
  if (!prediction.path) return { state: 'thin', because: 'no terrain known here: look along it' };
  const { state, brief } = judgePath(prediction.path);
  return { state, because: brief };
}

function judgeRadio({ prediction, needNearToFarMbps, needFarToNearMbps }: LinkFacts): Judgement {
  if (!prediction) return { state: 'open', because: 'needs the path' };
  const { near, far, nearToFar, farToNear } = prediction;
  for (const end of [near, far]) {
    if (end.eirpLimitDbm === undefined) return { state: 'fails', because: 'channel not allowed in this country' };
    if (end.eirpDbm > end.eirpLimitDbm + 0.05) {
      return { state: 'fails', because: `EIRP ${(end.eirpDbm - end.eirpLimitDbm).toFixed(1)} dB over the limit` };
    }
    if (end.overloaded) return { state: 'fails', because: 'receiver overloaded: turn the power down' };
  }
  const marginDb = Math.min(near.marginDb, far.marginDb);
  if (marginDb < 0) return { state: 'fails', because: 'level under the sensitivity' };
  const short = nearToFar.bothMbps < needNearToFarMbps || farToNear.bothMbps < needFarToNearMbps;
  if (short) return { state: 'fails', because: 'carries less than the need' };
  if (marginDb < thinMarginDb) return { state: 'thin', because: `margin only ${marginDb.toFixed(1)} dB` };
  if (marginDb < soundMarginDb) return { state: 'thin', because: `margin ${marginDb.toFixed(1)} dB, 10 dB is sound` };
  return { state: 'holds', because: `margin ${marginDb.toFixed(0)} dB` };
}

function judgeBench({ findings, sheetsExist, paired }: LinkFacts): Judgement {
  if (!sheetsExist) return { state: 'open', because: 'no settings yet' };
  const blocks = findings.filter((f) => f.severity === 'blocks');
  if (blocks.length)
    return { state: 'fails', because: `${blocks.length} reason${blocks.length > 1 ? 's' : ''} why they will not pair` };
  if (paired === false) return { state: 'fails', because: 'tried and did not pair' };
  if (paired === null) return { state: 'open', because: 'will pair; not tried yet' };
  const warnings = findings.length;
  return warnings
    ? { state: 'thin', because: `paired, ${warnings} thing${warnings > 1 ? 's' : ''} unwise` }
    : { state: 'holds', because: 'paired on the bench' };
}

function judgeMount({ mounted }: LinkFacts): Judgement {
  const up = [mounted.near, mounted.far].filter(Boolean).length;
  if (up === 2) return { state: 'holds', because: 'both ends up' };
  return { state: 'open', because: up ? `only the ${mounted.near ? 'near' : 'far'} end is up` : 'nothing is up yet' };
}

function judgeAim({ alignment }: LinkFacts): Judgement {
  if (!alignment) return { state: 'open', because: 'not aimed yet' };
  const short = alignment.shortDb === null ? '' : `${Math.abs(alignment.shortDb).toFixed(1)} dB`;
  const words: Record<Diagnosis, Judgement> = {
    clear: { state: 'holds', because: 'level as predicted' },
    stronger: { state: 'thin', because: `level ${short} over the prediction` },
    obstructed: { state: (alignment.shortDb ?? 0) > 10 ? 'fails' : 'thin', because: `${short} short: path not clear` },
    sideLobe: { state: 'fails', because: `${short} short: a side lobe` },
    crossedPolarisation: { state: 'fails', because: `${short} short: polarisation crossed` },
    otherEnd: { state: 'fails', because: `${short} short: the other end` },
    unknown: { state: 'fails', because: 'nothing was heard' },
  };
  return words[alignment.diagnosis];
}

function judgeProve({ tests }: LinkFacts): Judgement {
  const latest = (['nearToFar', 'farToNear'] as const).map((d) => tests.find((t) => t.direction === d));
  const failed = latest.find((t) => t?.state === 'fails');
  if (failed) return { state: 'fails', because: failed.headline };
  if (latest.some((t) => !t || t.state === 'open')) {
    const count = latest.filter((t) => t && t.state !== 'open').length;
    return { state: 'open', because: count ? 'one direction tested' : 'not tested yet' };
  }
  const thin = latest.find((t) => t?.state === 'thin');
  return thin ? { state: 'thin', because: thin.headline } : { state: 'holds', because: 'both directions as expected' };
}

function judgeRecord(before: StepState[]): Judgement {
  const open = before.filter((s) => s.state === 'open').length;
  const bad = before.filter((s) => s.state === 'fails').length;
  if (bad) return { state: 'fails', because: `${bad} step${bad > 1 ? 's' : ''} to mend first` };
  if (open) return { state: 'open', because: `${open} step${open > 1 ? 's' : ''} to go` };
  return { state: 'holds', because: 'proven and on record' };
}

/** The step to work on next: the first that fails, else the first that is open. */
export function nextStep(list: readonly StepState[]): StepState | undefined {
  const work = list.filter((s) => s.step !== 'record');
  return work.find((s) => s.state === 'fails') ?? work.find((s) => s.state === 'open');
}

/** The worst state among some: what a whole link or job shows. */
export function worstState(list: readonly { state: State }[]): State {
  const order: State[] = ['fails', 'open', 'thin', 'holds'];
  return order.find((state) => list.some((s) => s.state === state)) ?? 'open';
}
