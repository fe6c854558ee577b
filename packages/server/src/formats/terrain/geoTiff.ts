import { inflateSync } from 'node:zlib';
import type { Crs } from '@kivram/core/terrain/crs';
import GeoTIFF, { addDecoder, BaseDecoder, getDecoder } from 'geotiff';
import {
  checkFrame,
  knownCrs,
  mostCells,
  TerrainFileError,
  type OpenTerrain,
  type TerrainFormat,
  type TerrainSource,
} from './format';

type Image = Awaited<ReturnType<GeoTIFF['getImage']>>;

/** GeoTIFF and BigTIFF, geographic or UTM, north up, first band; every compression that the library reads. */
export const geoTiff: TerrainFormat = {
  key: 'geotiff',
  words: 'GeoTIFF',
  recognises: (_name, head) => {
    const mark = Buffer.from(head.buffer, head.byteOffset, head.byteLength).toString('latin1', 0, 4);
    return ['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].includes(mark);
  },
  open: async (source, epsg) => {
    await checkDirectory(source);
    const image = await readable(source, async () => {
      const tiff = await GeoTIFF.fromSource(randomAccess(source) as never);
      // Left to itself, the library (3.0) reads the offsets of big-endian files as little-endian; all at once it reads them right.
      tiff.parser.eager = true;
      return tiff.getImage(0);
    });
    return readable(source, () => openImage(source, image, epsg));
  },
};

/** Whatever the library stumbles over in a broken file becomes one clear sentence. */
async function readable<T>(source: TerrainSource, read: () => Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    if (error instanceof TerrainFileError) throw error;
    const why = error instanceof Error ? error.message : String(error);
    throw new TerrainFileError(
      `${source.name} cannot be read as GeoTIFF (${why.slice(0, 120)}). It may be cut short or damaged: load it again, or pass it through gdal_translate.`,
    );
  }
}

async function openImage(source: TerrainSource, image: Image, epsg: number | undefined): Promise<OpenTerrain> {
  const columns = image.getWidth();
  const rows = image.getHeight();
  if (columns * rows > mostCells || !(columns > 0 && rows > 0)) {
    throw new TerrainFileError(
      `The grid has ${columns} by ${rows} cells; up to 100 million can be read. Cut out the part you need, for instance with gdal_translate -projwin.`,
    );
  }
  await refusePicture(source, image);
  // A row of blocks is in memory at one time.
  const blockCells = Math.max(columns, image.getTileWidth()) * image.getTileHeight();
  if (!(blockCells > 0) || blockCells > mostCellsAtOnce) {
    throw new TerrainFileError(
      `The file keeps ${blockCells} cells in one row of blocks; write it in small tiles: gdal_translate -co TILED=YES in.tif out.tif`,
    );
  }
  const crs = readCrs(image, epsg);
  const transformation = (await image.fileDirectory.loadValue('ModelTransformation')) as number[] | undefined;
  if (transformation && ((transformation[1] ?? 0) !== 0 || (transformation[4] ?? 0) !== 0)) {
    throw new TerrainFileError('The grid is turned against north. Straighten it first: gdalwarp in.tif out.tif');
  }
  const [originX = NaN, originY = NaN] = image.getOrigin();
  const [cellX = NaN, stepY = NaN] = image.getResolution();
  if (stepY > 0)
    throw new TerrainFileError('The grid runs from south to north. Turn it over first: gdalwarp in.tif out.tif');
  const cellY = -stepY;
  // A value stands for its whole cell, or (raster type 2) for the very point, which then is the cell's centre.
  const half = geoKey(image, 'GTRasterTypeGeoKey') === 2 ? 0 : 0.5;
  const frame = { crs, columns, rows, westX: originX + half * cellX, northY: originY - half * cellY, cellX, cellY };
  checkFrame(frame);
  const metresPerUnit = unitOf(geoKey(image, 'VerticalUnitsGeoKey'));
  const noData = image.getGDALNoData();
  const bits = image.getBitsPerSample(0);
  return {
    frame,
    wholeMetres: image.getSampleFormat(0) !== 3 && bits <= 16 && metresPerUnit === 1,
    async *strips() {
      const [blockColumns, blockRows] = [Math.min(columns, image.getTileWidth()), image.getTileHeight()];
      // Whole blocks, so that none is decoded twice, and few enough cells at a time that others are served in between.
      const fit = (cells: number, block: number): number => block * Math.max(1, Math.floor(cells / block));
      const stripRows = fit(cellsAtOnce / columns, blockRows);
      const pieceColumns = fit(cellsAtOnce / stripRows, blockColumns);
      for (let row = 0; row < rows; row += stripRows) {
        const until = Math.min(rows, row + stripRows);
        const heightsM = new Float32Array(columns * (until - row));
        for (let column = 0; column < columns; column += pieceColumns) {
          const right = Math.min(columns, column + pieceColumns);
          const values = await readable(source, () => readBand(image, [column, row, right, until]));
          for (let i = 0; i < values.length; i++) {
            const value = values[i] as number;
            const at = Math.floor(i / (right - column)) * columns + column + (i % (right - column));
            heightsM[at] = value === noData ? NaN : value * metresPerUnit;
          }
        }
        yield { rows: until - row, heightsM };
      }
    },
  };
}

