import { bilinearHeightM, cellAt } from '@kivram/core/terrain/grid';
import { hillshade } from '@kivram/core/terrain/hillshade';
import { hiddenStep, notLooked, visibleArea } from '@kivram/core/terrain/visibleArea';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource, readAll, type ReadTerrain } from './terrainFixtures';

// Against GDAL, a general-purpose library from Debian's gdal-bin: the same grids read, sampled, shaded and looked over by both.

let folder: string;
let isles: ReadTerrain;
const at = (name: string): string => join(folder, name);
const gdal = (program: string, ...args: string[]): string =>
  execFileSync(program, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
const read = (name: string, epsg?: number): Promise<ReadTerrain> =>
  readAll(memorySource(name, readFileSync(at(name))), epsg);

/** A raster of GDAL's as raw numbers. */
function raw<T>(name: string, type: 'Float32' | 'Byte', make: (buffer: ArrayBuffer) => T): T {
  gdal('gdal_translate', '-q', '-of', 'ENVI', '-ot', type, at(name), at(`${name}.raw`));
  return make(new Uint8Array(readFileSync(at(`${name}.raw`))).buffer);
}
const floats = (name: string): Float32Array => raw(name, 'Float32', (buffer) => new Float32Array(buffer));
const bytesOf = (name: string): Uint8Array => raw(name, 'Byte', (buffer) => new Uint8Array(buffer));

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kivram-gdal-'));
  writeFileSync(at('isles.tif'), readFileSync(join(import.meta.dirname, '../data/tessary.tif')));
  isles = await read('isles.tif');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('files that GDAL writes', () => {
  it.each([
    ['tiled and deflated', ['-co', 'TILED=YES', '-co', 'COMPRESS=DEFLATE', '-co', 'PREDICTOR=3']],
    ['LZW strips', ['-co', 'COMPRESS=LZW', '-co', 'PREDICTOR=2', '-ot', 'Int16']],
    ['BigTIFF, one strip', ['-co', 'BIGTIFF=YES', '-co', 'BLOCKYSIZE=625']],
    ['big-endian', ['-co', 'ENDIANNESS=BIG']],
    ['packbits', ['-co', 'COMPRESS=PACKBITS']],
    ['doubles with voids', ['-ot', 'Float64', '-a_nodata', '0']],
  ])('GeoTIFF, %s: the same heights and the same place', async (_words, options) => {
    gdal('gdal_translate', '-q', ...options, at('isles.tif'), at('made.tif'));
    const ours = await read('made.tif');
    const theirs = floats('made.tif');
    expect(ours.frame).toMatchObject({ columns: 625, rows: 625, westX: isles.frame.westX, northY: isles.frame.northY });
    let different = 0;
    ours.heightsM.forEach((h, i) => {
      if (Number.isNaN(h) ? theirs[i] !== 0 : Math.abs(h - (theirs[i] ?? NaN)) > 1e-6) different++;
    });
    expect(different).toBe(0);
  });

  it.each([
    [['-ot', 'Byte', '-b', '1', '-b', '1', '-b', '1', '-co', 'PHOTOMETRIC=RGB'], 'is a picture in colours'],
    [['-b', '1', '-b', '1', '-b', '1', '-co', 'PHOTOMETRIC=MINISBLACK'], 'has 3 bands'],
  ])('refuses a picture, which is no grid of heights: %s', async (options, words) => {
    gdal('gdal_translate', '-q', ...options, at('isles.tif'), at('picture.tif'));
    const source = memorySource('picture.tif', new Uint8Array(readFileSync(at('picture.tif'))));
    await expect(readAll(source)).rejects.toThrow(words);
  });

  it('GeoTIFF in degrees, HGT and ASCII grid of the same ground agree with what GDAL reads from them', async () => {
    gdal(
      'gdalwarp',
      '-q',
      '-t_srs',
      'EPSG:4326',
      '-r',
      'bilinear',
      '-te',
      '-38',
      '33',
      '-37',
      '34',
      '-ts',
      '1201',
      '1201',
      '-ot',
      'Int16',
      at('isles.tif'),
      at('degrees.tif'),
    );
    // An HGT's outermost cells are centred on whole degrees, so its edges lie half a cell outside.
    const half = 1 / 2400;
    gdal(
      'gdalwarp',
      '-q',
      '-t_srs',
      'EPSG:4326',
      '-r',
      'bilinear',
      '-te',
      String(-38 - half),
      String(33 - half),
      String(-37 + half),
      String(34 + half),
      '-ts',
      '1201',
      '1201',
      '-ot',
      'Int16',
      '-dstnodata',
      '-32768',
      at('isles.tif'),
      at('tile.tif'),
    );
    gdal('gdal_translate', '-q', '-of', 'SRTMHGT', at('tile.tif'), at('N33W038.hgt'));
    gdal('gdal_translate', '-q', '-of', 'AAIGrid', at('degrees.tif'), at('grid.asc'));
    for (const name of ['degrees.tif', 'N33W038.hgt', 'grid.asc']) {
      const ours = await read(name);
      const info = JSON.parse(gdal('gdalinfo', '-json', at(name))) as { geoTransform: number[] };
      const [west = 0, cell = 0, , north = 0] = info.geoTransform;
      expect(ours.frame.westX, name).toBeCloseTo(west + cell / 2, 9);
      expect(ours.frame.northY, name).toBeCloseTo(north - cell / 2, 9);
      const theirs = floats(name);
      const differing = ours.heightsM.findIndex((h, i) => (Number.isNaN(h) ? -32768 : h) !== theirs[i]);
      expect(differing, name).toBe(-1);
    }
  });
});

describe('sampling', () => {
  it("between cells is GDAL's bilinear resampling, to the centimetre", () => {
    // A grid moved by fractions of a cell: every new cell lies between four old ones.
    const { westX, northY } = isles.frame;
    const [west, south, east, north] = [westX + 1203.7, northY - 4801.3, westX + 4803.7, northY - 1201.3];
    gdal(
      'gdalwarp',
      '-q',
      '-r',
      'bilinear',
      '-te',
      ...[west, south, east, north].map(String),
      '-tr',
      '12',
      '12',
      at('isles.tif'),
      at('moved.tif'),
    );
    const theirs = floats('moved.tif');
    let worst = 0;
    for (let i = 0; i < theirs.length; i++) {
      const x = west + 6 + 12 * (i % 300);
      const y = north - 6 - 12 * Math.floor(i / 300);
      const { column, row } = cellAt(isles.frame, x, y);
      const ours = bilinearHeightM(isles.frame, (c, r) => isles.heightsM[r * 625 + c] as number, column, row);
      worst = Math.max(worst, Math.abs(ours - (theirs[i] ?? NaN)));
    }
    expect(worst).toBeLessThan(0.01);
  });
});

describe('shaded relief', () => {
  it("is gdaldem's, to a step of 255", () => {
    gdal(
      'gdaldem',
      'hillshade',
      at('isles.tif'),
      at('shade.tif'),
      '-q',
      '-z',
      '2',
      '-az',
      '315',
      '-alt',
      '45',
      '-alg',
      'Horn',
    );
    const theirs = bytesOf('shade.tif');
    const ours = hillshade({ columns: 625, rows: 625, heightsM: isles.heightsM }, 12, 12);
    const worst = ours.reduce(
      (most, shade, i) => (shade === 0 ? most : Math.max(most, Math.abs(shade - (theirs[i] ?? 0)))),
      0,
    );
    expect(worst).toBeLessThanOrEqual(1);
  });
});

describe('the visible area', () => {
  /** Both on the same grid, mast 15 m, target 8 m, Earth of 4/3 its radius (GDAL: curvature coefficient 1 - 1/k taken off, so 3/4). */
  function compare(column: number, row: number, radiusM: number) {
    const { westX, northY } = isles.frame;
    const [x, y] = [westX + 12 * column, northY - 12 * row];
    gdal(
      'gdal_viewshed',
      '-q',
      '-ox',
      String(x),
      '-oy',
      String(y),
      '-oz',
      '15',
      '-tz',
      '8',
      '-md',
      String(radiusM),
      '-cc',
      '0.75',
      '-vv',
      '1',
      '-iv',
      '0',
      '-ov',
      '2',
      at('isles.tif'),
      at('seen.tif'),
    );
    const info = JSON.parse(gdal('gdalinfo', '-json', at('seen.tif'))) as {
      size: [number, number];
      geoTransform: number[];
    };
    const [width, height] = info.size;
    const offsetColumn = Math.round(((info.geoTransform[0] ?? 0) + 6 - westX) / 12);
    const offsetRow = Math.round((northY - ((info.geoTransform[3] ?? 0) - 6)) / 12);
    const theirs = bytesOf('seen.tif');
    const sweep = visibleArea({
      raster: { columns: 625, rows: 625, heightsM: isles.heightsM },
      cellWidthM: 12,
      cellHeightM: 12,
      column,
      row,
      mastHeightM: 15,
      targetHeightM: 8,
      radiusM,
    });
    let state = sweep.next();
    while (!state.done) state = sweep.next();
    const ours = state.value;
    let same = 0;
    let both = 0;
    let onlyOurs = 0;
    for (let r = 0; r < height; r++) {
      for (let c = 0; c < width; c++) {
        const their = theirs[r * width + c];
        const our = ours[(r + offsetRow) * 625 + c + offsetColumn];
        if (their === 2 || our === notLooked) continue;
        both++;
        const seen = our !== hiddenStep;
        if (seen === (their === 1)) same++;
        else if (seen) onlyOurs++;
      }
    }
    return { agreement: same / both, onlyOurs: onlyOurs / both, cells: both };
  }

  // What differs lies along the edges of what is seen: GDAL carries a horizon from cell to cell as a plane through two neighbours, we interpolate the ground where each
  // ray crosses the grid. Neither leans to one side.
  it.each([
    [383, 413, 4000],
    [160, 300, 3000],
    [520, 230, 4500],
  ])(
    'from column %i, row %i over %i m agrees with gdal_viewshed in more than 97 cells of 100',
    (column, row, radiusM) => {
      const { agreement, onlyOurs, cells } = compare(column, row, radiusM);
      process.stdout.write(
        `visible area: ${(100 * agreement).toFixed(2)} % of ${cells} cells agree, ${(100 * onlyOurs).toFixed(2)} % seen by us alone\n`,
      );
      expect(cells).toBeGreaterThan(100_000);
      expect(agreement).toBeGreaterThan(0.97);
    },
  );
});
