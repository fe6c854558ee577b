import { describe, expect, it } from 'vitest';
import { analysePath, type PathInput } from './analysis';
import { clearanceAt } from './clearance';
import { leastHeights } from './heights';
import { landmarkIsSeen, landmarksOnBearing } from './landmark';
import { stretchesOnPath, type Obstacle } from './obstacle';
import { judgePath } from './words';
import type { Position } from '../geodesy/coordinates';
import { positionAt } from '../geodesy/geodesic';
import { foliageLossDb } from '../propagation/vegetation';
import type { TerrainProfile } from '../terrain/profile';

const near: Position = { latitudeDeg: 33.4, longitudeDeg: -37.8 };
const far = positionAt(near, 60, 2000);
const flat = (heightM = 0): TerrainProfile => ({ distanceM: 2000, groundM: new Array<number>(201).fill(heightM) });

const input = (changes: Partial<PathInput> = {}): PathInput => ({
  near: { ...near, groundHeightM: 0 },
  far: { ...far, groundHeightM: 0 },
  profile: flat(),
  obstacles: [],
  nearAntennaAslM: 12,
  farAntennaAslM: 12,
  frequencyMHz: 5800,
  polarisation: 'vertical',
  year: 2026,
  ...changes,
});

const obstacle = (changes: Partial<Obstacle> = {}): Obstacle => ({
  id: 'o',
  name: '',
  kind: 'building',
  footprint: [positionAt(near, 60, 1310)],
  widthM: 20,
  heightM: 9,
  growthMPerYear: 0,
  measuredYear: 2026,
  confidence: 'measured',
  ...changes,
});

const analyse = (changes: Partial<PathInput> = {}) => analysePath(input(changes));

describe('an obstacle on a path', () => {
  it('covers the chord of its disc', () => {
    const beside = positionAt(positionAt(near, 60, 1000), 150, 6);
    const [stretch] = stretchesOnPath(obstacle({ footprint: [beside], widthM: 20 }), near, far);
    expect(stretch?.fromM).toBeCloseTo(1000 - 8, 1); // 10, 6, 8: a right triangle
    expect(stretch?.toM).toBeCloseTo(1000 + 8, 1);
    expect(stretchesOnPath(obstacle({ footprint: [beside], widthM: 11 }), near, far)).toEqual([]);
  });

  it('covers where a line of some width crosses, wider when it crosses aslant', () => {
    const at = positionAt(near, 60, 1000);
    const across = (turnDeg: number) =>
      stretchesOnPath(
        obstacle({ footprint: [positionAt(at, 60 + turnDeg, 200), positionAt(at, 240 + turnDeg, 200)], widthM: 10 }),
        near,
        far,
      )[0];
    const square = across(90);
    const aslant = across(30);
    expect((square?.toM ?? 0) - (square?.fromM ?? 0)).toBeCloseTo(10, 1);
    expect((aslant?.toM ?? 0) - (aslant?.fromM ?? 0)).toBeCloseTo(20, 1); // 10 / sin 30
  });

  it('covers all of an area that it crosses, twice where the area turns back, and nothing of one beside it', () => {
    /** so far along the path and to its right */
    const at = (alongM: number, rightM: number): Position =>
      positionAt(positionAt(near, 60, alongM), rightM < 0 ? 330 : 150, Math.abs(rightM));
    const wood = (corners: [number, number][]) =>
      stretchesOnPath(obstacle({ isArea: true, widthM: 0, footprint: corners.map(([a, r]) => at(a, r)) }), near, far);
    const [square] = wood([
      [500, -100],
      [900, -100],
      [900, 100],
      [500, 100],
    ]);
    expect([square?.fromM, square?.toM].map((m) => Math.round(m ?? 0))).toEqual([500, 900]);
    // A horseshoe, open to the right.
    const horseshoe = wood([
      [400, 200],
      [400, -100],
      [1000, -100],
      [1000, 200],
      [900, 200],
      [900, -50],
      [500, -50],
      [500, 200],
    ]);
    expect(horseshoe.map((s) => [Math.round(s.fromM), Math.round(s.toM)])).toEqual([
      [400, 500],
      [900, 1000],
    ]);
    expect(
      wood([
        [500, 20],
        [900, 20],
        [900, 100],
      ]),
    ).toEqual([]);
    // One that begins before the path does is cut where the path begins.
    expect(
      wood([
        [-300, -50],
        [200, -50],
        [200, 50],
        [-300, 50],
      ])[0]?.fromM,
    ).toBe(0);
  });

  it('is not missed between two samples, however narrow', () => {
    const mast = obstacle({ widthM: 0.5, heightM: 30, footprint: [positionAt(near, 60, 1004.9)] });
    expect(analyse({ obstacles: [mast] }).worst.what).toMatchObject({ heightM: 30 });
  });
});

