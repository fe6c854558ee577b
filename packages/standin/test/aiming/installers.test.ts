import { diagnosePeak } from '@kivram/core/aiming/diagnosis';
import { describe, expect, it } from 'vitest';
import { runTrial } from '../../src/world/trial';
import { median, setup, trials } from './trials';

describe('simulated installers who follow the guide', () => {
  it.each([
    ['panel', 'phone', 0.3],
    ['panel', 'scale', 0.3],
    ['dish', 'phone', 0.3],
    ['dish', 'scale', 0.3],
    ['panel', 'none', 0.5],
    ['dish', 'none', 0.5],
  ] as const)('%s, angle by %s: end on the peak', (kind, source, mostDb) => {
    const results = Array.from({ length: trials }, (_, seed) => runTrial(setup(kind, source), 500 + seed));
    expect(results.every((r) => r.finished)).toBe(true);
    expect(median(results.map((r) => r.lossDb))).toBeLessThan(mostDb);
  });

  it('a stop that is felt just as the words turn round is not the end of the way back', () => {
    const stopped = { ...setup('dish', 'none'), sheetSpread: 0.1, stopsWidths: [-7, 2] as const, startWidths: 2 };
    for (const seed of [6, 15, 48]) expect(runTrial(stopped, seed).lossDb, `seed ${seed}`).toBeLessThan(2);
  });

  it('a lobe that lies where the search ends is swept to its far flank', () => {
    const far = { ...setup('dish', 'phone'), sheetSpread: 0.1, startWidths: 5 };
    expect(runTrial(far, 45).lossDb).toBeLessThan(1);
  });

  it('nor does a first stroke through scatter send the way back past the peak, where time alone tells it', () => {
    const slowMeter = { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } };
    const byTime = { ...setup('dish', 'none'), sheetSpread: 0.1, conditions: slowMeter };
    for (const seed of [6121, 6162]) expect(runTrial(byTime, seed).lossDb, `seed ${seed}`).toBeLessThan(2);
  });

  it('and a pull is told by the strokes after it: bolts that would cost 4 dB cost less than 1', () => {
    const pulled = {
      ...setup('dish', 'phone'),
      conditions: { bolts: { pulledWidths: [0.6, 0.6] as const, seconds: 3 } },
    };
    const { steps } = runTrial(pulled, 3);
    expect(steps.length).toBeGreaterThan(1);
    expect(steps.every((s) => (s.outcome?.shortDb ?? 0) < 1)).toBe(true);
  });

  it('and are told "path not clear" when 8 dB of trees stand in it, without losing the peak', () => {
    for (let seed = 0; seed < 6; seed++) {
      const result = runTrial({ ...setup('dish', 'phone'), conditions: { obstructionDb: 8 } }, 900 + seed);
      expect(result.lossDb).toBeLessThan(1);
      const sweeps = result.steps.map(({ axis, points }) => ({ axis, points, beamWidthDeg: 6 }));
      const found = diagnosePeak({ peakDbm: result.levelDbm, expectedDbm: result.expectedDbm, sweeps });
      expect(found.diagnosis).toBe('obstructed');
    }
  });
});