const cellsAtOnce = 300_000;
const mostCellsAtOnce = 16_000_000;

/**
 * Unfolds a deflated block no further than its cells have room for: the library's own unfolds 4 MB to 4 GB if the file says so.
 * Compression 8 is Adobe's deflate (TIFF Technical Note, 2002), 32946 the same under its older number.
 */
class BoundedDeflate extends BaseDecoder {
  override decodeBlock(block: ArrayBuffer): ArrayBuffer {
    const { tileWidth, tileHeight, bitsPerSample } = this.parameters;
    const bits = Math.max(...(typeof bitsPerSample === 'number' ? [bitsPerSample] : Array.from(bitsPerSample)));
    const maxOutputLength = Math.min(tileWidth * tileHeight, mostCellsAtOnce) * Math.ceil(bits / 8);
    try {
      return new Uint8Array(inflateSync(new Uint8Array(block), { maxOutputLength })).buffer;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ERR_BUFFER_TOO_LARGE') throw error;
      throw new Error('a block of it unfolds to more than its cells have room for', { cause: error });
    }
  }
}
addDecoder([8, 32946], () => Promise.resolve(BoundedDeflate), undefined, false);

/** Compressions whose decoders the library loads when it meets them: none, LZW, JPEG, PackBits, LERC, Zstandard and WebP, by their numbers in TIFF files. */
const compressions = [1, 5, 7, 32773, 34887, 50000, 50001];

/** Loads whatever else some file might need. */
export async function loadDecoders(): Promise<void> {
  // Some want to know what they decode before they are made; they have been loaded then.
  await Promise.allSettled(compressions.map((compression) => getDecoder(compression, {} as never)));
}

async function readBand(image: Image, window: [number, number, number, number]): Promise<ArrayLike<number>> {
  const [band] = (await image.readRasters({ window, samples: [0] })) as ArrayLike<number>[];
  const [left, top, right, bottom] = window;
  if (!band || band.length !== (right - left) * (bottom - top)) throw new Error('a part of it is incomplete');
  return band;
}

function geoKey(image: Image, key: string): unknown {
  return (image.getGeoKeys() as Record<string, unknown> | null)?.[key];
}

/** Heights are one band of numbers; colours are three, or a palette. */
async function refusePicture(source: TerrainSource, image: Image): Promise<void> {
  const bands = image.getSamplesPerPixel();
  const photometric = Number(await image.fileDirectory.loadValue('PhotometricInterpretation'));
  const isPicture = photometric === 2 || photometric === 3 || photometric === 5 || photometric === 6;
  if (bands === 1 && !isPicture) return;
  throw new TerrainFileError(
    isPicture
      ? `${source.name} is a picture in colours, not a grid of heights. Choose the elevation model itself.`
      : `${source.name} has ${bands} bands, and nothing says which are heights. Take that one out first: gdal_translate -b 1 in.tif out.tif`,
  );
}

function readCrs(image: Image, epsg: number | undefined): Crs {
  const said = geoKey(image, 'ProjectedCSTypeGeoKey') ?? geoKey(image, 'GeographicTypeGeoKey') ?? epsg;
  if (typeof said !== 'number') {
    throw new TerrainFileError(
      'The file does not tell its projection. Say it (like EPSG:4326 or EPSG:32624) and import it again.',
    );
  }
  const code = said === 32767 ? epsg : said;
  if (code === undefined) {
    throw new TerrainFileError(
      'The file has a projection of its own making. Convert it first: gdalwarp -t_srs EPSG:4326 in.tif out.tif',
    );
  }
  return knownCrs(code);
}