describe('clearance', () => {
  it('is 12 m less the bulge of 59 mm at the middle of 2 km, over a zone of 5.08 m', () => {
    const at = clearanceAt(
      { distanceM: 2000, nearAntennaAslM: 12, farAntennaAslM: 12, frequencyMHz: 5800, k: 4 / 3 },
      1000,
      0,
    );
    expect(at.clearanceM).toBeCloseTo(12 - 1e6 / (2 * (4 / 3) * 6_371_000), 9);
    expect(at.zoneM).toBeCloseTo(5.084, 3);
  });
});

describe('the verdict', () => {
  it('holds over clear ground, in words', () => {
    const verdict = judgePath(analyse());
    expect(verdict.state).toBe('holds');
    expect(verdict.headline).toContain('clear');
  });

  it('names the ridge, where it is and how much of the zone it takes', () => {
    const profile = flat();
    profile.groundM = profile.groundM.map((_, i) => Math.max(0, 10.2 - Math.abs(i - 131) * 0.5));
    const verdict = judgePath(analyse({ profile }));
    expect(verdict.state).toBe('thin');
    expect(verdict.headline).toMatch(/^the ridge at 1\.3\d km takes \d\d % of the zone: about \d+ dB$/);
  });

  it('says how far something stands above the line, in feet when asked', () => {
    const analysis = analyse({ obstacles: [obstacle({ heightM: 15 })] });
    expect(judgePath(analysis)).toMatchObject({ state: 'fails' });
    expect(judgePath(analysis).headline).toMatch(/^the building at 1\.3\d km stands 3\.\d m above the sight line/);
    expect(judgePath(analysis, 'imperial').headline).toMatch(/at 43\d\d\.\d ft stands 10\.\d ft above/);
  });

  it('judges a vehicle apart: the path holds, but not while it stands there', () => {
    const analysis = analyse({ obstacles: [obstacle({ kind: 'vehicle', heightM: 14, name: 'a lorry at the gate' })] });
    expect(analysis.diffractionDb).toBe(0);
    expect(analysis.transientDb).toBeGreaterThan(6);
    const verdict = judgePath(analysis);
    expect(verdict.state).toBe('holds');
    expect(verdict.notes.join()).toMatch(/While a lorry at the gate stands there, \d+ dB more are lost/);
  });

  it('raises water to its tide, wherever the ground is lower', () => {
    const low = analyse({ nearAntennaAslM: 6, farAntennaAslM: 6 });
    const high = analyse({
      nearAntennaAslM: 6,
      farAntennaAslM: 6,
      obstacles: [obstacle({ kind: 'water', footprint: [], heightM: 3.2 })],
    });
    expect(low.worst.clearanceM - high.worst.clearanceM).toBeCloseTo(3.2, 6);
    expect(high.surface.waterShare).toBe(1);
    expect(judgePath(high).headline).toContain('water at high tide');
  });

  it('checks days on which the air bends less', () => {
    const long = positionAt(near, 60, 30_000);
    const profile = { distanceM: 30_000, groundM: new Array<number>(301).fill(0) };
    const analysis = analyse({ far: { ...long, groundHeightM: 0 }, profile, nearAntennaAslM: 15, farAntennaAslM: 15 });
    expect(analysis.worst.clearanceM).toBeGreaterThan(0);
    expect(analysis.subRefractive.clearanceM).toBeLessThan(0);
    expect(judgePath(analysis).notes.join()).toContain('k = 2/3');
  });

  it('says on how much of the path terrain is unknown', () => {
    const profile = flat();
    profile.groundM = profile.groundM.map((h, i) => (i > 150 ? null : h));
    expect(judgePath(analyse({ profile })).notes.join()).toContain('25 %');
  });

  it('is that there is none where no terrain is known, not that it holds', () => {
    const verdict = judgePath(analyse({ profile: { distanceM: 2000, groundM: [null, null, null] } }));
    expect(verdict.state).toBe('thin');
    expect(verdict.brief).toBe('no terrain is known: look along it');
  });

  it('has the Earth in it also without terrain: 60 km between masts of 3 m are 50 m behind the bulge', () => {
    const long = { ...positionAt(near, 60, 60_000), groundHeightM: 0 };
    const nothing = { distanceM: 60_000, groundM: [null, null] };
    const analysis = analyse({ far: long, profile: nothing, nearAntennaAslM: 3, farAntennaAslM: 3 });
    // Geometry: 30 km squared over twice 4/3 of 6371 km.
    expect(analysis.worst.clearanceM).toBeCloseTo(3 - 30_000 ** 2 / (2 * (4 / 3) * 6_371_000), 0);
    expect(analysis.diffractionDb).toBeGreaterThan(40);
    expect(judgePath(analysis)).toMatchObject({ state: 'fails' });
    expect(judgePath(analysis).headline).toMatch(
      /^the Earth's bulge at 30\.\d\d km stands 50\.\d m above the sight line/,
    );
  });

  it('blames the bulge and not the tide where flat water would be clear', () => {
    const long = { ...positionAt(near, 60, 40_000), groundHeightM: 0 };
    const sea = { distanceM: 40_000, groundM: new Array<number>(401).fill(-20) };
    const water = obstacle({ kind: 'water', footprint: [], heightM: 1.8 });
    const over = (antennaM: number) =>
      analyse({ far: long, profile: sea, obstacles: [water], nearAntennaAslM: antennaM, farAntennaAslM: antennaM });
    expect(judgePath(over(25)).headline).toContain("the Earth's bulge at 20.");
    // Close to the water it is the tide itself.
    const short = analyse({ nearAntennaAslM: 3, farAntennaAslM: 3, obstacles: [water] });
    expect(judgePath(short).headline).toContain('water at high tide');
  });

  it('knows sea from land and one polarisation from the other, which matter below 1 GHz (ITU-R P.526-15 section 3.1.1)', () => {
    const long = { ...positionAt(near, 60, 60_000), groundHeightM: 0 };
    const sea = { distanceM: 60_000, groundM: new Array<number>(401).fill(-20) };
    const water = obstacle({ kind: 'water', footprint: [], heightM: 0 });
    const lossDb = (frequencyMHz: number, polarisation: 'vertical' | 'horizontal' | 'dual', wet: boolean) =>
      analyse({
        far: long,
        profile: wet ? sea : { distanceM: 60_000, groundM: sea.groundM.map(() => 0) },
        obstacles: wet ? [water] : [],
        nearAntennaAslM: 3,
        farAntennaAslM: 3,
        frequencyMHz,
        polarisation,
      }).diffractionDb;
    expect(lossDb(160, 'horizontal', true) - lossDb(160, 'vertical', true)).toBeGreaterThan(5);
    expect(lossDb(160, 'vertical', false) - lossDb(160, 'vertical', true)).toBeGreaterThan(5);
    expect(lossDb(160, 'dual', true)).toBe(lossDb(160, 'horizontal', true));
    expect(Math.abs(lossDb(5800, 'horizontal', true) - lossDb(5800, 'vertical', true))).toBeLessThan(0.3);
  });
});

