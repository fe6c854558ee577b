import { promisify } from 'node:util';
import { deflateRaw, inflateRaw } from 'node:zlib';

/** Side of a stored tile in cells. */
export const tileSide = 256;
/** Tiles in a row of a grid; the last may reach beyond it. */
export const tilesAcross = (columns: number): number => Math.ceil(columns / tileSide);

const voidInteger = -32768;

const deflate = promisify(deflateRaw);
const inflate = promisify(inflateRaw);

/** Packs a tile's heights, NaN for voids, as 16-bit metres or 32-bit floats. */
export function packTile(heightsM: Float32Array, wholeMetres: boolean): Promise<Buffer> {
  const cells = wholeMetres ? Int16Array.from(heightsM, (h) => (Number.isNaN(h) ? voidInteger : h)) : heightsM;
  return deflate(Buffer.from(cells.buffer, cells.byteOffset, cells.byteLength), { level: 1 });
}

export async function unpackTile(cells: Buffer, wholeMetres: boolean): Promise<Float32Array> {
  const bytes = await inflate(cells);
  const aligned = new Uint8Array(bytes).buffer;
  if (!wholeMetres) return new Float32Array(aligned);
  return Float32Array.from(new Int16Array(aligned), (h) => (h === voidInteger ? NaN : h));
}
