import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { constants, deflateRawSync } from 'node:zlib';
import fc from 'fast-check';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readJobFile, type ReadingsPiece } from '../src/formats/jobDocument/file';
import { renamed } from '../src/formats/jobDocument/ids';
import { sizeOfJson } from '../src/http/body';
import { Turns } from '../src/http/turns';
import { ProcessIntake } from '../src/intake/processIntake';
import type { IntakeKind } from '../src/intake/task';
import { tiffFile } from './terrainFixtures';

const log = pino({ level: 'silent' });
let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kivram-intake-'));
});
afterAll(() => rm(folder, { recursive: true }));

/** One second for each kind of file but these. */
const seconds = (others: Partial<Record<IntakeKind, number>>): Record<IntakeKind, number> => ({
  terrain: 1,
  job: 1,
  places: 1,
  test: 1,
  levels: 1,
  photo: 1,
  pdf: 1,
  ...others,
});

const csv = (rows: number): string =>
  `name,lat,lon\n${Array.from({ length: rows }, (_, i) => `P${i},33.4,-37.8`).join('\n')}`;

describe('a file that is read in a process of its own', () => {
  it('comes back as what is in it, or is refused with its words', async () => {
    const intake = new ProcessIntake(log);
    const { waypoints } = await intake.run('places', { fileName: 'a.csv', text: csv(3) });
    expect(waypoints.map((w) => w.name)).toEqual(['P0', 'P1', 'P2']);
    await expect(intake.run('places', { fileName: 'a.constructor', text: 'x' })).rejects.toThrow(
      'none of the files Kivram reads',
    );
    intake.stop();
  });

  it('is given up when it takes too long, needs too much, or nobody wants it any more', async () => {
    const slow = new ProcessIntake(log, {
      bytes: Infinity,
      seconds: seconds({ places: 0.01, job: 1, terrain: 1 }),
    });
    await expect(slow.run('places', { fileName: 'a.csv', text: csv(1999) })).rejects.toThrow('takes more than 0.01 s');
    const small = new ProcessIntake(log, {
      bytes: 1024 * 1024,
      seconds: seconds({ places: 10, job: 1, terrain: 1 }),
    });
    await expect(small.run('places', { fileName: 'a.csv', text: csv(1999) })).rejects.toThrow('needs more than 1 MB');
    const gone = new AbortController();
    const waits = new ProcessIntake(log);
    const read = waits.run('places', { fileName: 'a.csv', text: csv(9) }, { signal: gone.signal });
    gone.abort();
    await expect(read).rejects.toThrow();
    for (const intake of [slow, small, waits]) intake.stop();
  });

  it('waits for its turn where many come at once, and all are read', async () => {
    const intake = new ProcessIntake(log);
    const all = await Promise.all(
      Array.from({ length: 6 }, (_, i) => intake.run('places', { fileName: 'a.csv', text: csv(i + 1) })),
    );
    expect(all.map((file) => file.waypoints.length)).toEqual([1, 2, 3, 4, 5, 6]);
    intake.stop();
  });

  it('and takes a moment does not wait behind those that take minutes', async () => {
    const intake = new ProcessIntake(log);
    const path = join(folder, 'none.json');
    await writeFile(path, '{}');
    // More jobs than are read at one time, each of which says so when it is over.
    const over: string[] = [];
    const task = {
      databaseUrl: 'postgres://nobody@127.0.0.1:1/none',
      path,
      choice: 'copy',
      asks: { personId: null, mayReplace: null },
    } as const;
    const jobs = Array.from({ length: 6 }, () => intake.run('job', task).catch(() => over.push('job')));
    await intake.run('levels', { text: '0,-60' }).then(() => over.push('levels'));
    expect(over.indexOf('levels')).toBeLessThan(5);
    await Promise.all(jobs);
    intake.stop();
  });

  it('and unfolds to gigabytes ends before they are there', async () => {
    const block = deflateRawSync(new Uint8Array(32e6), { level: 9, finishFlush: constants.Z_SYNC_FLUSH });
    const bomb = Buffer.concat([Buffer.from([0x78, 0xda]), ...Array<Buffer>(64).fill(block)]);
    const intake = new ProcessIntake(log, {
      bytes: 300 * 1024 * 1024,
      seconds: seconds({ places: 10, job: 60, terrain: 60 }),
    });
    const path = join(folder, 'bomb.tif');
    await writeFile(path, deflated(bomb));
    const databaseUrl = process.env.KIVRAM_TEST_DATABASE_URL ?? '';
    const read = intake.run('terrain', { databaseUrl, path, name: 'bomb.tif', sha256: 'bomb' });
    await expect(read).rejects.toThrow('bomb.tif cannot be read as GeoTIFF (a block of it unfolds to more');
    intake.stop();
  });
});

