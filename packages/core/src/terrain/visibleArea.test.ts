import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hiddenStep, notLooked, sightSteps, visibleArea, type VisibleAreaQuery } from './visibleArea';
import { earthRadiusM } from '../geodesy/tilt';
import { diffractionParameter, knifeEdgeLossDb } from '../propagation/knifeEdge';

function areaOf(query: VisibleAreaQuery): Uint8Array {
  const run = visibleArea(query);
  for (;;) {
    const { done, value } = run.next();
    if (done) return value;
  }
}

/** One cell by the definition: every crossing of its own ray is looked at, none remembered. */
function stepByDefinition(query: VisibleAreaQuery, column: number, row: number): number {
  const { raster, cellWidthM, cellHeightM, frequencyMHz } = query;
  const height = (c: number, r: number): number => raster.heightsM[r * raster.columns + c] ?? NaN;
  const bend = (d: number): number => d ** 2 / (2 * (4 / 3) * earthRadiusM);
  const [dc, dr] = [column - query.column, row - query.row];
  const count = Math.max(Math.abs(dc), Math.abs(dr));
  const lengthM = Math.hypot(dc * cellWidthM, dr * cellHeightM);
  if (lengthM > query.radiusM || Number.isNaN(height(column, row))) return notLooked;
  const mastM = height(query.column, query.row) + query.mastHeightM;
  const targetM = height(column, row) + query.targetHeightM - bend(lengthM);
  let worst = -Infinity;
  for (let i = 1; i < count; i++) {
    const [c, r] = [query.column + (i * dc) / count, query.row + (i * dr) / count];
    const [c0, r0] = [Math.floor(c + 1e-9), Math.floor(r + 1e-9)];
    const share = Math.abs(dc) >= Math.abs(dr) ? r - r0 : c - c0;
    const other = Math.abs(dc) >= Math.abs(dr) ? height(Math.round(c), r0 + 1) : height(c0 + 1, Math.round(r));
    const low = Math.abs(dc) >= Math.abs(dr) ? height(Math.round(c), r0) : height(c0, Math.round(r));
    const ground = Math.abs(share) < 1e-9 ? low : low * (1 - share) + other * share;
    if (Number.isNaN(ground)) continue;
    const d = (lengthM * i) / count;
    const over = ground - bend(d) - (mastM + ((targetM - mastM) * d) / lengthM);
    worst = Math.max(worst, frequencyMHz ? diffractionParameter(over, d, lengthM - d, frequencyMHz) : over);
  }
  if (!frequencyMHz) return worst <= 0 ? 1 : hiddenStep;
  const found = sightSteps.findIndex(({ v }) => worst <= v);
  return found < 0 ? hiddenStep : found;
}

const base = { cellWidthM: 30, cellHeightM: 30, mastHeightM: 12, targetHeightM: 8, radiusM: 1e5 };

/** Whether a cell lies within a radius of cells. */
const within = (i: number, columns: number, centre: number, radius: number): boolean =>
  Math.hypot((i % columns) - centre, Math.floor(i / columns) - centre) <= radius;

describe('the steps of the visible area', () => {
  it('say the loss of a knife edge where each ends (ITU-R P.526-15 equation 31)', () => {
    const [clear, grazing, behind, deep] = sightSteps.map(({ v, words }) => ({ lossDb: knifeEdgeLossDb(v), words }));
    expect(clear?.lossDb).toBe(0);
    for (const step of [grazing, behind, deep]) expect(step?.words).toContain(`${Number(step?.lossDb.toFixed(1))} dB`);
    expect(deep?.words).toContain(String(behind?.lossDb.toFixed(1)));
  });
});

describe('the area seen from a mast', () => {
  it('is, along a single row, what every point on the way allows: whatever the heights, with and without Fresnel zones', () => {
    const heights = fc.array(fc.oneof(fc.double({ min: 0, max: 60, noNaN: true }), fc.constant(NaN)), {
      minLength: 2,
      maxLength: 60,
    });
    fc.assert(
      fc.property(heights, fc.constantFrom(undefined, 400, 5800), (list, frequencyMHz) => {
        const query = {
          ...base,
          raster: { columns: list.length, rows: 1, heightsM: Float32Array.from([20, ...list.slice(1)]) },
          column: 0,
          row: 0,
          frequencyMHz,
        };
        const area = areaOf(query);
        for (let c = 1; c < list.length; c++) expect(area[c], `cell ${c}`).toBe(stepByDefinition(query, c, 0));
      }),
      { numRuns: 2000 },
    );
  });

  it('in the plane agrees with a ray of its own for every cell in 97 of 100, and always on rows, columns and diagonals', () => {
    const columns = 81;
    const rows = 61;
    const heightsM = Float32Array.from({ length: columns * rows }, (_, i) => {
      const [c, r] = [i % columns, Math.floor(i / columns)];
      return 40 + 25 * Math.sin(c / 7) * Math.cos(r / 9) + 10 * Math.sin(c / 3 + r / 4);
    });
    for (const frequencyMHz of [undefined, 5800]) {
      const query = { ...base, raster: { columns, rows, heightsM }, column: 33, row: 27, frequencyMHz };
      const area = areaOf(query);
      let same = 0;
      for (let i = 0; i < area.length; i++) {
        const [c, r] = [i % columns, Math.floor(i / columns)];
        if (c === 33 && r === 27) continue;
        const expected = stepByDefinition(query, c, r);
        if (area[i] === expected) same++;
        const straight = c === 33 || r === 27 || Math.abs(c - 33) === Math.abs(r - 27);
        if (straight) expect(area[i]).toBe(expected);
      }
      expect(same / (area.length - 1)).toBeGreaterThan(0.97);
    }
  });

  it('stops at the radius, leaves voids open, and needs ground under the mast', () => {
    const heightsM = new Float32Array(21 * 21).fill(5);
    heightsM[10 * 21 + 14] = NaN;
    const query = { ...base, radiusM: 200, raster: { columns: 21, rows: 21, heightsM }, column: 10, row: 10 };
    const area = areaOf(query);
    expect(area[10 * 21 + 13]).toBe(1);
    expect(area[10 * 21 + 14]).toBe(notLooked);
    expect(area[10 * 21 + 15]).toBe(1);
    expect(area[10 * 21 + 17]).toBe(notLooked);
    expect(() => areaOf({ ...query, column: 14 })).toThrow('no terrain where the mast stands');
  });

  it('leaves no cell out, tells how far it is and can be given up', () => {
    const query = {
      ...base,
      raster: { columns: 1001, rows: 1001, heightsM: new Float32Array(1001 ** 2) },
      column: 500,
      row: 500,
    };
    const shares: number[] = [];
    expect(
      areaOf({ ...query, radiusM: 15_000 }).filter((step, i) => step === notLooked && within(i, 1001, 500, 499)).length,
    ).toBe(0);
    for (const share of visibleArea(query)) {
      shares.push(share);
      if (share > 0.3) break;
    }
    expect(shares.length).toBeGreaterThan(3);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
  });
});
