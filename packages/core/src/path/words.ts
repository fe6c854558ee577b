import { heightIn, lengthIn, type Quantity, type UnitSystem } from '../units';
import { foliageLimits } from '../propagation/vegetation';
import { targetZoneShare } from './clearance';
import type { PathAnalysis } from './analysis';
import { obstacleRules } from './obstacles';
import type { State } from '../verdict/verdict';

/** A path's verdict in the installer's words, with the point that matters named. */
export interface PathVerdict {
  state: State;
  /** follows the word of the state, as in "thin, the ridge at 2.3 km takes ..." */
  headline: string;
  /** the same without lengths, where the reader's units are not known */
  brief: string;
  /** further sentences, each worth knowing */
  notes: string[];
}

/** Losses that a path may have and still hold, and that make it fail: common practice, no source. */
const slightLossDb = 1;
const badLossDb = 10;

/** Judges an analysed path and says why. */
export function judgePath(analysis: PathAnalysis, units: UnitSystem = 'metric'): PathVerdict {
  const { worst, diffractionDb, vegetationDb } = analysis;
  const lossDb = diffractionDb + vegetationDb;
  const say = (quantity: Quantity): string =>
    `${quantity.value.toFixed(quantity.unit === 'km' || quantity.unit === 'mi' ? 2 : 1)} ${quantity.unit}`;
  const at = say(lengthIn(units, worst.distanceM));
  const metres = (m: number): string => say(heightIn(units, m));
  const what = whatName(worst.what);
  const loss = lossDb < 0.5 ? 'under 0.5 dB' : `about ${lossDb.toFixed(0)} dB`;
  const verb = typeof worst.what !== 'string' && worst.what.kind === 'trees' ? ['take', 'stand'] : ['takes', 'stands'];
  const free = worst.zoneShare < 1 ? percent(worst.zoneShare) : 'all';
  const taken = `${verb[0]} ${percent(1 - worst.zoneShare)} of the zone: ${loss}`;
  const brief =
    worst.zoneShare >= targetZoneShare
      ? `clear: ${free} of the zone free at its tightest`
      : worst.clearanceM >= 0
        ? `${what} ${taken}`
        : `${what} ${verb[1]} above the sight line: ${loss}`;
  const headline =
    worst.zoneShare >= targetZoneShare
      ? `clear: the tightest point, ${what} at ${at}, leaves ${free} of the zone free`
      : worst.clearanceM >= 0
        ? `${what} at ${at} ${taken}`
        : `${what} at ${at} ${verb[1]} ${metres(-worst.clearanceM)} above the sight line: ${loss}`;
  const judged: State =
    lossDb >= badLossDb || worst.clearanceM < 0
      ? 'fails'
      : lossDb >= slightLossDb || worst.zoneShare < targetZoneShare
        ? 'thin'
        : 'holds';
  if (analysis.surface.terrainKnown || judged === 'fails') {
    return { state: judged, headline, brief, notes: notesOf(analysis, metres) };
  }
  // What is not known cannot hold.
  const unknown = 'no terrain is known: look along it';
  return {
    state: 'thin',
    headline: `${unknown}. Over a smooth Earth: ${headline}`,
    brief: judged === 'holds' ? unknown : `${unknown}; ${brief}`,
    notes: notesOf(analysis, metres),
  };
}

function whatName(what: PathAnalysis['worst']['what']): string {
  if (typeof what !== 'string') return nameOf(what);
  return what === 'bulge' ? "the Earth's bulge" : `the ${what}`;
}

function notesOf(analysis: PathAnalysis, metres: (m: number) => string): string[] {
  const { growth, transient, transientDb, subRefractive, surface, worst } = analysis;
  const notes: string[] = [];
  if (analysis.vegetationDb > 0) {
    notes.push(
      `Trees: ${analysis.vegetationDb.toFixed(1)} dB through ${metres(analysis.vegetationDepthM)} of leaves or over their tops, whichever loses less.`,
    );
  }
  if (growth?.intoZoneYear) {
    const name = nameOf(growth.trees);
    const block = growth.toSightLineYear ? `, and up to the sight line in ${growth.toSightLineYear}` : '';
    notes.push(`${capital(name)} grow into the zone in ${growth.intoZoneYear}${block}.`);
  }
  if (analysis.vegetationDoubt === 'tooDeep') {
    notes.push(
      `The trees are deeper than the ${metres(foliageLimits.depthM)} that the formula was fitted to: expect more loss than that.`,
    );
  }
  if (analysis.vegetationDoubt === 'tooLow') {
    notes.push(
      `The formula for trees begins at ${foliageLimits.leastMHz} MHz, so their loss is rather less than that.`,
    );
  }
  if (transient && transientDb >= 0.5) {
    notes.push(`While ${nameOf(transient)} stands there, ${transientDb.toFixed(0)} dB more are lost.`);
  }
  if (worst.clearanceM >= 0 && subRefractive.clearanceM < 0) {
    notes.push(
      `On days with little bending (k = 2/3) the sight line is blocked by ${metres(-subRefractive.clearanceM)}: expect fades, go higher.`,
    );
  }
  if (typeof worst.what !== 'string' && worst.what.confidence === 'estimated') {
    notes.push(`The height of ${nameOf(worst.what)} is only estimated: measure it before you rely on this.`);
  }
  if (!surface.terrainKnown) {
    notes.push(
      'Nothing is known of the ground but its height at both ends: a straight line over the curved Earth stands in for it.',
    );
  } else if (surface.voidShare > 0) {
    notes.push(`Terrain is unknown on ${percent(surface.voidShare)} of the path; straight lines stand in for it.`);
  }
  return notes;
}

function nameOf({ name, kind }: { name: string; kind: keyof typeof obstacleRules }): string {
  return name || `the ${obstacleRules[kind].words}`;
}

const percent = (share: number): string => `${Math.round(100 * share)} %`;
const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
