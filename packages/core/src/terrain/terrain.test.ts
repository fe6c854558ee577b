import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { crsOf } from './crs';
import { bilinearHeightM, cellAt, cellSizeM, covers, type GridFrame } from './grid';
import { hillshade } from './hillshade';
import { cellAround, fromMercator, mercatorScale, toMercator } from './mercator';
import { bridgedGroundM, profilePositions, voidShare } from './profile';
import { positionAt, solveGeodesic } from '../geodesy/geodesic';

describe('coordinate reference systems', () => {
  it.each([
    [4326, 'WGS84 geographic'],
    [4258, 'ETRS89 geographic'],
    [4269, 'NAD83 geographic'],
    [32624, 'WGS84 UTM zone 24 north'],
    [32756, 'WGS84 UTM zone 56 south'],
    [25832, 'ETRS89 UTM zone 32 north'],
    [26910, 'NAD83 UTM zone 10 north'],
  ])('EPSG:%i is %s, there and back within a millimetre', (epsg, name) => {
    const crs = crsOf(epsg);
    expect(crs.name).toBe(name);
    const zone = crs.kind === 'utm' ? epsg % 100 : 31;
    const position = { latitudeDeg: name.includes('south') ? -33.4 : 48.2, longitudeDeg: -183 + 6 * zone + 1.7 };
    const { x, y } = crs.fromPosition(position);
    expect(solveGeodesic(position, crs.toPosition(x, y)).distanceM).toBeLessThan(1e-3);
  });

  it.each([3857, 32600, 32661, 25820, 26924, 27700, 0, -1, 1.5])('EPSG:%d is refused with the repair', (epsg) => {
    expect(() => crsOf(epsg)).toThrow(RangeError);
    expect(() => crsOf(epsg)).toThrow('gdalwarp -t_srs EPSG:4326');
  });
});

const frame = (changes: Partial<GridFrame> = {}): GridFrame => ({
  crs: crsOf(32624),
  columns: 5,
  rows: 4,
  westX: 500_000,
  northY: 3_700_000,
  cellX: 10,
  cellY: 20,
  ...changes,
});

describe('a grid', () => {
  it('counts cells from the centre of the north-west one and covers half a cell more', () => {
    expect(cellAt(frame(), 500_015, 3_699_970)).toEqual({ column: 1.5, row: 1.5 });
    expect(covers(frame(), -0.5, 3.5)).toBe(true);
    expect(covers(frame(), -0.51, 0)).toBe(false);
    expect(covers(frame(), 4.51, 0)).toBe(false);
  });

  it("knows its cells' size on the ground", () => {
    expect(cellSizeM(frame())).toEqual({ widthM: 10, heightM: 20 });
    const arcSecond = frame({ crs: crsOf(4326), westX: -38, northY: 60.0005, cellX: 1 / 3600, cellY: 1 / 3600 });
    const { widthM, heightM } = cellSizeM(arcSecond);
    // One arc second at 60 degrees north: 15.5 m by 30.95 m (WGS84).
    expect(widthM).toBeCloseTo(15.5, 1);
    expect(heightM).toBeCloseTo(30.95, 1);
  });

  const plane = (c: number, r: number): number => 100 + 3 * c - 2 * r;
  const hole = (c: number, r: number): number => (c === 2 && r === 1 ? NaN : plane(c, r));
  const size = { columns: 5, rows: 4 };

  it('is exact on a plane everywhere between its centres', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 4, noNaN: true }), fc.double({ min: 0, max: 3, noNaN: true }), (c, r) => {
        expect(bilinearHeightM(size, plane, c, r)).toBeCloseTo(plane(c, r), 9);
      }),
    );
  });

  it('keeps its edge heights in the outer half cell, and ends there', () => {
    expect(bilinearHeightM(size, plane, -0.4, 0)).toBe(100);
    expect(bilinearHeightM(size, plane, 4.4, 3.4)).toBe(plane(4, 3));
    expect(bilinearHeightM(size, plane, -0.6, 0)).toBeNaN();
    expect(bilinearHeightM({ columns: 1, rows: 1 }, () => 7, 0, 0)).toBe(7);
  });

  it('is void where the nearest cell is, and carried by the others beside it', () => {
    expect(bilinearHeightM(size, hole, 2, 1)).toBeNaN();
    expect(bilinearHeightM(size, hole, 2.4, 1.3)).toBeNaN();
    const beside = bilinearHeightM(size, hole, 1.3, 1);
    expect(beside).toBeCloseTo(plane(1, 1), 9);
    const three = bilinearHeightM(size, hole, 1.4, 0.4);
    expect(three).toBeGreaterThan(95);
    expect(three).toBeLessThan(110);
  });
});

