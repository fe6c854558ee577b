import type { Diagnosis } from '../aiming/diagnoses';
import type { Disturbance } from '../budget/neighbours';
import { ends, type End } from '../budget/plan';
import type { LinkPrediction } from '../budget/prediction';
import type { Basis } from '../evidence/basis';
import { changedSince, type ProvenStep } from '../evidence/changes';
import { evidenceWords, type Evidence } from '../evidence/evidence';
import type { Finding } from '../pairing/pair';
import { judgePath } from '../path/words';
import { sameDb } from '../units/tolerance';
import type { LicenceStanding } from '../spectrum/licence';
import type { LicenceFault } from '../spectrum/licenceFaults';
import { dateText } from '../units/moment';
import { directions, judgeThroughput, type Direction, type MeasuredRate } from './throughputVerdict';
import type { State } from './verdict';

/** The steps of the work on a link, in order. */
export const steps = ['path', 'radio', 'bench', 'mount', 'aim', 'prove', 'record'] as const;
export type Step = (typeof steps)[number];

/** What is known of a link, for judging how far it is. */
export interface LinkFacts {
  /** a job for trying things out: what stand-ins do counts */
  practice: boolean;
  prediction: LinkPrediction | null;
  predictionError: string | null;
  /** terrain that lay under the job elsewhere and is not here, by name; left out where none */
  missingTerrain?: readonly string[];
  need: Record<Direction, number>;
  /** by how much both levels may fade until less crosses than is needed, while the others on the air take theirs; and how much of it is asked for */
  fade: { needDb: number; wantedDb: number } | null;
  /** that a licensed pair is planned by: how it stands today, and what it says against the plan; null where none is */
  licence: { number: string; validUntil: string; standing: LicenceStanding; faults: LicenceFault[] } | null;
  /** what other airs of the job do to it; left out where nothing */
  disturbance?: Disturbance;
  /** what the air leaves for each direction while everything else on it carries what it needs; null where that is not known */
  shared: SharedRates | null;
  findings: Finding[];
  sheetsExist: boolean;
  /** the latest try to pair */
  pairing: { linked: boolean; evidence: Evidence } | null;
  /** since when each radio is up */
  mounted: Record<End, Evidence | null>;
  /** the last alignment, by its worse end */
  alignment: { diagnosis: Diagnosis; shortDb: number | null; end: End; evidence: Evidence } | null;
  /** the end whose radio is the access point, which the other one follows */
  accessEnd: End;
  /** the latest finished test of each direction */
  tests: Record<Direction, ProofTest | null>;
  /** what plan, sheets and models are now */
  basis: Basis;
}

/** What is left for a link on its air. */
export interface SharedRates {
  mbps: Record<Direction, number>;
  /** whether other links are on this air */
  others: boolean;
}

/** A throughput test with what it was held against when it ran; it is judged again by what is needed now. */
export interface ProofTest {
  measured: MeasuredRate;
  /** what the link should have given, as it was judged when the test ran; null where that was not kept */
  expectedMbps: number | null;
  evidence: Evidence;
}

export interface StepState {
  step: Step;
  state: State;
  /** what the state rests on, in a few words */
  because: string;
  /** how that is known, since when and by whom; null for what is computed from the plan */
  evidence: Omit<Evidence, 'basis'> | null;
}

/** Margins over the slowest step: common practice, no source. */
const soundMarginDb = 10;
const thinMarginDb = 5;

/** Judges every step of a link. */
export function judgeSteps(facts: LinkFacts): StepState[] {
  const list: StepState[] = [
    { step: 'path', evidence: null, ...judgePathStep(facts) },
    { step: 'radio', evidence: null, ...judgeRadio(facts) },
    { step: 'bench', evidence: null, ...judgeBench(facts) },
    { step: 'mount', evidence: null, ...judgeMount(facts) },
    { step: 'aim', evidence: null, ...judgeAim(facts) },
    { step: 'prove', evidence: null, ...judgeProve(facts) },
  ];
  return [...list, { step: 'record', evidence: null, ...judgeRecord(list) }];
}

type Judgement = Pick<StepState, 'state' | 'because'> & Partial<Pick<StepState, 'evidence'>>;

