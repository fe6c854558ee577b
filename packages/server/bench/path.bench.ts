import { positionAt, geodesicPositions } from '@kivram/core/geodesy/geodesic';
import { analysePath } from '@kivram/core/path/analysis';
import type { Obstacle } from '@kivram/core/path/obstacle';
import { crsOf } from '@kivram/core/terrain/crs';
import { bilinearHeightM, cellAt, type GridFrame, type HeightRaster } from '@kivram/core/terrain/grid';
import { hiddenStep, notLooked, visibleArea } from '@kivram/core/terrain/visibleArea';
import { Ground } from '@kivram/standin/ground/ground';
import GeoTIFF, { fromFile } from 'geotiff';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

// A profile with its loss, and the visible area beside gdal_viewshed, all in one run on one machine.

const side = 3601;
const cellM = 30;
const folder = mkdtempSync(join(tmpdir(), 'kivram-bench-'));
const gridPath = join(folder, 'grid.tif');

const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] as number;
const timesMs = (runs: number, what: () => void): number[] =>
  Array.from({ length: runs }, () => {
    const start = performance.now();
    what();
    return performance.now() - start;
  });
const line = (label: string, value: string, note = ''): void =>
  console.log(`  ${label.padEnd(58)} ${value.padStart(12)}  ${note}`);
const ms = (value: number): string => `${value.toFixed(value < 10 ? 2 : 0)} ms`;

/** Invented hills: computed on every twelfth cell, straight between, as a 3601 by 3601 GeoTIFF in UTM. */
function writeGrid(): void {
  const ground = new Ground({
    seed: 7,
    floorM: 60,
    hills: Array.from({ length: 60 }, (_, i) => ({
      eastM: ((i * 7919) % 108) * 1000,
      northM: ((i * 104_729) % 108) * 1000,
      heightM: 80 + ((i * 37) % 300),
      alongM: 2500 + ((i * 211) % 5000),
      acrossM: 1500 + ((i * 97) % 2500),
      bearingDeg: (i * 53) % 180,
    })),
    pins: [],
  });
  const coarse = 301;
  const nodes = Float32Array.from({ length: coarse ** 2 }, (_, i) =>
    ground.heightM((i % coarse) * 12 * cellM, -Math.floor(i / coarse) * 12 * cellM + 108_000),
  );
  const heights = new Float32Array(side * side);
  const size = { columns: coarse, rows: coarse };
  for (let i = 0; i < heights.length; i++) {
    const [c, r] = [(i % side) / 12, Math.floor(i / side) / 12];
    heights[i] =
      bilinearHeightM(size, (column, row) => nodes[row * coarse + column] as number, c, r) + 3 * Math.sin(i * 12.9898);
  }
  const raw = join(folder, 'grid.bin');
  writeFileSync(raw, Buffer.from(heights.buffer));
  writeFileSync(
    join(folder, 'grid.hdr'),
    `ENVI\nsamples = ${side}\nlines = ${side}\nbands = 1\nheader offset = 0\ndata type = 4\ninterleave = bsq\nbyte order = 0\nmap info = {UTM, 1, 1, 400000, 3700000, ${cellM}, ${cellM}, 25, North, WGS-84}\n`,
  );
  execFileSync('gdal_translate', ['-q', '-a_srs', 'EPSG:32625', raw, gridPath]);
}

/** The cells around the middle, through the same library that imports use. */
async function readWindow(reach: number): Promise<HeightRaster> {
  const tiff: GeoTIFF = await fromFile(gridPath);
  const image = await tiff.getImage();
  const middle = (side - 1) / 2;
  const window = [middle - reach, middle - reach, middle + reach + 1, middle + reach + 1];
  const [band] = (await image.readRasters({ window })) as unknown as Float32Array[];
  await tiff.close();
  const across = 2 * reach + 1;
  return { columns: across, rows: across, heightsM: band as Float32Array };
}

function look(raster: HeightRaster, radiusM: number, frequencyMHz?: number): Uint8Array {
  const middle = (raster.columns - 1) / 2;
  const sweep = visibleArea({
    raster,
    cellWidthM: cellM,
    cellHeightM: cellM,
    column: middle,
    row: middle,
    mastHeightM: 20,
    targetHeightM: 10,
    radiusM,
    frequencyMHz,
  });
  for (;;) {
    const { done, value } = sweep.next();
    if (done) return value;
  }
}

