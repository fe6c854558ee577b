import { describe, expect, it } from 'vitest';
import { flatterSide, pointingOf, Unwrapped } from './phoneAttitude';

describe('where a phone points', () => {
  it('is what the compass example of the W3C specification gives for its back', () => {
    // W3C Device Orientation and Motion, worked example "compass heading"; its formula is quoted from memory.
    for (const [alphaDeg, betaDeg, gammaDeg] of [
      [30, 80, 10],
      [200, 95, -20],
      [300, 60, 30],
    ] as const) {
      const [x, y, z] = [betaDeg, gammaDeg, alphaDeg].map((deg) => (deg * Math.PI) / 180) as [number, number, number];
      const vx = -Math.cos(z) * Math.sin(y) - Math.sin(z) * Math.sin(x) * Math.cos(y);
      const vy = -Math.sin(z) * Math.sin(y) + Math.cos(z) * Math.sin(x) * Math.cos(y);
      let heading = Math.atan(vx / vy);
      if (vy < 0) heading += Math.PI;
      else if (vx < 0) heading += 2 * Math.PI;
      const azimuthDeg = pointingOf({ alphaDeg, betaDeg, gammaDeg }, 'back')?.azimuthDeg ?? NaN;
      expect((azimuthDeg + 360) % 360).toBeCloseTo((heading * 180) / Math.PI, 9);
    }
  });

  it('turns right as alpha falls, by as much, flat or upright, and tilts with gravity', () => {
    for (const [betaDeg, side] of [
      [0, 'top'],
      [20, 'top'],
      [90, 'back'],
      [110, 'back'],
    ] as const) {
      const at = (alphaDeg: number) => pointingOf({ alphaDeg, betaDeg, gammaDeg: 0 }, side);
      expect(at(350)?.azimuthDeg).toBeCloseTo((at(0)?.azimuthDeg ?? NaN) + 10, 9);
    }
    expect(pointingOf({ alphaDeg: 77, betaDeg: 12, gammaDeg: 0 }, 'top')?.tiltDeg).toBeCloseTo(12, 9);
    expect(pointingOf({ alphaDeg: 77, betaDeg: 97, gammaDeg: 0 }, 'back')?.tiltDeg).toBeCloseTo(7, 9);
  });

  it('is nothing near the zenith, and of two sides the flatter one counts', () => {
    expect(pointingOf({ alphaDeg: 0, betaDeg: 0, gammaDeg: 0 }, 'back')).toBeNull();
    expect(flatterSide({ alphaDeg: 0, betaDeg: 5, gammaDeg: 0 })).toBe('top');
    expect(flatterSide({ alphaDeg: 0, betaDeg: 88, gammaDeg: 0 })).toBe('back');
  });

  it('is counted on over north', () => {
    const turn = new Unwrapped();
    expect([350, 359, 5, 20, 355].map((deg) => turn.push(deg))).toEqual([0, 9, 15, 30, 5]);
  });
});
