import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Random } from '@kivram/standin/random';
import type { Sequelize } from 'sequelize';
import { connect } from '../src/database/connection';
import { JobRow } from '../src/database/models/job';
import { exportJob } from '../src/formats/jobDocument/export';
import { importJob } from '../src/formats/jobDocument/import';
import { readIperf3 } from '../src/formats/iperf3';
import { readWaypoints } from '../src/formats/places';
import { problemOf } from '../src/http/problem';
import { asciiFile, hgtFile, memorySource, readAll, tiffFile } from '../test/terrainFixtures';

// Feeds every importer with damaged files, as many of each as asked for: each must be read, or refused in words. What it found goes out as one line of JSON an importer.
//   damage.js <files of each> <seed>

interface Importer {
  name: string;
  sound: Uint8Array;
  read(bytes: Uint8Array): unknown;
}

const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString();
const hills = (c: number, r: number): number => Math.round(50 + 30 * Math.sin(c / 3) + 20 * Math.cos(r / 2));
const terrain = (name: string, sound: Uint8Array): Importer => ({
  name,
  sound,
  read: (bytes) => readAll(memorySource(name, bytes)),
});
const places = (name: string, sound: string): Importer => ({
  name,
  sound: Buffer.from(sound),
  read: (bytes) => readWaypoints(name, text(bytes)),
});

const importers: Importer[] = [
  terrain('hills.tif', tiffFile(hills)),
  terrain('hills.asc', asciiFile({ xllcorner: -38, yllcorner: 33, cellsize: 0.01, NODATA_value: -9999 }, 12, 9, hills)),
  terrain('N33W038.hgt', hgtFile(hills)),
  places(
    'a.gpx',
    '<?xml version="1.0"?><gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><wpt lat="33.41" lon="-37.84"><ele>6</ele><name>Ferry</name></wpt></gpx>',
  ),
  places(
    'a.kml',
    '<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document><Placemark><name>Ferry</name><Point><coordinates>-37.84,33.41,6</coordinates></Point></Placemark></Document></kml>',
  ),
  places(
    'a.geojson',
    '{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"Point","coordinates":[-37.84,33.41,6]},"properties":{"name":"Ferry"}}]}',
  ),
  places('a.csv', 'name;latitude;longitude;height\nFerry;33,41;-37,84;6\nIce works;33°25\'32.9"N;37°49\'44.4"W;4\n'),
  {
    name: 'run.json',
    sound: Buffer.from(
      '{"start":{"timestamp":{"timesecs":1790000000},"test_start":{"protocol":"TCP","duration":1,"reverse":0}},"intervals":[{"sum":{"seconds":1,"bytes":1e7,"bits_per_second":8e7}}],"end":{"sum_sent":{"retransmits":0},"sum_received":{"bits_per_second":8e7,"seconds":1}}}',
    ),
    read: (bytes) => readIperf3(text(bytes), 'near'),
  },
];

/** Bytes changed, cut out, put in, or missing at the end. */
function damaged(sound: Uint8Array, random: Random): Uint8Array {
  const at = (): number => Math.floor(random.between(0, sound.length));
  const bytes = Buffer.from(sound);
  for (let edits = random.between(0, 4); edits > 1; edits--) bytes[at()] = Math.floor(random.between(0, 256));
  const [from, length] = [at(), random.chance(0.3) ? Math.floor(random.between(0, 64)) : 0];
  const more = random.chance(0.2) ? bytes.subarray(at(), at()) : Buffer.alloc(0);
  const whole = Buffer.concat([bytes.subarray(0, from), more, bytes.subarray(from + length)]);
  return random.chance(0.2) ? whole.subarray(0, Math.floor(random.between(0, whole.length))) : whole;
}

async function attack({ name, sound, read }: Importer, count: number, random: Random): Promise<void> {
  let [accepted, refused, slowestMs] = [0, 0, 0];
  const faults: string[] = [];
  for (let i = 0; i < count && faults.length < 20; i++) {
    const bytes = damaged(sound, random);
    const began = performance.now();
    try {
      await read(bytes);
      accepted++;
    } catch (error) {
      const { status, detail } = problemOf(error);
      if (status >= 500) faults.push(`${error instanceof Error ? error.stack : String(error)}`.slice(0, 400));
      else if (detail.length < 10) faults.push(`refused without words: ${detail}`);
      refused++;
    }
    slowestMs = Math.max(slowestMs, performance.now() - began);
  }
  const megabytes = Math.round(process.memoryUsage().rss / 1e6);
  console.log(JSON.stringify({ name, accepted, refused, slowestMs: Math.round(slowestMs), megabytes, faults }));
}

/** The demo's job with a few readings: what is damaged is mostly something else. */
async function jobImporter(sequelize: Sequelize, folder: string): Promise<Importer> {
  const job = await JobRow.findOne({ rejectOnEmpty: true });
  const pieces: string[] = [];
  for await (const piece of exportJob(sequelize, job.id, true)) pieces.push(piece);
  const document = JSON.parse(pieces.join('')) as { alignments: { readings: unknown[] }[]; tests: object[] };
  const light = {
    ...document,
    alignments: document.alignments.map((a) => ({ ...a, readings: a.readings.slice(0, 3) })),
    tests: document.tests.slice(0, 2).map((test) => ({ ...test, raw: null })),
  };
  const path = join(folder, 'job.json');
  return {
    name: 'job.json',
    sound: Buffer.from(JSON.stringify(light)),
    read: async (bytes) => {
      await writeFile(path, bytes);
      await importJob(sequelize, path, 'replace');
    },
  };
}

const [count, seed] = [Number(process.argv[2] ?? 1000), Number(process.argv[3] ?? 1)];
for (const importer of importers) await attack(importer, count, new Random(seed));
const folder = await mkdtemp(join(tmpdir(), 'kivram-siege-'));
const sequelize = connect(process.env.KIVRAM_SIEGE_DATABASE_URL ?? '');
await attack(await jobImporter(sequelize, folder), count, new Random(seed));
await sequelize.close();
await rm(folder, { recursive: true });