describe('web Mercator', () => {
  it('goes there and back, and is EPSG:3857 (PROJ: -37.8406, 33.412 is -4212396.323, 3950118.630)', () => {
    const { x, y } = toMercator({ latitudeDeg: 33.412, longitudeDeg: -37.8406 });
    expect(x).toBeCloseTo(-4212396.323, 2);
    expect(y).toBeCloseTo(3950118.63, 2);
    const back = fromMercator(x, y);
    expect(back.latitudeDeg).toBeCloseTo(33.412, 10);
  });

  it('tells what a projected metre is on the ground, both ways', () => {
    const here = { latitudeDeg: 33.412, longitudeDeg: -37.8406 };
    const { x, y } = toMercator(here);
    const { east, north } = mercatorScale(here.latitudeDeg);
    expect(solveGeodesic(here, fromMercator(x + 100, y)).distanceM).toBeCloseTo(100 * east, 2);
    expect(solveGeodesic(here, fromMercator(x, y + 100)).distanceM).toBeCloseTo(100 * north, 2);
  });

  it('finds the cell of a window a position lies in', () => {
    const here = { latitudeDeg: 33.412, longitudeDeg: -37.8406 };
    const { x, y } = toMercator(here);
    const window = { west: x - 30, north: y + 20, cell: 10, columns: 7, rows: 5 };
    expect(cellAround(window, here)).toBe(2 * 7 + 3);
    expect(cellAround(window, positionAt(here, 90, 100))).toBeNull();
  });
});

describe('a profile', () => {
  const near = { latitudeDeg: 33.4, longitudeDeg: -37.8 };
  it('has two samples a cell, within limits', () => {
    expect(profilePositions(near, positionAt(near, 70, 3000), 30).positions).toHaveLength(201);
    expect(profilePositions(near, positionAt(near, 70, 30), 30).positions).toHaveLength(101);
    expect(profilePositions(near, positionAt(near, 70, 90_000), 5).positions).toHaveLength(2001);
  });

  it('bridges gaps by straight lines, and holds the last known height at its ends', () => {
    const profile = { distanceM: 700, groundM: [null, 10, null, null, 16, null, 4, null] };
    expect(bridgedGroundM(profile)).toEqual([10, 10, 12, 14, 16, 10, 4, 4]);
    expect(voidShare(profile)).toBe(5 / 8);
    expect(bridgedGroundM({ distanceM: 1, groundM: [null, null] })).toBeNull();
  });
});

describe('shaded relief', () => {
  const raster = (height: (c: number, r: number) => number) => ({
    columns: 5,
    rows: 5,
    heightsM: Float32Array.from({ length: 25 }, (_, i) => height(i % 5, Math.floor(i / 5))),
  });
  const middle = 12;

  it("of flat ground is the sine of the light's height", () => {
    expect(
      hillshade(
        raster(() => 8),
        10,
        10,
      )[middle],
    ).toBe(1 + Math.round(254 * Math.SQRT1_2));
  });

  it('is bright towards the light and dark away from it', () => {
    const light = { azimuthDeg: 270, altitudeDeg: 45, exaggeration: 1 };
    // A slope of 45 degrees that looks west faces the light squarely; one that looks east lies in it edgewise.
    expect(
      hillshade(
        raster((c) => 10 * c),
        10,
        10,
        light,
      )[middle],
    ).toBe(255);
    expect(
      hillshade(
        raster((c) => -10 * c),
        10,
        10,
        light,
      )[middle],
    ).toBe(1);
  });

  it('leaves the rim and the surroundings of voids open', () => {
    const shade = hillshade(
      raster((c, r) => (c === 3 && r === 2 ? NaN : c)),
      10,
      10,
    );
    expect(shade[0]).toBe(0);
    expect(shade[middle]).toBe(0);
  });
});