describe('trees', () => {
  const trees = obstacle({ kind: 'trees', name: 'the poplars', heightM: 13, widthM: 10, growthMPerYear: 0.5 });

  it('lose what goes through them when that is less than over them', () => {
    const analysis = analyse({ obstacles: [trees] });
    expect(analysis.diffractionDb).toBe(0);
    expect(analysis.vegetationDepthM).toBeCloseTo(10, 1);
    expect(analysis.vegetationDb).toBeCloseTo(foliageLossDb(10, 5800), 1);
    const wood = analyse({ obstacles: [{ ...trees, widthM: 300 }] });
    expect(wood.vegetationDb).toBeLessThan(foliageLossDb(300, 5800));
  });

  it('say so where the formula ends: deeper than 400 m, and below 230 MHz', () => {
    const tall = { ...trees, heightM: 200, widthM: 1200 };
    const deep = analyse({ obstacles: [tall], frequencyMHz: 1000 });
    expect(deep.vegetationDb).toBeCloseTo(foliageLossDb(400, 1000), 6);
    expect(judgePath(deep).notes.join()).toContain('expect more loss');
    const low = analyse({ obstacles: [{ ...trees, heightM: 200 }], frequencyMHz: 160 });
    expect(judgePath(low).notes.join()).toContain('begins at 230 MHz');
  });

  it('block in the year in which they have grown so far', () => {
    const young = { ...trees, heightM: 7 };
    const { growth } = analyse({ obstacles: [young] });
    // At 1310 m the line is 11.95 m over the ground and the zone 4.83 m: 60 % begins 9.05 m up.
    expect(growth?.intoZoneYear).toBe(2026 + Math.ceil((9.05 - 7) / 0.5));
    expect(growth?.toSightLineYear).toBe(2026 + Math.ceil((11.95 - 7) / 0.5));
    expect(judgePath(analyse({ obstacles: [young] })).notes.join()).toContain(
      'The poplars grow into the zone in 2031, and up to the sight line in 2036',
    );
    expect(analyse({ obstacles: [young], year: 2036 }).worst.clearanceM).toBeLessThan(0);
  });
});

