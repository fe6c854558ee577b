import { describe, expect, it } from 'vitest';
import { cableKinds, cableRunLossDb, connectorsLossDb, feederLossDb } from './cable';

const hundredFeetM = 30.48;

// ARRL Antenna Book, table of common transmission lines, 22nd edition chapter 23: solid polyethylene RG-58 and RG-213, dB in 100 ft, from memory. The curves go
// through 10 and 1000 MHz; the points between and below are the check.
describe('loss of cables', () => {
  it.each([
    ['rg58', 1, 0.4],
    ['rg58', 100, 4.9],
    ['rg213', 1, 0.2],
    ['rg213', 100, 2.1],
  ] as const)('%s at %d MHz takes %d dB in 100 ft', (kind, mHz, db) => {
    expect(Math.abs(cableRunLossDb({ kind, lengthM: hundredFeetM }, mHz) - db)).toBeLessThan(0.15);
  });

  it('rises with length and frequency, and a thicker cable takes less', () => {
    for (const mHz of [450, 2450, 5800]) {
      const losses = cableKinds.map((kind) => cableRunLossDb({ kind, lengthM: 10 }, mHz));
      expect(losses).toEqual([...losses].sort((a, b) => b - a));
      expect(cableRunLossDb({ kind: 'foam10', lengthM: 20 }, mHz)).toBeCloseTo(2 * (losses[2] ?? NaN), 9);
    }
    expect(() => cableRunLossDb({ kind: 'rg58', lengthM: -1 }, 450)).toThrow('at least 0 m');
  });

  it('a pair of N plugs takes 0.15 dB at 9 GHz (MIL-PRF-39012, from memory)', () => {
    expect(connectorsLossDb(1, 9000)).toBeCloseTo(0.15, 9);
  });

  it('all together are what lies between radio and antenna', () => {
    const cable = { kind: 'rg213', lengthM: 12, connectors: 2 } as const;
    expect(feederLossDb({ cableLossDb: 0.5, cable: null }, 460)).toBe(0.5);
    expect(feederLossDb({ cableLossDb: 0.5, cable }, 460)).toBeCloseTo(
      0.5 + cableRunLossDb(cable, 460) + connectorsLossDb(2, 460),
      9,
    );
  });
});
