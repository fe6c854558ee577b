import { describe, expect, it } from 'vitest';
import { TerrainFileError } from '../src/formats/terrain/format';
import { asciiFile, hgtFile, memorySource, readAll, tiffFile } from './terrainFixtures';

const slope = (column: number, row: number): number => 10 + column - 2 * row;

describe('SRTM HGT', () => {
  it('lies where its name says, north-west first, big-endian, voids left out', async () => {
    const bytes = hgtFile((c, r) => (c === 3 && r === 0 ? -32768 : c === 1200 && r === 1200 ? -7 : c));
    const { frame, heightsM, format, wholeMetres } = await readAll(memorySource('S34W071.hgt', bytes));
    expect(format).toBe('hgt');
    expect(wholeMetres).toBe(true);
    expect(frame).toMatchObject({ columns: 1201, rows: 1201, westX: -71, northY: -33 });
    expect(frame.cellX).toBeCloseTo(3 / 3600, 12);
    expect(heightsM[2]).toBe(2);
    expect(heightsM[3]).toBeNaN();
    expect(heightsM.at(-1)).toBe(-7);
  });

  it.each([
    ['N33W038.hgt', 2_884_801, 'has 2884801 bytes'],
    ['tile.hgt', 2_884_802, 'called after its south-west corner'],
    ['N95W038.hgt', 2_884_802, 'which are no degrees'],
  ])('%s of %i bytes: %s', async (name, bytes, words) => {
    const read = readAll(memorySource(name, new Uint8Array(bytes)));
    await expect(read).rejects.toThrow(TerrainFileError);
    await expect(readAll(memorySource(name, new Uint8Array(bytes)))).rejects.toThrow(words);
  });
});

describe('Esri ASCII grids', () => {
  it('take corners and centres, one cell size or two, and any line breaks', async () => {
    const corner = asciiFile({ xllcorner: -38, yllcorner: 33, cellsize: 0.01, NODATA_value: -1 }, 5, 4, slope);
    const centre = Buffer.from(
      Buffer.from(asciiFile({ xllcenter: -37.995, yllcenter: 33.005, dx: 0.01, dy: 0.01 }, 5, 4, slope))
        .toString()
        .replaceAll('\n', '\r\n'),
    );
    const a = await readAll(memorySource('a.asc', corner));
    const b = await readAll(memorySource('b.asc', centre));
    expect(a.frame.westX).toBeCloseTo(b.frame.westX, 12);
    expect(a.frame.northY).toBeCloseTo(33.035, 12);
    expect([...b.heightsM]).toEqual([...a.heightsM]);
    expect(a.heightsM[6]).toBe(slope(1, 1));
  });

  it('hold voids by their own mark, and wrapped rows', async () => {
    const text = 'ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\nnodata_value 99\n1 2\n99 4 5 6\n';
    const { heightsM } = await readAll(memorySource('w.asc', Buffer.from(text)));
    expect([...heightsM]).toEqual([1, 2, NaN, 4, 5, 6]);
  });

  it('need a projection when their numbers are no degrees, and take the one that is said', async () => {
    const bytes = asciiFile({ xllcorner: 600_000, yllcorner: 3_690_000, cellsize: 10 }, 5, 4, slope);
    await expect(readAll(memorySource('u.asc', bytes))).rejects.toThrow('does not tell its projection');
    expect((await readAll(memorySource('u.asc', bytes), 32624)).frame.crs.name).toBe('WGS84 UTM zone 24 north');
    await expect(readAll(memorySource('u.asc', bytes), 3857)).rejects.toThrow(
      'EPSG:3857 is no projection Kivram reads',
    );
  });

  it.each([
    ['ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\n1.000 2 3 4 5\n', 'cut short: it has 5 heights of 6'],
    ['ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3 4 5 6 7\n', 'more heights than its 3 by 2'],
    ['ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3 4 five 6\n', '"five" in row 2'],
    ['ncols 3\nnrows 2\nxllcorner 0\ncellsize 1\n1 2 3 4 5 6\n', 'has no yllcorner'],
    ['ncols three\nnrows 2\n', 'ncols is "three"'],
    ['ncols 3.5\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3 4 5 6\n', 'ncols is 3.5'],
    ['ncols 3\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize -1\n1 2 3 4 5 6\n', 'cell size -1'],
    ['ncols 90000\nnrows 90000\nxllcorner 0\nyllcorner 0\ncellsize 0.0001\n1 2\n', 'more than 100 million'],
    ['ncols 9000\nnrows 9000\nxllcorner 0\nyllcorner 0\ncellsize 0.0001\n1 2\n', 'cut short'],
    ['ncols 3\nrows 2\n', 'unknown line "rows"'],
  ])('%j: %s', async (text, words) => {
    await expect(readAll(memorySource('x.asc', Buffer.from(text)))).rejects.toThrow(words);
  });
});