/** EPSG codes of vertical units. @throws TerrainFileError for others */
function unitOf(code: unknown): number {
  if (code === undefined || code === 9001) return 1;
  if (code === 9002) return 0.3048;
  if (code === 9003) return 1200 / 3937;
  throw new TerrainFileError(
    `The heights are in the unit EPSG:${String(code)}; Kivram reads metres and feet. Convert the file first, for instance with gdal_calc.`,
  );
}

/** What the library needs of a source. */
function randomAccess(source: TerrainSource) {
  const slice = async (offset: number, length: number): Promise<ArrayBuffer> => {
    const bytes = await source.read(offset, Math.max(0, Math.min(length, source.bytes - offset)));
    return new Uint8Array(bytes).buffer;
  };
  return {
    fileSize: source.bytes,
    fetch: (slices: { offset: number; length: number }[]) => Promise.all(slices.map((s) => slice(s.offset, s.length))),
    fetchSlice: async ({ offset, length }: { offset: number; length: number }) => ({
      offset,
      length,
      data: await slice(offset, length),
    }),
    close: () => Promise.resolve(),
  };
}

/** The list of geographic keys, always of short numbers (OGC 19-008r4, GeoTIFF 1.1, section 7.1.2). */
const geoKeyDirectoryTag = 34735;
const short = 3;

/** Tags by which the cells are found (TIFF 6.0, section 8, and sections 14 and 15): whole numbers, each as byte, short, long or long8. */
const wholeNumberTags = new Set([256, 257, 258, 259, 262, 273, 277, 278, 279, 284, 317, 322, 323, 324, 325, 339]);
const wholeTypes = new Set([1, short, 4, 16]);

const fieldBytes: Record<number, number> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
  13: 4,
  16: 8,
  17: 8,
  18: 8,
};

/**
 * Looks through the first directory before the library does: a damaged count would make it reserve gigabytes, and an offset outside of the file makes no sense.
 * Layout: TIFF 6.0 (Adobe, 1992) section 2, and its BigTIFF extension.
 */
async function checkDirectory(source: TerrainSource): Promise<void> {
  const damaged = (what: string): never => {
    throw new TerrainFileError(
      `${source.name} is damaged or cut short: ${what}. Load it again, or pass it through gdal_translate.`,
    );
  };
  const view = async (offset: number, length: number): Promise<DataView> => {
    if (!(offset >= 0 && offset + length <= source.bytes))
      return damaged(`it points to byte ${offset} of ${source.bytes}`);
    const bytes = await source.read(offset, length);
    if (bytes.byteLength < length) return damaged(`it ends at byte ${offset + bytes.byteLength}`);
    return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  };
  const head = await view(0, 16);
  const little = head.getUint16(0) === 0x4949;
  const big = head.getUint16(2, little) === 43;
  const long = (from: DataView, offset: number): number =>
    big ? Number(from.getBigUint64(offset, little)) : from.getUint32(offset, little);
  const at = long(head, big ? 8 : 4);
  const countBytes = big ? 8 : 2;
  const countView = await view(at, countBytes);
  const entries = big ? Number(countView.getBigUint64(0, little)) : countView.getUint16(0, little);
  if (entries > 500) damaged(`its directory claims ${entries} entries`);
  const entryBytes = big ? 20 : 12;
  const table = await view(at + countBytes, entries * entryBytes);
  for (let i = 0; i < entries; i++) {
    const tag = table.getUint16(i * entryBytes, little);
    const type = table.getUint16(i * entryBytes + 2, little);
    const count = long(table, i * entryBytes + 4);
    // Rows to a strip of 10^-44, or 10^15 keys, would keep whoever reads them busy for years.
    if (tag === geoKeyDirectoryTag && type !== short) damaged('its geographic keys are not written as short numbers');
    if (wholeNumberTags.has(tag) && !(wholeTypes.has(type) && count > 0))
      damaged(`tag ${tag} is not written as a whole number`);
    const length = count * (fieldBytes[type] ?? 1);
    if (length > source.bytes) damaged(`tag ${tag} claims ${count} values`);
    const inline = big ? 8 : 4;
    if (length <= inline) continue;
    const offset = long(table, i * entryBytes + (big ? 12 : 8));
    if (offset + length > source.bytes) damaged(`tag ${tag} points outside of the file`);
  }
}
