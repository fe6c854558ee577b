import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { offBoresightLossDb } from './offBoresight';

const sector = { azimuthDeg: 90, elevationDeg: 8 };

describe('off the boresight, ITU-R F.1336-5 recommends 3.1.1', () => {
  it('loses nothing on it and 3 dB at half the beam width, on each plane', () => {
    expect(offBoresightLossDb(sector, 0, 0)).toBe(0);
    expect(offBoresightLossDb(sector, 45, 0)).toBeCloseTo(3, 9);
    expect(offBoresightLossDb(sector, -45, 0)).toBeCloseTo(3, 9);
    expect(offBoresightLossDb(sector, 0, 4)).toBeCloseTo(3, 9);
  });

  it('goes on without a step beyond that', () => {
    expect(offBoresightLossDb(sector, 45.001, 0)).toBeCloseTo(3, 2);
    // 12 x^1.3 + 3 (1 - 0.5^-0.7) at x = 1
    expect(offBoresightLossDb(sector, 90, 0)).toBeCloseTo(12 + 3 * (1 - 2 ** 0.7), 9);
  });

  it('never gains by turning further away, and has a floor behind', () => {
    const angle = fc.double({ min: 0, max: 180, noNaN: true });
    fc.assert(
      fc.property(angle, angle, (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)];
        expect(offBoresightLossDb(sector, more, 0)).toBeGreaterThanOrEqual(offBoresightLossDb(sector, less, 0));
        expect(offBoresightLossDb(sector, more, more)).toBeLessThan(35);
      }),
    );
  });

  it('an antenna for all directions has no boresight around', () => {
    const omni = { azimuthDeg: 360, elevationDeg: 10 };
    expect(offBoresightLossDb(omni, 137, 0)).toBe(0);
    expect(offBoresightLossDb(omni, 137, 5)).toBeCloseTo(3, 9);
  });
});
