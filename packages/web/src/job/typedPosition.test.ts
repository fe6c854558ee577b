import { describe, expect, it } from 'vitest';
import { typedPosition } from './typedPosition';

describe('a position in two fields', () => {
  it.each([
    ['33.412', '-37.8406'],
    ['33°24\'43.2"N', '37°50\'26.16"W'],
    ['33.412, -37.8406', ''],
    ['24 north 607803 3697563', ' '],
  ])('%s | %s', (latitude, longitude) => {
    const { position, errors } = typedPosition(latitude, longitude);
    expect(errors).toEqual({});
    expect(position?.latitudeDeg).toBeCloseTo(33.412, 4);
    expect(position?.longitudeDeg).toBeCloseTo(-37.8406, 4);
  });

  it('says at the field what is wrong', () => {
    expect(typedPosition('', '').errors).toEqual({
      latitude: expect.stringContaining('it is empty') as string,
      longitude: expect.stringContaining('it is empty') as string,
    });
    expect(typedPosition('33.4', '').errors).toEqual({ longitude: expect.stringContaining('it is empty') as string });
    expect(typedPosition('24S 607803 3697563', '').errors.latitude).toContain('write north or south');
    expect(typedPosition('harbour', '').errors.latitude).toContain('UTM like');
    expect(typedPosition('95', '10').errors.latitude).toContain('beyond 90');
  });
});
