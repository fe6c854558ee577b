import { clearWithinDb } from '../aiming/diagnosis';
import type { LedgerLine } from '../budget/ledger';
import { otherEnd, type LinkPlan, type RadioPlan } from '../budget/plan';
import { predictLink } from '../budget/prediction';
import type { InstrumentSetup } from './setup';

export interface InstrumentPrediction {
  /** what the analyser should show in the band */
  levelDbm: number;
  ledger: LedgerLine[];
  /** what the analyser shows of itself in the band */
  noiseDbm: number;
  /** by how much that noise raises what is shown */
  raisedDb: number;
  /** what comes is more than the input bears */
  isTooStrong: boolean;
}

/** Noise that raises the level by more than this takes too much of the three decibels that are judged by. */
const mostRaisedDb = 1;

/**
 * Predicts what the analyser shows: the same path as for the radios, with the antennas, cables and power of the instruments. The signal lies within the band, so that
 * its whole power is read.
 * @throws RangeError as predictLink does
 */
export function predictInstruments(plan: LinkPlan, setup: InstrumentSetup): InstrumentPrediction {
  const analyserAt = otherEnd(setup.generatorAt);
  const instrument = (radio: RadioPlan, name: string, gainDbi: number, cableLossDb: number): RadioPlan => ({
    ...radio,
    role: 'access',
    conductedDbm: setup.generatorDbm,
    cableLossDb,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    azimuthDeg: null,
    tiltDeg: null,
    model: { ...radio.model, name, antennaGainDbi: gainDbi, pattern: undefined },
  });
  const ends = {
    [setup.generatorAt]: instrument(
      plan[setup.generatorAt],
      'the generator’s antenna',
      setup.generatorGainDbi,
      setup.generatorCableDb,
    ),
    [analyserAt]: instrument(plan[analyserAt], 'the analyser’s antenna', setup.analyserGainDbi, setup.analyserCableDb),
  } as Pick<LinkPlan, 'near' | 'far'>;
  const air = { ...plan.air, kind: 'pair' as const, centreMHz: setup.frequencyMHz, returnMHz: null };
  const received = predictLink({ ...plan, ...ends, air })[analyserAt];
  const noiseDbm = setup.analyserNoiseDbmPerHz + 10 * Math.log10(setup.bandMHz * 1e6);
  return {
    levelDbm: received.rslDbm,
    ledger: received.ledger,
    noiseDbm,
    raisedDb: 10 * Math.log10(1 + 10 ** ((noiseDbm - received.rslDbm) / 10)),
    isTooStrong: received.rslDbm > setup.analyserMostDbm,
  };
}

/** `none`: nothing was measured, so nothing is judged. */
export const instrumentVerdicts = ['none', 'noise', 'clear', 'short', 'over'] as const;
export type InstrumentVerdict = (typeof instrumentVerdicts)[number];

export interface InstrumentJudgement {
  verdict: InstrumentVerdict;
  /** the readings together, as power */
  measuredDbm: number | null;
  /** how far it is short of the prediction */
  shortDb: number | null;
  words: string;
}

/** Judges readings of the analyser: within 3 dB of the prediction the path is clear (common practice, no source). */
export function judgeInstruments(
  readingsDbm: readonly number[],
  { levelDbm, raisedDb, noiseDbm }: InstrumentPrediction,
  { averages }: Pick<InstrumentSetup, 'averages'>,
): InstrumentJudgement {
  if (readingsDbm.length < averages) {
    const left = averages - readingsDbm.length;
    return {
      verdict: 'none',
      measuredDbm: null,
      shortDb: null,
      words: `Nothing is judged yet: ${left} reading${left > 1 ? 's are' : ' is'} missing.`,
    };
  }
  const measuredDbm = 10 * Math.log10(readingsDbm.reduce((sum, dbm) => sum + 10 ** (dbm / 10), 0) / readingsDbm.length);
  const shortDb = levelDbm - measuredDbm;
  const of = (verdict: InstrumentVerdict, words: string): InstrumentJudgement => ({
    verdict,
    measuredDbm,
    shortDb,
    words,
  });
  if (raisedDb > mostRaisedDb)
    return of(
      'noise',
      `The analyser’s own noise in the band (${noiseDbm.toFixed(1)} dBm) hides the level: more power or gain, or a narrower band, before anything can be said.`,
    );
  if (shortDb > clearWithinDb)
    return of(
      'short',
      `${shortDb.toFixed(1)} dB short of the prediction: something stands in the path, a side lobe was taken, the polarisation is crossed, or a cable or gain is not what was typed.`,
    );
  if (shortDb < -clearWithinDb)
    return of(
      'over',
      `${(-shortDb).toFixed(1)} dB more than can be: look again at power, gains and cables, and whether another sender is in the band.`,
    );
  return of(
    'clear',
    `Within 3 dB of the prediction (${Math.abs(shortDb).toFixed(1)} dB ${shortDb >= 0 ? 'under' : 'over'} it): the path is clear.`,
  );
}

/** The procedure, to be ticked; figures are those of the setup. */
export function instrumentSteps(setup: InstrumentSetup, { levelDbm }: InstrumentPrediction): string[] {
  const { generatorAt, frequencyMHz, generatorDbm, spanMHz, bandMHz, averages } = setup;
  const analyserAt = otherEnd(generatorAt);
  return [
    `At the ${generatorAt} end: set the generator to ${frequencyMHz} MHz and ${generatorDbm} dBm, its output off.`,
    'Connect its antenna, output still off: nobody in front of it when it sends.',
    `At the ${analyserAt} end: connect the analyser’s antenna, in the same polarisation.`,
    'Point both roughly: by compass and tilt, as for the radios.',
    `Set the analyser to ${frequencyMHz} MHz, the span to its minimum that holds the band: ${spanMHz} MHz.`,
    `Set it to read the power within a band of ${bandMHz} MHz, and to average ${averages} readings.`,
    'Switch the generator’s output on. Nothing to be seen: the other way of polarisation, then the frequency.',
    `Turn the antenna at the ${analyserAt} end left and right through the maximum and out on the other side, back to it, lock.`,
    'The same up and down.',
    `The same with the antenna at the ${generatorAt} end, left and right, then up and down.`,
    'Read again after everything is locked: tightening moves it.',
    `Type ${averages} readings: ${levelDbm.toFixed(1)} dBm are predicted. Switch the output off before anything is unscrewed.`,
  ];
}
