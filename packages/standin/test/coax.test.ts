import { cableKinds, cableRunLossDb, connectorsLossDb } from '@kivram/core/gear/cable';
import { describe, expect, it } from 'vitest';
import { coaxLossDb } from '../src/world/coax';

describe("the stand-in's coax", () => {
  it('and the prediction agree within a sixth over the bands of the trade, though they share no figure', () => {
    for (const kind of cableKinds) {
      for (const mHz of [150, 460, 900, 2450, 5800]) {
        const run = { kind, lengthM: 30, connectors: 0 };
        const ratio = coaxLossDb(run, mHz) / cableRunLossDb(run, mHz);
        expect(ratio, `${kind} at ${mHz} MHz`).toBeGreaterThan(0.84);
        expect(ratio, `${kind} at ${mHz} MHz`).toBeLessThan(1.19);
      }
    }
  });

  it('goes on beyond its table, and its plugs are near those of the prediction', () => {
    const run = { kind: 'rg213' as const, lengthM: 10, connectors: 0 };
    expect(coaxLossDb(run, 8000)).toBeGreaterThan(coaxLossDb(run, 6000));
    expect(coaxLossDb(run, 60)).toBeLessThan(coaxLossDb(run, 100));
    const plugs = coaxLossDb({ ...run, lengthM: 0, connectors: 2 }, 5800);
    expect(Math.abs(plugs - connectorsLossDb(2, 5800))).toBeLessThan(0.1);
  });
});
