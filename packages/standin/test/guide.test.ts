import { diagnosePeak, type AngleSource } from '@kivram/core';
import { describe, expect, it } from 'vitest';
import { runTrial, type TrialSetup } from '../src';

const trials = 24;
const setup = (aperture: 'dish' | 'panel', source: AngleSource): TrialSetup => ({
  aperture,
  beamDeg: aperture === 'dish' ? 6 : 30,
  source,
  notchDeg: aperture === 'dish' ? 1 : 5,
  playDeg: 0.5,
  startWidths: 3,
  levelled: true,
});
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

describe('simulated installers who follow the guide', () => {
  it.each([
    ['panel', 'phone', 0.1],
    ['panel', 'scale', 0.1],
    ['dish', 'phone', 0.15],
    ['dish', 'scale', 0.15],
    ['panel', 'none', 0.45],
    ['dish', 'none', 0.45],
  ] as const)('%s, angle by %s: end on the peak', (aperture, source, mostDb) => {
    const results = Array.from({ length: trials }, (_, seed) => runTrial(setup(aperture, source), 500 + seed));
    expect(results.every((r) => r.finished)).toBe(true);
    expect(median(results.map((r) => r.lossDb))).toBeLessThan(mostDb);
  });

  it('and are told "path not clear" when 8 dB of trees stand in it, without losing the peak', () => {
    for (let seed = 0; seed < 6; seed++) {
      const result = runTrial({ ...setup('dish', 'phone'), conditions: { obstructionDb: 8 } }, 900 + seed);
      expect(result.lossDb).toBeLessThan(1);
      const last = result.steps.filter((s) => s.axis === 'azimuth').at(-1);
      const found = diagnosePeak({
        peakDbm: -56.2,
        expectedDbm: result.expectedDbm,
        points: last?.points ?? [],
        beamWidthDeg: 6,
      });
      expect(found.diagnosis).toBe('obstructed');
    }
  });
});
