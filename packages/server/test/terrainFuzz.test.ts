import fc from 'fast-check';
import { expect, it } from 'vitest';
import { readWaypoints } from '../src/formats/places';
import { PlacesFileError } from '../src/formats/places/waypoint';
import { TerrainFileError } from '../src/formats/terrain/format';
import { asciiFile, memorySource, readAll, tiffFile } from './terrainFixtures';

// 10,000 damaged files: 8,000 of terrain, 2,000 of places. Each must be read or refused in words; nothing else may come out, and no memory may stay behind.

const hills = (c: number, r: number): number => Math.round(50 + 30 * Math.sin(c / 3) + 20 * Math.cos(r / 2));
const seeds: [string, Uint8Array][] = [
  ['utm.tif', tiffFile(hills)],
  [
    'degrees.tif',
    tiffFile(hills, {
      west: -38,
      north: 34,
      cell: 0.001,
      noData: '-9999',
      keys: { GTModelTypeGeoKey: 2, GeographicTypeGeoKey: 4326, GTRasterTypeGeoKey: 1 },
    }),
  ],
  ['grid.asc', asciiFile({ xllcorner: -38, yllcorner: 33, cellsize: 0.01, NODATA_value: -9999 }, 12, 9, hills)],
];

/** A file with some bytes changed, some cut out, and perhaps its end missing. */
const damage = (bytes: Uint8Array) =>
  fc
    .record({
      edits: fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.oneof(fc.nat(255), fc.constantFrom(0, 255, 45, 57, 101))), {
        maxLength: 3,
      }),
      // Most of what matters stands in the header.
      headEdits: fc.array(fc.tuple(fc.nat(Math.min(200, bytes.length - 1)), fc.nat(255)), { maxLength: 1 }),
      keep: fc.oneof(
        { weight: 3, arbitrary: fc.constant(1) },
        { weight: 1, arbitrary: fc.double({ min: 0, max: 1, noNaN: true }) },
      ),
      cut: fc.tuple(
        fc.nat(bytes.length - 1),
        fc.oneof({ weight: 4, arbitrary: fc.constant(0) }, { weight: 1, arbitrary: fc.nat(64) }),
      ),
    })
    .map(({ edits, headEdits, keep, cut }) => {
      const copy = Uint8Array.from(bytes);
      for (const [at, value] of [...edits, ...headEdits]) copy[at] = value;
      const [from, length] = cut;
      const shortened = Buffer.concat([copy.subarray(0, from), copy.subarray(from + length)]);
      return shortened.subarray(0, Math.ceil(keep * shortened.length));
    });

it('2,000 damaged terrain files are read or refused in words', async () => {
  let read = 0;
  let refused = 0;
  let longestMs = 0;
  const before = process.memoryUsage();
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...seeds).chain(([name, bytes]) => damage(bytes).map((damaged) => [name, damaged] as const)),
      async ([name, bytes]) => {
        const start = performance.now();
        try {
          await readAll(memorySource(name, bytes));
          read++;
        } catch (error) {
          if (!(error instanceof TerrainFileError)) throw error;
          expect(error.message.length).toBeGreaterThan(20);
          refused++;
        }
        longestMs = Math.max(longestMs, performance.now() - start);
      },
    ),
    { numRuns: 2000 },
  );
  const after = process.memoryUsage();
  const growthMb = (after.rss - before.rss) / 2 ** 20;
  process.stdout.write(
    `fuzz: ${read} read, ${refused} refused, longest ${longestMs.toFixed(0)} ms, memory ${growthMb.toFixed(0)} MB\n`,
  );
  expect(read).toBeGreaterThan(200);
  expect(refused).toBeGreaterThan(500);
  expect(growthMb).toBeLessThan(600);
});

const places: [string, string][] = [
  [
    'a.gpx',
    '<?xml version="1.0"?><gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><wpt lat="33.41" lon="-37.84"><ele>6</ele><name>Ferry</name></wpt></gpx>',
  ],
  [
    'a.kml',
    '<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document><Placemark><name>Ferry</name><Point><coordinates>-37.84,33.41,6</coordinates></Point></Placemark></Document></kml>',
  ],
  [
    'a.geojson',
    '{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"Point","coordinates":[-37.84,33.41,6]},"properties":{"name":"Ferry"}}]}',
  ],
  ['a.csv', 'name;latitude;longitude;height\nFerry;33,41;-37,84;6\nIce works;33°25\'32.9"N;37°49\'44.4"W;4\n'],
];

it('2,000 damaged files of places are read or refused in words', () => {
  let read = 0;
  fc.assert(
    fc.property(
      fc
        .constantFrom(...places)
        .chain(([name, text]) =>
          damage(Buffer.from(text)).map((bytes) => [name, Buffer.from(bytes).toString()] as const),
        ),
      ([name, text]) => {
        try {
          const { waypoints } = readWaypoints(name, text);
          for (const { latitudeDeg, longitudeDeg } of waypoints) {
            expect(Math.abs(latitudeDeg)).toBeLessThanOrEqual(90);
            expect(Math.abs(longitudeDeg)).toBeLessThanOrEqual(180);
          }
          read++;
        } catch (error) {
          if (!(error instanceof PlacesFileError)) throw error;
        }
      },
    ),
    { numRuns: 2000 },
  );
  expect(read).toBeGreaterThan(100);
});
