import { photoHeadBytes, refusePhoto } from '@kivram/contract/photoKinds';
import exifr from 'exifr';
import { ApiProblem } from '../http/apiProblem';

/** A photo as it is kept: two JPEG pictures that carry nothing but the picture, and what the file said of itself. */
export interface ScaledPhoto {
  full: Uint8Array;
  small: Uint8Array;
  widthPx: number;
  heightPx: number;
  /** ISO 8601; null where the camera does not say */
  takenAt: string | null;
  latitudeDeg: number | null;
  longitudeDeg: number | null;
}

/** Longest sides, px: enough to read a label on a radio, and for a list. */
const fullPx = 2048;
const smallPx = 320;

/** What draws pictures is loaded with the first of them: the server starts without. */
export const loadSharp = async () => (await import('sharp')).default;

/** More are in no phone's photo; a small file can claim any number. */
const mostPixels = 120_000_000;

/** Reads, turns upright, scales and strips a photo. @throws ApiProblem that says what the file is, where it is no photo that can be read here */
export async function scalePhoto(bytes: Uint8Array): Promise<ScaledPhoto> {
  refuseOthers(bytes);
  const told = await toldBy(bytes);
  const sharp = await loadSharp();
  return inWords(async () => {
    const upright = sharp(bytes, { limitInputPixels: mostPixels, sequentialRead: true, pages: 1 }).rotate();
    const { data, info } = await upright
      .resize({ width: fullPx, height: fullPx, fit: 'inside', withoutEnlargement: true })
      // What lies behind a picture with holes is paper.
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 82, progressive: true })
      .toBuffer({ resolveWithObject: true });
    return { full: data, small: await smallOf(data), widthPx: info.width, heightPx: info.height, ...told };
  });
}

/** @throws ApiProblem where the bytes do not begin as a photo does */
function refuseOthers(bytes: Uint8Array): void {
  const refusal = refusePhoto(bytes.subarray(0, photoHeadBytes));
  if (refusal) throw notReadable(refusal);
}

/** What a picture shows in a list. */
async function smallOf(bytes: Uint8Array): Promise<Buffer> {
  const sharp = await loadSharp();
  return sharp(bytes, { limitInputPixels: mostPixels })
    .resize({ width: smallPx, height: smallPx, fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 75 })
    .toBuffer();
}

/** @throws ApiProblem where the picture cannot be drawn */
async function inWords<Result>(draw: () => Promise<Result>): Promise<Result> {
  try {
    return await draw();
  } catch (error) {
    const why =
      error instanceof Error && /pixel/i.test(error.message)
        ? `it claims more than ${mostPixels / 1e6} million pixels`
        : 'it is damaged or cut short';
    throw notReadable(`The photo cannot be read: ${why}. Send it again.`);
  }
}

/**
 * A photo that was scaled before, as a job's file carries it: kept byte by byte where it is nothing but a picture of our size, so that taking a job along wears no picture out; anything else is drawn anew.
 * @throws ApiProblem as `scalePhoto`
 */
export async function keepPhoto(bytes: Uint8Array): Promise<ScaledPhoto> {
  refuseOthers(bytes);
  const sharp = await loadSharp();
  const { width = 0, height = 0, orientation = 1 } = await inWords(() => sharp(bytes).metadata());
  const isOurs = isBareJpeg(bytes) && orientation === 1 && Math.max(width, height) <= fullPx;
  if (!isOurs) return scalePhoto(bytes);
  // The small picture is drawn from all of it, so that a damaged one is found out.
  const small = await inWords(() => smallOf(bytes));
  return { full: bytes, small, widthPx: width, heightPx: height, ...(await toldBy(bytes)) };
}

/** What a picture itself is made of: frame, tables, scans, restarts and the JFIF head (ITU-T T.81, table B.1). Comments and other programs' segments are not. */
const isPicturesOwn = (marker: number): boolean =>
  marker === 0xe0 || marker === 0xdd || marker === 0xdb || (marker >= 0xc0 && marker <= 0xcf);

/** Whether a JPEG file holds its picture and nothing besides, also not behind its end. */
export function isBareJpeg(bytes: Uint8Array): boolean {
  const at = (i: number): number => bytes[i] ?? 0;
  let i = 2;
  while (i + 3 < bytes.length) {
    if (at(i) !== 0xff) return false;
    const marker = at(i + 1);
    const isScan = marker === 0xda;
    if (!isScan && !isPicturesOwn(marker)) return false;
    i += 2 + 256 * at(i + 2) + at(i + 3);
    if (!isScan) continue;
    // A scan goes on to the next marker that is neither a stuffed byte nor a restart.
    while (i + 1 < bytes.length && !(at(i) === 0xff && at(i + 1) !== 0 && !(at(i + 1) >= 0xd0 && at(i + 1) <= 0xd7)))
      i++;
    if (at(i) === 0xff && at(i + 1) === 0xd9) return i + 2 === bytes.length;
  }
  return false;
}

/** When and where it was taken, as far as the camera wrote it down (EXIF). What it wrote wrongly is not known. */
async function toldBy(bytes: Uint8Array): Promise<Pick<ScaledPhoto, 'takenAt' | 'latitudeDeg' | 'longitudeDeg'>> {
  const nothing = { takenAt: null, latitudeDeg: null, longitudeDeg: null };
  try {
    const tags = (await exifr.parse(bytes, { tiff: true, exif: true, gps: true, reviveValues: false })) as
      | Record<string, unknown>
      | undefined;
    if (!tags) return nothing;
    const [latitudeDeg, longitudeDeg] = [tags.latitude, tags.longitude].map(Number);
    const known = isWithin(latitudeDeg, 90) && isWithin(longitudeDeg, 180);
    return {
      takenAt: momentOf(tags.DateTimeOriginal, tags.OffsetTimeOriginal),
      latitudeDeg: known ? (latitudeDeg as number) : null,
      longitudeDeg: known ? (longitudeDeg as number) : null,
    };
  } catch {
    return nothing;
  }
}

const isWithin = (value: number | undefined, most: number): boolean => value !== undefined && Math.abs(value) <= most;

/** EXIF's "2026:05:04 09:30:00" with its zone where it has one; without one the computer's is as good a guess as any. */
function momentOf(text: unknown, offset: unknown): string | null {
  if (typeof text !== 'string') return null;
  const [, year, month, day, time] = /^(\d{4}):(\d\d):(\d\d) (\d\d:\d\d:\d\d)/.exec(text) ?? [];
  const zone = typeof offset === 'string' && /^[+-]\d\d:\d\d$/.test(offset) ? offset : '';
  const ms = Date.parse(`${year}-${month}-${day}T${time}${zone}`);
  const isOurs = ms >= Date.UTC(2000, 0) && ms < Date.UTC(2100, 0);
  return isOurs ? new Date(ms).toISOString() : null;
}

function notReadable(detail: string): ApiProblem {
  return new ApiProblem(422, 'Not readable', detail);
}
