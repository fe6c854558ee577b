import type { Crs } from '@kivram/core/terrain/crs';
import { checkFrame, knownCrs, TerrainFileError, type Strip, type TerrainFormat, type TerrainSource } from './format';

const keys = [
  'ncols',
  'nrows',
  'xllcorner',
  'xllcenter',
  'yllcorner',
  'yllcenter',
  'cellsize',
  'dx',
  'dy',
  'nodata_value',
];
const headBytes = 4096;
const chunkBytes = 1 << 20;

interface Header {
  values: Map<string, number>;
  /** where the heights begin */
  dataOffset: number;
}

/** Esri ASCII grids: a short header, then heights as text from the north-west, row by row. They do not tell their projection. */
export const esriAscii: TerrainFormat = {
  key: 'esri-ascii',
  words: 'Esri ASCII grid',
  recognises: (name, head) =>
    /\.asc$/i.test(name) ||
    /^\s*(ncols|nrows)\s/i.test(Buffer.from(head.buffer, head.byteOffset, head.byteLength).toString('latin1')),
  open: async (source, epsg) => {
    const { values, dataOffset } = readHeader(
      Buffer.from(await source.read(0, headBytes)).toString('latin1'),
      source.name,
    );
    const need = (key: string): number => {
      const value = values.get(key);
      if (value === undefined) throw new TerrainFileError(`The header of ${source.name} has no ${key}.`);
      return value;
    };
    const columns = need('ncols');
    const rows = need('nrows');
    for (const [key, value] of [
      ['ncols', columns],
      ['nrows', rows],
    ] as const) {
      if (!Number.isInteger(value)) throw new TerrainFileError(`${key} is ${value}; it must be a whole number.`);
    }
    const cellX = values.get('dx') ?? need('cellsize');
    const cellY = values.get('dy') ?? need('cellsize');
    const westX = values.get('xllcenter') ?? need('xllcorner') + cellX / 2;
    const southY = values.get('yllcenter') ?? need('yllcorner') + cellY / 2;
    const northY = southY + cellY * (rows - 1);
    const frame = { crs: crsFor(epsg, westX, southY, northY), columns, rows, westX, northY, cellX, cellY };
    checkFrame(frame);
    // A height takes two characters at least, so a file this short cannot hold them.
    if (source.bytes - dataOffset < 2 * columns * rows - 1) {
      throw new TerrainFileError(
        `${source.name} is cut short: ${columns} by ${rows} heights do not fit into ${source.bytes} bytes. Load it again.`,
      );
    }
    return {
      frame,
      wholeMetres: false,
      strips: () => readHeights(source, dataOffset, columns, rows, values.get('nodata_value')),
    };
  },
};

/** Without a word about it, small numbers are degrees. @throws TerrainFileError when the projection must be said */
function crsFor(epsg: number | undefined, westX: number, southY: number, northY: number): Crs {
  if (epsg !== undefined) return knownCrs(epsg);
  if (Math.abs(westX) <= 180 && Math.abs(southY) <= 90 && Math.abs(northY) <= 90) return knownCrs(4326);
  throw new TerrainFileError(
    `An ASCII grid does not tell its projection, and ${westX.toFixed(0)}, ${southY.toFixed(0)} are no degrees. Say the projection (like EPSG:32624 for UTM zone 24 north) and import it again.`,
  );
}

function readHeader(text: string, name: string): Header {
  const values = new Map<string, number>();
  let dataOffset = 0;
  const line = /[ \t]*([a-z_]+)[ \t]+(\S+)[ \t]*(?:\r\n|\n|\r)/iy;
  for (let found = line.exec(text); found; found = line.exec(text)) {
    const key = found[1]?.toLowerCase() ?? '';
    if (!keys.includes(key))
      throw new TerrainFileError(`The header of ${name} has an unknown line "${found[1] ?? ''}".`);
    const value = Number(found[2]);
    if (Number.isNaN(value)) throw new TerrainFileError(`${key} is "${found[2] ?? ''}", which is no number.`);
    values.set(key, value);
    dataOffset = line.lastIndex;
  }
  return { values, dataOffset };
}

async function* readHeights(
  source: TerrainSource,
  dataOffset: number,
  columns: number,
  rows: number,
  noData = -9999,
): AsyncGenerator<Strip> {
  const total = columns * rows;
  const stripRows = Math.min(rows, Math.max(1, Math.floor((1 << 20) / columns)));
  let strip = new Float32Array(stripRows * columns);
  let inStrip = 0;
  let seen = 0;
  let rest = '';
  for (let offset = dataOffset; offset < source.bytes; offset += chunkBytes) {
    const chunk = Buffer.from(await source.read(offset, chunkBytes)).toString('latin1');
    const tokens = (rest + chunk).split(/\s+/);
    const last = offset + chunkBytes >= source.bytes;
    rest = last ? '' : (tokens.pop() ?? '');
    if (rest.length > 64) throw new TerrainFileError(`"${rest.slice(0, 20)}..." in ${source.name} is no height.`);
    for (const token of tokens) {
      if (token === '') continue;
      const value = Number(token);
      if (Number.isNaN(value) && !/^nan$/i.test(token)) {
        throw new TerrainFileError(
          `"${token.slice(0, 20)}" in row ${Math.floor(seen / columns) + 1} of ${source.name} is no height.`,
        );
      }
      if (seen >= total)
        throw new TerrainFileError(`${source.name} has more heights than its ${columns} by ${rows} cells.`);
      strip[inStrip++] = value === noData ? NaN : value;
      seen++;
      if (inStrip === strip.length || seen === total) {
        yield { rows: inStrip / columns, heightsM: strip.subarray(0, inStrip) };
        strip = new Float32Array(stripRows * columns);
        inStrip = 0;
      }
    }
  }
  if (seen < total) {
    throw new TerrainFileError(
      `${source.name} is cut short: it has ${seen} heights of ${total}, the last in row ${Math.floor(seen / columns) + 1}. Load it again.`,
    );
  }
}