/** Why evidence no longer counts, or never did; undefined where it stands. */
export function whyNot(step: ProvenStep, evidence: Evidence, { practice, basis }: LinkFacts): string | undefined {
  if (evidence.kind === 'standin' && !practice) return 'only stand-in radios did it; real ones have not';
  if (!evidence.basis) return 'recorded before Kivram kept what a record rests on: do it again, or confirm it';
  const changes = changedSince(step, evidence.basis, basis);
  if (!changes.length) return undefined;
  return changed(changes);
}

const changedWords = 'changed since: ';

/** Everything that has changed, each thing once. */
function changed(changes: readonly string[]): string {
  return `${changedWords}${[...new Set(changes)].join('; ')}`;
}

/** Several reasons why something no longer counts as one: all that changed, or the first that is no change. */
function allOf(gone: readonly string[]): string | undefined {
  const [first] = gone;
  return gone.length > 1 && gone.every((why) => why.startsWith(changedWords))
    ? changed(gone.flatMap((why) => why.slice(changedWords.length).split('; ')))
    : first;
}

function resting(judgement: Judgement, { kind, at, crewMemberId }: Evidence): Judgement {
  return { ...judgement, evidence: { kind, at, crewMemberId } };
}

function judgePathStep({ prediction, predictionError, missingTerrain = [] }: LinkFacts): Judgement {
  if (!prediction) return { state: 'fails', because: predictionError ?? 'no geometry' };
  const { ride } = prediction;
  if (ride) {
    const swingDb = (ride[0]?.near.rslDbm ?? 0) - (ride.at(-1)?.near.rslDbm ?? 0);
    return { state: 'holds', because: `a shaft; the level swings ${swingDb.toFixed(0)} dB over the ride` };
  }
  if (!prediction.path) return { state: 'fails', because: 'no geometry' };
  const { state, brief } = judgePath(prediction.path);
  // What was seen over the ground elsewhere gets no better by its absence here.
  if (missingTerrain.length && !prediction.path.surface.terrainKnown && state !== 'fails')
    return {
      state: 'open',
      because: `the terrain is not in this copy: bring ${missingTerrain.join(', ')} in on the map`,
    };
  return { state, because: brief };
}

/** What law or licence a plan breaks, in words that begin small; undefined where none that is known. */
export function brokenLaw({ prediction, licence }: Pick<RadioFacts, 'prediction' | 'licence'>): string | undefined {
  const against = licence?.faults.find((fault) => fault.state === 'fails');
  if (against) return against.words;
  for (const end of prediction ? [prediction.near, prediction.far] : []) {
    if (end.lawRefusal) return `not allowed: ${end.lawRefusal}`;
    if (end.eirpLimitDbm !== undefined && end.eirpDbm > end.eirpLimitDbm + sameDb)
      return `EIRP ${(end.eirpDbm - end.eirpLimitDbm).toFixed(1)} dB over the limit of ${Number(end.eirpLimitDbm.toFixed(1))} dBm`;
  }
  return undefined;
}

/** What the plan of a link comes to, for judging it alone. */
export type RadioFacts = Pick<LinkFacts, 'prediction' | 'need' | 'shared' | 'fade' | 'licence' | 'disturbance'>;

