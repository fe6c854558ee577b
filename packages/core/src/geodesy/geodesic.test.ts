import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { middleBearingDeg } from './bearing';
import { solveGeodesic, wrap180 } from './geodesic';
import { earthBulgeM, slantRangeM, tiltDeg } from './tilt';

describe('geodesics on WGS84', () => {
  // GeodTest.dat by C. F. F. Karney (doi 10.5281/zenodo.32156), line 1, from memory; and his example JFK to LHR in the library's manual.
  it('agrees with a published test line to a millimetre', () => {
    const line = solveGeodesic(
      { latitudeDeg: 36.530042355041, longitudeDeg: 0 },
      { latitudeDeg: -48.16427077909777, longitudeDeg: 5.76234469467651 },
    );
    expect(line.distanceM).toBeCloseTo(9398502.0434687, 3);
    expect(line.azimuthDeg).toBeCloseTo(176.125875162171, 9);
  });

  it('agrees with the worked example of the library: 40.6 N 73.8 W to 51.6 N 0.5 W', () => {
    const line = solveGeodesic({ latitudeDeg: 40.6, longitudeDeg: -73.8 }, { latitudeDeg: 51.6, longitudeDeg: -0.5 });
    expect(line.distanceM / 1000).toBeCloseTo(5551.759, 3);
  });

  it('gives one degree of the equator as a 360th of its length', () => {
    const line = solveGeodesic({ latitudeDeg: 0, longitudeDeg: 0 }, { latitudeDeg: 0, longitudeDeg: 1 });
    expect(line.distanceM).toBeCloseTo((2 * Math.PI * 6378137) / 360, 6); // WGS84 semi-major axis
    expect(line.azimuthDeg).toBeCloseTo(90, 9);
    expect(line.reverseAzimuthDeg).toBeCloseTo(270, 9);
  });

  it('wraps angles', () => {
    expect(wrap180(190)).toBe(-170);
    expect(wrap180(-190)).toBe(170);
  });
});

describe('tilt and bulge', () => {
  it('bulges 1.47 m in the middle of 10 km at k = 4/3 (geometry, mean radius 6371 km)', () => {
    expect(earthBulgeM(5000, 5000)).toBeCloseTo(1.47, 2);
  });

  it('looks down a little at both ends of a level link, by half the central angle', () => {
    // 10 km over 8495 km of effective radius: 0.0674 degrees of arc
    const tilt = tiltDeg(50, 50, 10_000);
    expect(tilt).toBeCloseTo(-0.0337, 3);
    // From a higher end down and from the lower one up: together they still make up the whole central angle.
    expect(tiltDeg(80, 50, 10_000) + tiltDeg(50, 80, 10_000)).toBeCloseTo(-0.0674, 3);
  });

  it('is the plain angle over a short distance', () => {
    expect(tiltDeg(10, 20, 100)).toBeCloseTo((Math.atan(0.1) * 180) / Math.PI, 2);
    expect(slantRangeM(10, 20, 100)).toBeCloseTo(Math.hypot(100, 10), 2);
  });
});

describe('the middle of several bearings', () => {
  it.each([
    [[10, 50], 30],
    [[350, 20], 5],
    [[350, 20, 30], 10],
    [[90], 90],
    [[0, 110, 240, 250], 355],
  ])('%j is %d', (bearings, middle) => {
    expect(middleBearingDeg(bearings)).toBeCloseTo(middle, 9);
  });

  it('of none is none', () => {
    expect(middleBearingDeg([])).toBeNaN();
  });

  it('is no further from any of them than half of what they span, and turns with them', () => {
    const bearing = fc.double({ min: 0, max: 360, noNaN: true });
    fc.assert(
      fc.property(fc.array(bearing, { minLength: 1, maxLength: 6 }), bearing, (bearings, turnDeg) => {
        const middle = middleBearingDeg(bearings);
        const reach = Math.max(...bearings.map((b) => Math.abs(wrap180(b - middle))));
        expect(reach).toBeLessThanOrEqual(180);
        const turned = middleBearingDeg(bearings.map((b) => b + turnDeg));
        const turnedReach = Math.max(...bearings.map((b) => Math.abs(wrap180(b + turnDeg - turned))));
        expect(turnedReach).toBeCloseTo(reach, 6);
      }),
    );
  });
});