/** A sound GeoTIFF whose only strip is replaced by another, compressed one. */
function deflated(strip: Buffer): Buffer {
  const sound = Buffer.from(tiffFile(() => 5));
  const little = sound.toString('latin1', 0, 2) === 'II';
  const short = (at: number): number => (little ? sound.readUInt16LE(at) : sound.readUInt16BE(at));
  const writeShort = (value: number, at: number): number =>
    little ? sound.writeUInt16LE(value, at) : sound.writeUInt16BE(value, at);
  const writeLong = (value: number, at: number): number =>
    little ? sound.writeUInt32LE(value, at) : sound.writeUInt32BE(value, at);
  const table = little ? sound.readUInt32LE(4) : sound.readUInt32BE(4);
  for (let i = 0; i < short(table); i++) {
    const at = table + 2 + 12 * i;
    const [tag, type] = [short(at), short(at + 2)];
    const write = type === 3 ? writeShort : writeLong;
    if (tag === 259) write(8, at + 8);
    if (tag === 273) write(sound.length, at + 8);
    if (tag === 279) {
      writeShort(4, at + 2);
      writeLong(strip.length, at + 8);
    }
  }
  return Buffer.concat([sound, strip]);
}

/** Any piece of JSON, and its text. */
const json = fc.json({ maxDepth: 5 });

describe('turns', () => {
  it('let so many run at one time, in the order in which they came, also after one has failed', async () => {
    const turns = new Turns(2);
    const order: string[] = [];
    let running = 0;
    let most = 0;
    const work = (name: string) => async (): Promise<string> => {
      most = Math.max(most, ++running);
      order.push(name);
      await new Promise((resolve) => setTimeout(resolve, 5));
      running--;
      if (name === 'b') throw new Error('b fails');
      return name;
    };
    const all = await Promise.allSettled([...'abcdef'].map((name) => turns.run(work(name))));
    expect(all.map((one) => one.status)).toEqual(['fulfilled', 'rejected', ...Array<string>(4).fill('fulfilled')]);
    expect(order.join('')).toBe('abcdef');
    expect(most).toBe(2);
    expect(await turns.run(work('g'))).toBe('g');
    const few = new Turns(1, 1);
    const [, , third] = await Promise.allSettled([...'hij'].map((name) => few.run(work(name))));
    expect(third).toMatchObject({ status: 'rejected', reason: { status: 503 } });
  });
});

describe('the weight of JSON', () => {
  it('is never less than what is in it', () => {
    const depthOf = (value: unknown): number =>
      typeof value === 'object' && value !== null ? 1 + Math.max(0, ...Object.values(value).map(depthOf)) : 0;
    const countOf = (value: unknown): number =>
      typeof value === 'object' && value !== null
        ? 1 + Object.values(value).reduce((sum: number, v) => sum + countOf(v), 0)
        : 1;
    fc.assert(
      fc.property(json, (text) => {
        const { depth, values } = sizeOfJson(Buffer.from(text));
        const value: unknown = JSON.parse(text);
        expect(depth).toBe(depthOf(value));
        expect(values).toBeGreaterThanOrEqual(countOf(value));
      }),
    );
  });

  it('does not count what stands in texts, whatever is in them', () => {
    expect(sizeOfJson(Buffer.from('"{[,\\"{[,"'))).toEqual({ depth: 0, values: 1 });
    expect(sizeOfJson(Buffer.from('{"a":"\\\\",'))).toEqual({ depth: 1, values: 3 });
    expect(sizeOfJson(Buffer.from('"never ends'))).toEqual({ depth: 0, values: 1 });
  });
});

describe("a job's file", () => {
  const save = async (text: string): Promise<string> => {
    const path = join(folder, 'job.json');
    await writeFile(path, text);
    return path;
  };

  it('is read as JSON is, but for its readings, which come in pieces and in order', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.array(fc.record({ tS: fc.integer(), chainsDbm: fc.array(fc.integer(), { maxLength: 2 }) }), {
            maxLength: 40,
          }),
          { maxLength: 4 },
        ),
        fc.jsonValue({ maxDepth: 3 }),
        async (lists, other) => {
          const document = {
            other,
            alignments: lists.map((readings, i) => ({ id: i, readings, marks: [i] })),
            last: true,
          };
          const pieces: ReadingsPiece[] = [];
          const read = await readJobFile(await save(JSON.stringify(document)), {
            readings: (piece) => Promise.resolve(void pieces.push(piece)),
            photo: () => Promise.resolve(),
            testFile: () => Promise.resolve(),
          });
          expect(read).toEqual(
            JSON.parse(
              JSON.stringify({ ...document, alignments: document.alignments.map((a) => ({ ...a, readings: [] })) }),
            ),
          );
          const found = lists.map((_, i) => pieces.filter((p) => p.alignment === i).flatMap((p) => p.readings));
          expect(found).toEqual(lists);
        },
      ),
      { numRuns: 40 },
    );
  });

  it.each([
    ['{"a":', 'not complete JSON'],
    ['', 'not complete JSON'],
    ['{"a":1}}', 'not complete JSON'],
    [`{"a":${'['.repeat(40)}${']'.repeat(40)}}`, 'levels deep'],
    [`{"alignments":[{"readings":[{"a":[${'1,'.repeat(100)}1]}]}]}`, 'a reading of more than 60 values'],
  ])('%.20s... is refused: %s', async (text, words) => {
    await expect(readJobFile(await save(text))).rejects.toThrow(words);
  });

  it('gets other identifiers wherever they stand', () => {
    const ids = new Map([['a', 'b']]);
    expect(renamed({ id: 'a', list: ['a', { deep: 'a' }], other: 'ab', none: null, n: 1 }, ids)).toEqual({
      id: 'b',
      list: ['b', { deep: 'b' }],
      other: 'ab',
      none: null,
      n: 1,
    });
  });
});
