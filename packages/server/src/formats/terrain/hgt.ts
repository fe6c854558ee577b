import { checkFrame, knownCrs, TerrainFileError, type TerrainFormat } from './format';

const sidesByBytes = new Map([
  [1201 * 1201 * 2, 1201],
  [3601 * 3601 * 2, 3601],
]);
const namePattern = /^([NS])(\d{2})([EW])(\d{3})/i;

/** SRTM tiles: 16-bit big-endian metres, one degree square, the south-west corner in the name, -32768 where void. */
export const hgt: TerrainFormat = {
  key: 'hgt',
  words: 'SRTM HGT',
  recognises: (name) => /\.hgt$/i.test(name),
  open: async (source) => {
    const side = sidesByBytes.get(source.bytes);
    if (!side) {
      throw new TerrainFileError(
        `${source.name} has ${source.bytes} bytes; an HGT file has ${[...sidesByBytes.keys()].join(' or ')} (3 or 1 arc seconds). It is cut short or something else: load it again.`,
      );
    }
    const corner = namePattern.exec(source.name);
    if (!corner) {
      throw new TerrainFileError(
        `"${source.name}" does not tell where it lies: an HGT file is called after its south-west corner, like N33W038.hgt.`,
      );
    }
    const southDeg = Number(corner[2]) * (corner[1]?.toUpperCase() === 'S' ? -1 : 1);
    const westDeg = Number(corner[4]) * (corner[3]?.toUpperCase() === 'W' ? -1 : 1);
    const cell = 1 / (side - 1);
    const frame = {
      crs: knownCrs(4326),
      columns: side,
      rows: side,
      westX: westDeg,
      northY: southDeg + 1,
      cellX: cell,
      cellY: cell,
    };
    checkFrame(frame);
    return {
      frame,
      wholeMetres: true,
      async *strips() {
        const stripRows = 256;
        for (let row = 0; row < side; row += stripRows) {
          const rows = Math.min(stripRows, side - row);
          const bytes = await source.read(row * side * 2, rows * side * 2);
          if (bytes.byteLength < rows * side * 2)
            throw new TerrainFileError(`${source.name} ends in row ${row}. Load it again.`);
          const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
          const heightsM = new Float32Array(rows * side);
          for (let i = 0; i < heightsM.length; i++) {
            const value = view.getInt16(2 * i);
            heightsM[i] = value === -32768 ? NaN : value;
          }
          yield { rows, heightsM };
        }
      },
    };
  },
};
