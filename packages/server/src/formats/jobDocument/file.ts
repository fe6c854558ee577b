import { jobFileLimits, testFileLimits } from '@kivram/contract/jobDocument/limits';
import { Tokenizer, TokenParser, TokenType } from '@streamparser/json';
import { createReadStream } from 'node:fs';
import type { FileHandle } from 'node:fs/promises';
import { ApiProblem } from '../../http/apiProblem';

type Plain = Record<string, unknown>;

/** Readings of one alignment that lie together in the file. */
export interface ReadingsPiece {
  /** which of the alignments, counted from 0 */
  alignment: number;
  readings: unknown[];
}

/** The file that a test was read from. */
export interface TestFilePiece {
  /** which of the tests, counted from 0 */
  test: number;
  raw: unknown;
}

/** Who gets what is large as it comes. */
export interface Takers {
  testFile(piece: TestFilePiece): Promise<void>;
  readings(piece: ReadingsPiece): Promise<void>;
  photo(photo: unknown): Promise<void>;
}

/** Values in one reading; it has eight fields and a level per chain. */
const mostInReading = 60;
/** Pieces of JSON in one photo: sixteen fields, each with its name and marks. */
const mostInPhoto = 240;
/** No record goes deeper than an iperf3 file within a test. */
const deepest = 24;

/**
 * Reads a job's file piece by piece, so that its readings and photos are never in memory all at once.
 * @param file its path, or the open file, which stays open
 * @param take gets these as they come; left out, they are passed over
 * @returns everything else
 * @throws ApiProblem when it is no JSON, or holds more than a job may
 */
export async function readJobFile(file: string | FileHandle, take?: Takers): Promise<unknown> {
  const tokenizer = new Tokenizer();
  const parser = new TokenParser({
    paths: ['$.alignments.*.readings.*', '$.tests.*', '$.photos.*', '$'],
    keepStack: false,
  });
  let document: unknown;
  let values = 0;
  let characters = 0;
  let inReading = 0;
  let readings = 0;
  let inPhoto = 0;
  let inTest = 0;
  let testFiles: TestFilePiece[] = [];
  let photoCount = 0;
  let piece: ReadingsPiece[] = [];
  let photos: unknown[] = [];
  tokenizer.onToken = (token) => {
    const { stack } = parser as unknown as { stack: { key?: string | number }[] };
    if (stack.length > deepest) throw tooLarge(`goes more than ${deepest} levels deep`);
    if (stack.length > 4 && stack[1]?.key === 'alignments' && stack[3]?.key === 'readings') {
      if (++inReading > mostInReading) throw tooLarge(`holds a reading of more than ${mostInReading} values`);
    } else if (stack.length > 2 && stack[1]?.key === 'photos') {
      if (++inPhoto > mostInPhoto) throw tooLarge('holds a photo with more in it than photos have');
    } else if (stack.length > 3 && stack[1]?.key === 'tests' && stack[3]?.key === 'raw') {
      // Of one test at a time, as of a file that comes by itself.
      if (token.token !== TokenType.COMMA && ++inTest > 2 * testFileLimits.values)
        throw tooLarge(`holds a test of more than ${testFileLimits.values} values`);
    } else {
      if (token.token !== TokenType.COMMA && ++values > 2 * jobFileLimits.values)
        throw tooLarge(`holds more than ${jobFileLimits.values} values besides readings`);
      if (typeof token.value === 'string') characters += token.value.length;
      if (characters > jobFileLimits.characters)
        throw tooLarge(`holds more than ${jobFileLimits.characters / 1e6} million characters besides readings`);
    }
    parser.write(token);
  };
  parser.onValue = ({ value, key, parent, stack }) => {
    if (stack.length === 0) {
      document = value;
      return;
    }
    if (stack[1]?.key === 'photos') {
      inPhoto = 0;
      if (++photoCount > jobFileLimits.photos) throw tooLarge(`holds more than ${jobFileLimits.photos} photos`);
      if (take) photos.push(value);
      if (Array.isArray(parent)) parent.length = 0;
      return;
    }
    if (stack[1]?.key === 'tests') {
      inTest = 0;
      const test = value as Plain;
      if (take && test?.raw) testFiles.push({ test: Number(key), raw: test.raw });
      // It stays in its list, as light as the others.
      if (test?.raw) test.raw = null;
      return;
    }
    inReading = 0;
    if (++readings > jobFileLimits.readings) throw tooLarge(`holds more than ${jobFileLimits.readings} readings`);
    const alignment = Number(stack[2]?.key);
    if (take) {
      const last = piece.at(-1);
      if (last?.alignment === alignment) last.readings.push(value);
      else piece.push({ alignment, readings: [value] });
    }
    if (Array.isArray(parent)) parent.length = 0;
  };
  const rethrow = (error: Error): never => {
    throw error;
  };
  tokenizer.onError = rethrow;
  parser.onError = rethrow;
  for await (const chunk of streamOf(file)) {
    try {
      tokenizer.write(chunk as Buffer);
    } catch (error) {
      throw error instanceof ApiProblem ? error : incomplete(error);
    }
    const whole = piece;
    piece = [];
    for (const part of whole) await take?.readings(part);
    const files = testFiles;
    testFiles = [];
    for (const file of files) await take?.testFile(file);
    const pictures = photos;
    photos = [];
    for (const photo of pictures) await take?.photo(photo);
  }
  if (document === undefined) throw incomplete(new Error('it ends too early'));
  return withReadings(document);
}

function streamOf(file: string | FileHandle): AsyncIterable<unknown> {
  const highWaterMark = 256 * 1024;
  return typeof file === 'string'
    ? createReadStream(file, { highWaterMark })
    : file.createReadStream({ highWaterMark, start: 0, autoClose: false });
}

function incomplete(error: unknown): ApiProblem {
  const why = error instanceof Error ? (error.message.split('\n')[0] ?? '').slice(0, 120) : '';
  return new ApiProblem(
    422,
    'Not a valid job document',
    `The file is not complete JSON (${why}). Perhaps the copy was cut short; export the job again.`,
  );
}

/** The lists that the readings were taken out of are lists all the same. */
function withReadings(document: unknown): unknown {
  const { alignments, photos } = (document ?? {}) as Plain;
  if (Array.isArray(photos)) photos.length = 0;
  if (Array.isArray(alignments)) {
    for (const alignment of alignments as (Plain | null)[])
      if (Array.isArray(alignment?.readings)) alignment.readings = [];
  }
  return document;
}

function tooLarge(what: string): ApiProblem {
  return new ApiProblem(422, 'Not a valid job document', `The file ${what}, which no job does. Is it the right file?`);
}
