import { describe, expect, it } from 'vitest';
import { instrumentSteps, judgeInstruments, predictInstruments } from './school';
import { usualSetup, faultsOf } from './setup';
import { planOf as plan } from '../../test/plans';

const setup = { ...usualSetup(5800, 10), generatorDbm: 0 };

describe('a signal generator and an analyser', () => {
  it('show what ITU-R P.525 leaves over 1 km at 5800 MHz: 0 - 1 + 10 - 107.72 + 10 - 1 dBm', () => {
    const { levelDbm, ledger } = predictInstruments(plan(), setup);
    expect(levelDbm).toBeCloseTo(-89.72, 1);
    expect(ledger.some(({ source }) => source.includes('analyser'))).toBe(true);
  });

  it('show the same whichever end sends, and less with lossy cables', () => {
    const at = (changes: object): number => predictInstruments(plan(), { ...setup, ...changes }).levelDbm;
    expect(at({ generatorAt: 'near' })).toBeCloseTo(at({}), 9);
    expect(at({ analyserCableDb: 4 })).toBeCloseTo(at({}) - 3, 9);
    expect(at({ frequencyMHz: 2900 })).toBeGreaterThan(at({}) + 6);
  });

  it('read noise of their own: -150 dBm in one hertz are -84 dBm in 4 MHz', () => {
    const { noiseDbm, raisedDb } = predictInstruments(plan(), setup);
    expect(noiseDbm).toBeCloseTo(-83.98, 2);
    expect(raisedDb).toBeGreaterThan(5);
    expect(predictInstruments(plan(), { ...setup, generatorDbm: 20 }).raisedDb).toBeLessThan(0.2);
  });

  it('bear no more than they bear', () => {
    const near = { ...setup, generatorDbm: 30, generatorGainDbi: 40, analyserGainDbi: 40, analyserMostDbm: -20 };
    expect(predictInstruments(plan(), near).isTooStrong).toBe(true);
  });

  it('are read over a span that holds the band', () => {
    expect(faultsOf(setup)).toEqual([]);
    expect(faultsOf({ ...setup, spanMHz: 2 })[0]).toContain('does not hold the band');
  });
});

describe('the verdict', () => {
  const prediction = { levelDbm: -60, ledger: [], noiseDbm: -90, raisedDb: 0.01, isTooStrong: false };
  const judge = (readings: number[], changes = {}) =>
    judgeInstruments(readings, { ...prediction, ...changes }, { averages: 2 });

  it('is none before as many readings are there as are averaged', () => {
    expect(judge([])).toMatchObject({ verdict: 'none', measuredDbm: null });
    expect(judge([-60]).words).toContain('1 reading is missing');
  });

  it('is clear within 3 dB, and says more than 3 dB either way', () => {
    expect(judge([-62, -63.5]).verdict).toBe('clear');
    expect(judge([-64, -64]).verdict).toBe('short');
    expect(judge([-56, -56]).verdict).toBe('over');
    expect(judge([-60, -60], { raisedDb: 2 }).verdict).toBe('noise');
  });

  it('averages powers: -60 and -70 dBm are -62.6 dBm', () => {
    expect(judge([-60, -70]).measuredDbm).toBeCloseTo(-62.6, 1);
  });
});

it('the procedure has twelve steps, with the figures of the setup', () => {
  const steps = instrumentSteps(setup, predictInstruments(plan(), setup));
  expect(steps).toHaveLength(12);
  expect(steps.join(' ')).toContain('-89.7 dBm are predicted');
});