async function benchArea(radiusM: number): Promise<void> {
  const reach = Math.ceil(radiusM / cellM);
  const x = 400_000 + cellM * ((side - 1) / 2 + 0.5);
  const y = 3_700_000 - cellM * ((side - 1) / 2 + 0.5);
  const out = join(folder, 'seen.tif');
  const args = [
    '-q',
    '-ox',
    String(x),
    '-oy',
    String(y),
    '-oz',
    '20',
    '-tz',
    '10',
    '-md',
    String(radiusM),
    '-cc',
    '0.75',
    gridPath,
    out,
  ];
  const gdalMs = median(timesMs(9, () => execFileSync('gdal_viewshed', args)));
  const startMs = median(timesMs(5, () => spawnSync('gdal_viewshed', ['--version'])));
  const readMs: number[] = [];
  let raster = await readWindow(reach);
  for (let i = 0; i < 5; i++) {
    const start = performance.now();
    raster = await readWindow(reach);
    readMs.push(performance.now() - start);
  }
  look(raster, radiusM);
  look(raster, radiusM, 5800);
  const plainMs = median(timesMs(9, () => look(raster, radiusM)));
  const zonesMs = median(timesMs(9, () => look(raster, radiusM, 5800)));
  const steps = look(raster, radiusM, 5800);
  const looked = steps.filter((s) => s !== notLooked).length;
  console.log(
    `\nVisible area of ${(radiusM / 1000).toFixed(0)} km on a ${side} by ${side} grid of ${cellM} m: ${looked} cells, ${((100 * steps.filter((s) => s !== notLooked && s < hiddenStep).length) / looked).toFixed(0)} % seen in some step`,
  );
  line('gdal_viewshed, whole program', ms(gdalMs), `of it starting: ${ms(startMs)}`);
  line('Kivram, reading the window from the same file', ms(median(readMs)));
  line('Kivram, plain sight', ms(plainMs));
  line('Kivram, four Fresnel steps at 5.8 GHz', ms(zonesMs));
  line(
    'plain with reading, against gdal_viewshed',
    `${((plainMs + median(readMs)) / gdalMs).toFixed(2)} x`,
    'wanted: no more than 1',
  );
  line(
    'Fresnel with reading, against gdal_viewshed',
    `${((zonesMs + median(readMs)) / gdalMs).toFixed(2)} x`,
    'wanted: no more than 3',
  );
  const bytes = raster.heightsM.byteLength + steps.byteLength + 4 * steps.length + 4 * 3 * 8 * raster.columns;
  line('memory of heights, answer and work arrays', `${(bytes / 2 ** 20).toFixed(1)} MB`);
}

async function benchProfile(): Promise<void> {
  const raster = await readWindow(400);
  const frame: GridFrame = {
    crs: crsOf(32625),
    columns: raster.columns,
    rows: raster.rows,
    westX: 400_000 + cellM * ((side - 1) / 2 - 400 + 0.5),
    northY: 3_700_000 - cellM * ((side - 1) / 2 - 400 + 0.5),
    cellX: cellM,
    cellY: cellM,
  };
  const near = frame.crs.toPosition(frame.westX + 5000, frame.northY - 9000);
  const far = positionAt(near, 63, 7500);
  const obstacle = (kind: Obstacle['kind'], distanceM: number): Obstacle => ({
    id: kind,
    name: '',
    kind,
    footprint: kind === 'water' ? [] : [positionAt(near, 63, distanceM)],
    widthM: 20,
    heightM: kind === 'water' ? 70 : 12,
    growthMPerYear: kind === 'trees' ? 0.4 : 0,
    measuredYear: 2026,
    confidence: 'measured',
  });
  const obstacles = [
    obstacle('trees', 2000),
    obstacle('building', 3000),
    obstacle('vehicle', 5000),
    obstacle('water', 0),
  ];
  const whole = (): void => {
    const groundM = geodesicPositions(near, far, 500).map((position) => {
      const { x, y } = frame.crs.fromPosition(position);
      const { column, row } = cellAt(frame, x, y);
      return bilinearHeightM(frame, (c, r) => raster.heightsM[r * raster.columns + c] as number, column, row);
    });
    analysePath({
      near: { ...near, groundHeightM: groundM[0] ?? 0 },
      far: { ...far, groundHeightM: groundM.at(-1) ?? 0 },
      polarisation: 'dual',
      profile: { distanceM: 7500, groundM },
      obstacles,
      nearAntennaAslM: (groundM[0] ?? 0) + 15,
      farAntennaAslM: (groundM.at(-1) ?? 0) + 15,
      frequencyMHz: 5800,
      year: 2026,
    });
  };
  for (let i = 0; i < 200; i++) whole();
  const each = timesMs(500, whole).sort((a, b) => a - b);
  console.log('\nOne link at 500 points: geodesic, projection, sampling, four obstacles, every loss');
  line('median', ms(median(each)), 'wanted: under 2 ms');
  line('95th percentile', ms(each[475] as number));
}

try {
  console.log('\nMaking the grid');
  writeGrid();
  await benchProfile();
  await benchArea(10_000);
  await benchArea(40_000);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
