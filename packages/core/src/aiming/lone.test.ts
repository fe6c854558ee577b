import { describe, expect, it } from 'vitest';
import { aimByEye } from './eye';
import { lonePlan } from './lone';

const eyeOf = (nearDeg: number, farDeg: number, distanceM = 800) => ({
  near: aimByEye({ azimuthDeg: nearDeg, elevationDeg: nearDeg }, distanceM),
  far: aimByEye({ azimuthDeg: farDeg, elevationDeg: farDeg }, distanceM),
});
const margins = { near: 30, far: 25 };

describe('somebody alone at both ends', () => {
  it('leaves the wide beam set by eye and goes once', () => {
    expect(lonePlan(eyeOf(6, 60), margins)).toMatchObject({ startAt: 'far', trips: 1 });
  });

  it('comes back to the first end where the eye is not enough at either', () => {
    const plan = lonePlan(eyeOf(6, 8), margins);
    expect(plan).toMatchObject({ startAt: 'far', trips: 2 });
    // Two rough ends cost what both eyes miss, off the weaker of both margins.
    const eye = eyeOf(6, 8);
    expect(plan.spareDb).toBeCloseTo(25 - eye.near.lossDb - eye.far.lossDb, 9);
    expect(lonePlan(eyeOf(60, 60, 5000), margins).trips, 'what cannot be seen is not aimed by eye').toBe(2);
  });

  it('stays where only one end is turned', () => {
    expect(lonePlan(eyeOf(60, 6), margins, ['far'])).toMatchObject({ startAt: 'far', trips: 0 });
  });

  it('may hear nothing with both ends rough', () => {
    expect(lonePlan(eyeOf(1.5, 1.5), { near: 10, far: 10 }).spareDb).toBeLessThan(0);
  });
});