describe('GeoTIFF', () => {
  it('in UTM, in degrees, and as points instead of areas', async () => {
    const utm = await readAll(memorySource('u.tif', tiffFile(slope)));
    expect(utm.frame).toMatchObject({ westX: 600_005, northY: 3_699_995, cellX: 10, cellY: 10 });
    expect(utm.heightsM[21]).toBe(slope(1, 1));
    const degrees = { west: -38, north: 34, cell: 0.001 };
    const geographic = { GTModelTypeGeoKey: 2, GeographicTypeGeoKey: 4326 };
    const area = await readAll(
      memorySource('a.tif', tiffFile(slope, { ...degrees, keys: { ...geographic, GTRasterTypeGeoKey: 1 } })),
    );
    expect(area.frame.westX).toBeCloseTo(-37.9995, 9);
    const point = await readAll(
      memorySource('p.tif', tiffFile(slope, { ...degrees, keys: { ...geographic, GTRasterTypeGeoKey: 2 } })),
    );
    expect(point.frame.westX).toBeCloseTo(-38, 9);
    expect(point.frame.northY).toBeCloseTo(34, 9);
  });

  it('with its own void mark, and with heights in feet', async () => {
    const voids = await readAll(
      memorySource(
        'v.tif',
        tiffFile((c) => (c === 2 ? 77 : c), { noData: '77' }),
      ),
    );
    expect(voids.heightsM[2]).toBeNaN();
    const keys = {
      GTModelTypeGeoKey: 1,
      GTRasterTypeGeoKey: 1,
      ProjectedCSTypeGeoKey: 32624,
      VerticalUnitsGeoKey: 9002,
    };
    const feet = await readAll(
      memorySource(
        'f.tif',
        tiffFile(() => 100, { keys }),
      ),
    );
    expect(feet.heightsM[0]).toBeCloseTo(30.48, 4);
  });

  it.each([
    [{ GTModelTypeGeoKey: 1, ProjectedCSTypeGeoKey: 3857 }, 'EPSG:3857 is no projection Kivram reads'],
    [{ GTModelTypeGeoKey: 1, ProjectedCSTypeGeoKey: 32767 }, 'a projection of its own making'],
    [{ GTModelTypeGeoKey: 1, ProjectedCSTypeGeoKey: 32624, VerticalUnitsGeoKey: 9014 }, 'in the unit EPSG:9014'],
  ])('%j: %s', async (keys, words) => {
    await expect(readAll(memorySource('x.tif', tiffFile(slope, { keys })))).rejects.toThrow(words);
  });

  it.each([
    [34735, 17, 'its geographic keys are not written as short numbers'],
    [278, 11, 'tag 278 is not written as a whole number'],
    [257, 9, 'tag 257 is not written as a whole number'],
  ])('whose tag %i is of type %i ends, by a refusal: %s', async (tag, type, words) => {
    const bytes = Buffer.from(tiffFile(slope));
    const at =
      10 + 12 * Array.from({ length: bytes.readUInt16BE(8) }, (_, i) => bytes.readUInt16BE(10 + 12 * i)).indexOf(tag);
    bytes.writeUInt16BE(type, at + 2);
    await expect(readAll(memorySource('x.tif', bytes))).rejects.toThrow(words);
  });

  it('says what is wrong when it is cut short anywhere', async () => {
    const whole = tiffFile(slope);
    for (let length = 8; length < whole.length; length += 13) {
      const read = readAll(memorySource('cut.tif', whole.subarray(0, length)));
      await expect(read, `${length} bytes`).rejects.toThrow(TerrainFileError);
    }
  });
});

describe('other files', () => {
  it.each(['holiday.jpg', 'tile.hgt.zip', 'x'])('%s is refused by naming what is read', async (name) => {
    await expect(readAll(memorySource(name, Buffer.from('PK\u0003\u0004 something else')))).rejects.toThrow(
      'GeoTIFF, SRTM HGT, Esri ASCII grid',
    );
  });
});
