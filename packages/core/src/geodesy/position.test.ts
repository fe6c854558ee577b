import { describe, expect, it } from 'vitest';
import { CoordinateError } from './coordinates';
import { magneticBearingDeg, magneticDeclination } from './declination';
import { geodesicPositions, positionAt, solveGeodesic } from './geodesic';
import { formatUtm, fromUtm, parsePosition, toUtm } from './utm';

describe('a position typed in one line', () => {
  it.each([
    ['33.412, -37.8406', 33.412, -37.8406],
    ['33.412 -37.8406', 33.412, -37.8406],
    ['33,412; -37,8406', 33.412, -37.8406],
    ['33,412 -37,8406', 33.412, -37.8406],
    ['33,412, -37,8406', 33.412, -37.8406],
    ['33.412,-37.8406', 33.412, -37.8406],
    ['33°24\'43.2"N 37°50\'26.2"W', 33.412, -37.84061],
    ['33 24 43.2 N, 37 50 26.2 W', 33.412, -37.84061],
    // The reference values are PROJ's, by gdaltransform -s_srs EPSG:32625 -t_srs EPSG:4326 and EPSG:32756.
    ['25 north 421870 3697420', 33.413278, -33.840295],
    ['25T 421870 3697420', 33.413278, -33.840295],
    ['56 south 334873 6252266', -33.857001, 151.214998],
    ['56H 334873mE 6252266mN', -33.857001, 151.214998],
  ])('%s', (text, latitudeDeg, longitudeDeg) => {
    const position = parsePosition(text);
    expect(position.latitudeDeg).toBeCloseTo(latitudeDeg, 5);
    expect(position.longitudeDeg).toBeCloseTo(longitudeDeg, 5);
  });

  it.each([
    ['25S 421870 3697420', 'S may mean'],
    ['61 north 421870 3697420', 'no zone 61'],
    ['25 421870 3697420', 'north or south'],
    ['25 north 21870 3697420', 'easting of 21870'],
    ['25 north 421870 36974200', 'northing of 36974200'],
    ['harbour', '"harbour" is no position'],
    ['33,41', 'may be one number or two'],
    ['-33,41', 'may be one number or two'],
    ['', 'is no position'],
    ['95.0, 3', 'beyond 90'],
    ['33 61 0 N 37 0 0 W', '61 minutes are more than 59'],
  ])('%s is refused with a repair', (text, words) => {
    expect(() => parsePosition(text)).toThrow(CoordinateError);
    expect(() => parsePosition(text)).toThrow(words);
  });

  it('goes to UTM and back within a millimetre, also south and in odd zones', () => {
    for (const position of [
      { latitudeDeg: 33.412, longitudeDeg: -37.8406 },
      { latitudeDeg: -0.001, longitudeDeg: 179.999 },
      { latitudeDeg: 79.9, longitudeDeg: -180 },
    ]) {
      const back = fromUtm(toUtm(position));
      expect(solveGeodesic(position, back).distanceM).toBeLessThan(1e-3);
    }
    expect(formatUtm({ latitudeDeg: 33.412, longitudeDeg: -37.8406 })).toMatch(/^24 north \d{6} \d{7}$/);
  });
});

describe('along a geodesic', () => {
  const near = { latitudeDeg: 33.412, longitudeDeg: -37.8406 };
  const far = { latitudeDeg: 33.6, longitudeDeg: -37.4 };

  it('steps evenly from end to end', () => {
    const positions = geodesicPositions(near, far, 11);
    const whole = solveGeodesic(near, far).distanceM;
    positions.forEach((p, i) => expect(solveGeodesic(near, p).distanceM).toBeCloseTo((whole * i) / 10, 6));
    expect(positions[10]?.latitudeDeg).toBeCloseTo(far.latitudeDeg, 10);
  });

  it('arrives where the inverse problem started', () => {
    const { azimuthDeg, distanceM } = solveGeodesic(near, far);
    expect(solveGeodesic(positionAt(near, azimuthDeg, distanceM), far).distanceM).toBeLessThan(1e-6);
  });
});

describe('the magnetic needle', () => {
  // Test values of the WMM2025 report (NOAA / BGS, December 2024) at 2025.0 on the ellipsoid; from memory, confirmed by the model's library.
  it.each([
    [80, 0, 1.28],
    [0, 120, -0.16],
    [-80, 240, 68.78],
  ])('at %f, %f declines %f degrees', (latitudeDeg, longitudeDeg, declinationDeg) => {
    const found = magneticDeclination(
      { latitudeDeg, longitudeDeg: longitudeDeg > 180 ? longitudeDeg - 360 : longitudeDeg },
      0,
      '2025-01-01',
    );
    expect(found.declinationDeg).toBeCloseTo(declinationDeg, 1);
    expect(found.valid).toBe(true);
  });

  it('says when a date is beyond the model, and what is no date', () => {
    const place = { latitudeDeg: 33.4, longitudeDeg: -37.8 };
    expect(magneticDeclination(place, 0, '2031-06-01').valid).toBe(false);
    // The model's years, not those of its release on 13 November 2024.
    expect(magneticDeclination(place, 0, '2024-12-20').valid).toBe(false);
    expect(magneticDeclination(place, 0, '2029-12-30').valid).toBe(true);
    expect(magneticDeclination(place, 0, '2030-01-01').valid).toBe(false);
    expect(() => magneticDeclination(place, 0, 'spring')).toThrow('no date');
  });

  it('goes on evenly to the last day of the model', () => {
    const place = { latitudeDeg: 33.4, longitudeDeg: -37.8 };
    const at = (date: string) => magneticDeclination(place, 0, date).declinationDeg;
    const perDay = (at('2029-11-10') - at('2029-08-10')) / 92;
    expect(at('2029-12-31') - at('2029-11-10')).toBeCloseTo(51 * perDay, 3);
    expect(at('2029-12-31')).not.toBe(at('2029-11-12'));
  });

  it('turns true bearings into compass bearings', () => {
    expect(magneticBearingDeg(10, 12.5)).toBeCloseTo(357.5, 10);
    expect(magneticBearingDeg(350, -12.5)).toBeCloseTo(2.5, 10);
  });
});