describe('least heights', () => {
  const query = {
    line: { distanceM: 2000, frequencyMHz: 5800, k: 4 / 3 },
    distancesM: [0, 500, 1000, 1500, 2000],
    surfaceM: [0, 0, 8, 0, 0],
    nearGroundM: 0,
    farGroundM: 0,
    nearLimitM: 30,
    farLimitM: 30,
    nearCostPerM: 1,
    farCostPerM: 1,
  };
  // The middle needs 8 m + 0.06 m bulge + 60 % of 5.08 m = 11.11 m, the mean of both heights.
  it('trade one end against the other', () => {
    const { curve, cheapest } = leastHeights(query);
    for (const { nearM, farM } of curve) expect((nearM + farM) / 2).toBeGreaterThanOrEqual(11.1);
    expect((cheapest?.nearM ?? 0) + (cheapest?.farM ?? 0)).toBeCloseTo(22.3, 1);
    for (let i = 1; i < curve.length; i++) expect(curve[i]?.farM).toBeLessThanOrEqual(curve[i - 1]?.farM ?? Infinity);
  });

  it('build at the cheaper end, up to its limit', () => {
    expect(leastHeights({ ...query, farCostPerM: 3 }).cheapest).toMatchObject({ farM: 2 });
    const limited = leastHeights({ ...query, farCostPerM: 3, nearLimitM: 15 }).cheapest;
    expect(limited?.nearM).toBe(15);
    expect(limited?.farM).toBeCloseTo(7.3, 1);
  });

  it('say when no pair within the limits will do', () => {
    expect(leastHeights({ ...query, nearLimitM: 10, farLimitM: 10 })).toEqual({ curve: [], cheapest: null });
  });
});

describe('a landmark', () => {
  const at = (bearingDeg: number, distanceM: number, name: string) => ({
    ...positionAt(near, bearingDeg, distanceM),
    name,
  });
  it('is within a degree, nearest first, with how far left or right', () => {
    const sights = landmarksOnBearing(near, 60, [
      at(60.2, 5000, 'chimney'),
      at(59.3, 1200, 'beacon'),
      at(62, 300, 'gate'),
      at(60, 10, 'post'),
    ]);
    expect(sights.map((s) => s.landmark.name)).toEqual(['beacon', 'chimney']);
    expect(sights[0]?.rightDeg).toBeCloseTo(-0.7, 6);
    expect(sights[0]?.asideM).toBeCloseTo(-14.66, 1);
    expect(landmarksOnBearing(near, 359.8, [at(0.3, 800, 'tower')])[0]?.rightDeg).toBeCloseTo(0.5, 6);
    expect(landmarksOnBearing(near, 100, [at(60, 800, 'tower')])).toEqual([]);
  });

  it('is not one 10,000 km away', () => {
    expect(landmarksOnBearing(near, 60, [at(60, 1e7, 'antipodes'), at(60, 16_000, 'haze')])).toEqual([]);
  });

  it('is seen over flat ground, not behind a mountain, and unknown without terrain', () => {
    const profile = flat();
    expect(landmarkIsSeen(profile, 12, 0)).toBe(true);
    profile.groundM[100] = 40;
    expect(landmarkIsSeen(profile, 12, 0)).toBe(false);
    expect(landmarkIsSeen(profile, 12, 80)).toBe(true);
    expect(landmarkIsSeen({ distanceM: 2000, groundM: [null, null] }, 12, 0)).toBeNull();
    // From 2 m over the sea the top at 10 m sinks under the horizon beyond 5.5 + 12.2 km.
    const sea = (distanceM: number) => ({ distanceM, groundM: new Array<number>(301).fill(0) });
    expect(landmarkIsSeen(sea(14_000), 2, 0)).toBe(true);
    expect(landmarkIsSeen(sea(19_000), 2, 0)).toBe(false);
  });
});