/** Judges the step Radio: whether the plan is lawful, and carries what is needed with enough to spare. */
export function judgeRadio({
  prediction,
  need,
  shared,
  fade,
  licence,
  disturbance,
}: RadioFacts): Pick<StepState, 'state' | 'because'> {
  if (!prediction) return { state: 'open', because: 'needs the path' };
  const { near, far } = prediction;
  const broken = brokenLaw({ prediction, licence });
  if (broken) return { state: 'fails', because: broken };
  if (prediction.polarisation === 'crossed')
    return { state: 'fails', because: 'polarisation crossed: one end vertical, the other horizontal' };
  if (near.overloaded || far.overloaded) return { state: 'fails', because: 'receiver overloaded: turn the power down' };
  const marginDb = Math.min(near.marginDb, far.marginDb);
  if (marginDb < 0) return { state: 'fails', because: 'level under the sensitivity' };
  if (directions.some((d) => (shared?.mbps[d] ?? prediction[d].bothMbps) < need[d])) {
    const others = shared?.others ? ' while the others on this channel take theirs' : '';
    return { state: 'fails', because: `carries less than the need${others}` };
  }
  if (disturbance?.state === 'fails') return { state: 'fails', because: disturbance.words };
  if (marginDb < thinMarginDb) return { state: 'thin', because: `margin only ${marginDb.toFixed(1)} dB` };
  if (marginDb < soundMarginDb) return { state: 'thin', because: `margin ${marginDb.toFixed(1)} dB, 10 dB is sound` };
  if (fade && fade.needDb < fade.wantedDb)
    return {
      state: 'thin',
      because: `the need fails after a fade of ${fade.needDb.toFixed(1)} dB, ${fade.wantedDb} dB are asked for`,
    };
  if (disturbance) return { state: 'thin', because: disturbance.words };
  const margin = `margin ${marginDb.toFixed(0)} dB`;
  if (licence?.standing === 'ending')
    return {
      state: 'thin',
      because: `${margin}; the licence ${licence.number} ends on ${dateText(licence.validUntil)}`,
    };
  const [unclear] = licence?.faults ?? [];
  if (unclear) return { state: 'thin', because: `${margin}; ${unclear.words}` };
  // Nobody looked whether channel and power are allowed: that is no plan to build by.
  if (!near.lawKnown)
    return {
      state: 'thin',
      because: `${margin}; the rules of this country are not known here: look up channel and power`,
    };
  if (prediction.polarisation === 'half')
    return {
      state: 'thin',
      because: `${margin}; one polarisation against both: 3 dB and all streams but one are lost`,
    };
  const [doubt] = [near, far].flatMap((end) => end.allowance?.doubts ?? []);
  if (doubt) return { state: 'thin', because: `${margin}; ${doubt}` };
  return { state: 'holds', because: margin };
}

function judgeBench(facts: LinkFacts): Judgement {
  const { findings, sheetsExist, pairing } = facts;
  if (!sheetsExist) return { state: 'open', because: 'no settings yet' };
  const absent = findings.some((f) => f.cause === 'passphraseAbsent');
  const [first, ...others] = findings.filter((f) => f.severity === 'blocks' && f.cause !== 'passphraseAbsent');
  if (first) {
    const more = others.length ? `, and ${others.length} more reason${others.length > 1 ? 's' : ''}` : '';
    return { state: 'fails', because: `will not pair: ${brief(first.reason)}${more}` };
  }
  const forbidden = findings.find((f) => f.severity === 'forbids');
  if (forbidden) return { state: 'fails', because: `must not go up so: ${brief(forbidden.reason)}` };
  const notHere = 'the passphrases are not in this copy';
  if (!pairing) return { state: 'open', because: absent ? `${notHere}: type them in` : 'will pair; not tried yet' };
  const { linked, evidence } = pairing;
  const gone = whyNot('bench', evidence, facts);
  if (gone) return resting({ state: 'open', because: gone }, evidence);
  if (!linked) return resting({ state: 'fails', because: 'tried and did not pair' }, evidence);
  if (absent) return resting({ state: 'thin', because: `paired; ${notHere}` }, evidence);
  const warnings = findings.length;
  return resting(
    warnings
      ? { state: 'thin', because: `paired, ${warnings} thing${warnings > 1 ? 's' : ''} unwise` }
      : { state: 'holds', because: 'paired on the bench' },
    evidence,
  );
}

/** The beginning of a sentence, inside another one. */
function brief(reason: string): string {
  const first = (reason.split(/[.:;] /)[0] ?? reason).replace(/\.$/, '');
  return first.charAt(0).toLowerCase() + first.slice(1);
}

function judgeMount(facts: LinkFacts): Judgement {
  const { mounted } = facts;
  const gone = ends.flatMap((end) => {
    const evidence = mounted[end];
    const why = evidence && whyNot('mount', evidence, facts);
    return evidence && why ? [{ evidence, why }] : [];
  });
  const because = allOf(gone.map(({ why }) => why));
  if (gone[0] && because) return resting({ state: 'open', because }, gone[0].evidence);
  const { near, far } = mounted;
  if (near && far) return resting({ state: 'holds', because: 'both ends up' }, near.at > far.at ? near : far);
  const up = near ?? far;
  if (!up) return { state: 'open', because: 'nothing is up yet' };
  return resting({ state: 'open', because: `only the ${near ? 'near' : 'far'} end is up` }, up);
}

