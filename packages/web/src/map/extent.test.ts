import type { Position } from '@kivram/core/geodesy/coordinates';
import { describe, expect, it } from 'vitest';
import { extentOf, longitudeBeside } from './extent';

const at = (latitudeDeg: number, longitudeDeg: number) => ({ latitudeDeg, longitudeDeg });

function lie(corners: [Position, Position] | null, ...wanted: [Position, Position]): void {
  wanted.forEach((corner, i) => {
    expect(corners?.[i]?.latitudeDeg).toBeCloseTo(corner.latitudeDeg, 9);
    expect(corners?.[i]?.longitudeDeg).toBeCloseTo(corner.longitudeDeg, 9);
  });
}

describe('what a map shows at first', () => {
  it('is where the places are', () => {
    const { corners, astray } = extentOf([at(33.4, -37.9), at(33.5, -37.8), at(33.45, -37.85)]);
    lie(corners, at(33.4, -37.9), at(33.5, -37.8));
    expect(astray).toEqual([]);
  });

  it('leaves out one whose coordinates were swapped, and names it', () => {
    const swapped = at(-37.84, 33.41);
    const { corners, astray } = extentOf([at(33.4, -37.9), at(33.5, -37.8), swapped, at(33.45, -37.85)]);
    lie(corners, at(33.4, -37.9), at(33.5, -37.8));
    expect(astray.map((a) => a.place)).toEqual([swapped]);
    expect(astray[0]?.distanceM).toBeGreaterThan(5e6);
  });

  it('keeps places that lie apart on purpose', () => {
    expect(extentOf([at(33.4, -37.9), at(33.7, -37.9), at(34, -37.9)]).astray).toEqual([]);
  });

  it('does not go round the world where places lie on both sides of the antimeridian', () => {
    const { corners, centreDeg } = extentOf([at(-17, 179.9), at(-17.1, -179.9)]);
    const [west, east] = corners ?? [];
    expect((east?.longitudeDeg ?? 0) - (west?.longitudeDeg ?? 0)).toBeCloseTo(0.2, 9);
    expect(longitudeBeside(-179.9, centreDeg) - longitudeBeside(179.9, centreDeg)).toBeCloseTo(0.2, 9);
  });

  it('is nothing in particular without places', () => {
    expect(extentOf([]).corners).toBeNull();
  });
});
