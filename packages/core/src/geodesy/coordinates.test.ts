import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CoordinateError, formatDms, parseCoordinate } from './coordinates';

describe('coordinates as people write them', () => {
  it.each([
    ['48.20849', 'latitude', 48.20849],
    ['48,20849', 'latitude', 48.20849],
    ['-37.8406', 'longitude', -37.8406],
    ['−37.8406', 'longitude', -37.8406],
    ['37.8406 W', 'longitude', -37.8406],
    ['N 48 12 30.6', 'latitude', 48 + 12 / 60 + 30.6 / 3600],
    [`48°12'30.6"N`, 'latitude', 48 + 12 / 60 + 30.6 / 3600],
    ['48° 12.51′ S', 'latitude', -(48 + 12.51 / 60)],
    ['-0 30', 'latitude', -0.5],
  ] as const)('reads %s', (text, axis, degrees) => {
    expect(parseCoordinate(text, axis)).toBeCloseTo(degrees, 9);
  });

  it.each([
    ['', 'empty'],
    ['91', 'beyond 90'],
    ['48 61 0', '61 minutes'],
    ['48 12 75', '75 seconds'],
    ['48.5 30', 'only the last number'],
    ['-48 N', 'both a sign and a letter'],
    ['48 E', 'does not belong'],
    ['forty', 'more than one letter'],
    ['48x', 'does not belong'],
    ['1 2 3 4', 'one to three numbers'],
  ])('refuses "%s" and says why', (text, why) => {
    expect(() => parseCoordinate(text, 'latitude')).toThrow(CoordinateError);
    expect(() => parseCoordinate(text, 'latitude')).toThrow(why);
  });

  it('reads back what it writes, to a tenth of a second', () => {
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), (degrees) => {
        expect(Math.abs(parseCoordinate(formatDms(degrees, 'longitude'), 'longitude') - degrees)).toBeLessThanOrEqual(
          0.05001 / 3600,
        );
      }),
    );
  });
});