function judgeAim(facts: LinkFacts): Judgement {
  const { alignment } = facts;
  if (!alignment) return { state: 'open', because: 'not aimed yet' };
  const { diagnosis, shortDb, evidence } = alignment;
  const gone = whyNot('aim', evidence, facts);
  if (gone) return resting({ state: 'open', because: gone }, evidence);
  const short = shortDb === null ? '' : `${Math.abs(shortDb).toFixed(1)} dB`;
  const words: Record<Diagnosis, Judgement> = {
    clear: { state: 'holds', because: 'level as predicted' },
    stronger: { state: 'thin', because: `level ${short} over the prediction` },
    obstructed: { state: (shortDb ?? 0) > 10 ? 'fails' : 'thin', because: `${short} short: path not clear` },
    sideLobe: { state: 'fails', because: `${short} short: a side lobe` },
    crossedPolarisation: { state: 'fails', because: `${short} short: polarisation crossed` },
    otherEnd: { state: 'fails', because: `${short} short: the other end` },
    unswept: { state: 'open', because: `${short} short, and never swept: only a level is known` },
    unsearched: { state: 'open', because: `${short} short, and nobody looked beside the lobe` },
    unknown: { state: 'fails', because: 'nothing was heard' },
  };
  return resting(words[diagnosis], evidence);
}

function judgeProve(facts: LinkFacts): Judgement {
  const judged = directions.flatMap((direction) => {
    const test = facts.tests[direction];
    if (!test) return [];
    const gone = whyNot('prove', test.evidence, facts);
    if (gone) return [resting({ state: 'open', because: gone }, test.evidence)];
    // The need may have been raised since, so the test is held against it anew; which bottleneck it is was named when it ran.
    const predicted = facts.prediction?.[direction];
    const expectedMbps = test.expectedMbps ?? predicted?.aloneMbps ?? 0;
    const aloneMbps = test.measured.bothLoaded ? 2 * expectedMbps : expectedMbps;
    const expectation = { lines: [], aloneMbps, bothMbps: expectedMbps, limitedBy: 'radio' as const };
    const { state, headline } = judgeThroughput({
      ...test.measured,
      expectation,
      ceiling: predicted?.ceiling ?? null,
      halfWidth: expectation,
      atMeasuredLevel: null,
      feedMbps: null,
      needMbps: facts.need[direction],
    });
    return [resting({ state, because: headline }, test.evidence)];
  });
  const open = judged.filter((j) => j.state === 'open');
  const bad = judged.find((j) => j.state === 'fails') ?? open[0];
  if (bad) return bad === open[0] ? { ...bad, because: allOf(open.map((j) => j.because)) ?? bad.because } : bad;
  const [first, second] = judged;
  if (!first) return { state: 'open', because: 'not tested yet' };
  if (!second) return { ...first, state: 'open', because: 'one direction tested' };
  const thin = judged.find((j) => j.state === 'thin');
  return thin ?? { ...second, state: 'holds', because: 'both directions as expected' };
}

function judgeRecord(before: StepState[]): Judgement {
  const open = before.filter((s) => s.state === 'open').length;
  const bad = before.filter((s) => s.state === 'fails').length;
  if (bad) return { state: 'fails', because: `${bad} step${bad > 1 ? 's' : ''} to repair first` };
  if (open) return { state: 'open', because: `${open} step${open > 1 ? 's' : ''} to go` };
  return { state: 'holds', because: 'proven and on record' };
}

/** The worst state among some: what a whole link or job shows. */
export function worstState(list: readonly { state: State }[]): State {
  const order: State[] = ['fails', 'open', 'thin', 'holds'];
  return order.find((state) => list.some((s) => s.state === state)) ?? 'open';
}

/** How a state is known, in words: "stand-in radios", "measured". Empty for what is computed from the plan. */
export function evidenceText({ evidence }: Pick<StepState, 'evidence'>): string {
  return evidence ? `${evidenceWords[evidence.kind]}, ${dateText(evidence.at)}` : '';
}
