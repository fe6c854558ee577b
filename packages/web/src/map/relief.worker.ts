import { hillshade } from '@kivram/core/terrain/hillshade';
import { fromMercator, mercatorScale } from '@kivram/core/terrain/mercator';
import { expose } from 'comlink';
import { contours } from 'd3-contour';
import { readWindow } from './terrainWindow';

export interface ReliefTile {
  /** north-west corner of the tile in projected metres, and its side */
  west: number;
  north: number;
  side: number;
  pixels: number;
  night: boolean;
}

export interface DrawnTile {
  image: ImageBitmap;
  /** heights of the tile's pixels, for the pointer */
  heightsM: Float32Array;
}

/** Cells around a tile that only slopes and contours need. */
const margin = 2;

/** Draws terrain as shaded relief with contour lines, away from the page's own thread. */
const relief = {
  async draw({ west, north, side, pixels, night }: ReliefTile): Promise<DrawnTile | null> {
    const cell = side / pixels;
    const size = pixels + 2 * margin;
    const raster = await readWindow({
      west: west + (0.5 - margin) * cell,
      north: north - (0.5 - margin) * cell,
      cell,
      columns: size,
      rows: size,
    });
    const { heightsM } = raster;
    if (heightsM.every((h) => Number.isNaN(h))) return null;
    const canvas = new OffscreenCanvas(pixels, pixels);
    const context = canvas.getContext('2d');
    if (!context) return null;
    const scale = mercatorScale(fromMercator(west, north - side / 2).latitudeDeg);
    const shade = hillshade(raster, cell * scale.east, cell * scale.north);
    const inner = new Float32Array(pixels * pixels);
    const image = context.createImageData(pixels, pixels);
    for (let row = 0; row < pixels; row++) {
      for (let column = 0; column < pixels; column++) {
        const from = (row + margin) * size + column + margin;
        const to = row * pixels + column;
        const height = heightsM[from] as number;
        inner[to] = height;
        if (Number.isNaN(height)) continue;
        image.data.set(tint(height, shade[from] ?? 0, night), 4 * to);
      }
    }
    context.putImageData(image, 0, 0);
    drawContours(context, heightsM, size, intervalFor(cell * scale.east), night);
    return { image: canvas.transferToImageBitmap(), heightsM: inner };
  },
};

/** Water flat and cool, land warm and by its light. */
function tint(height: number, shade: number, night: boolean): [number, number, number, number] {
  if (height <= 0) return night ? [24, 40, 48, 255] : [222, 234, 238, 255];
  // Flat ground lies at 0.71 of full light (45 degrees).
  const light = shade === 0 ? 0 : shade / 255 - 0.71;
  const high = Math.min(1, height / 300);
  const base = night
    ? [52 + 20 * high, 54 + 18 * high, 48 + 18 * high]
    : [243 - 22 * high, 240 - 26 * high, 228 - 30 * high];
  return [...base.map((c) => Math.round(c + light * (night ? 70 : 150))), 255] as [number, number, number, number];
}

/** Round contour steps: about one line every 20 pixels on a slope of one in eight. */
function intervalFor(cellM: number): number {
  return [1, 2, 5, 10, 20, 50, 100, 200].find((step) => step >= cellM) ?? 500;
}

function drawContours(
  context: OffscreenCanvasRenderingContext2D,
  heightsM: Float32Array,
  size: number,
  interval: number,
  night: boolean,
): void {
  let least = Infinity;
  let most = -Infinity;
  for (const h of heightsM) {
    if (h < least) least = h;
    if (h > most) most = h;
  }
  const levels: number[] = [];
  // The first line is the shore.
  for (let level = Math.max(interval, Math.ceil(least / interval) * interval); level <= most; level += interval)
    levels.push(level);
  if (least <= 0 && most > 0) levels.unshift(0.05);
  const values = Array.from(heightsM, (h) => (Number.isNaN(h) ? -1e4 : h));
  for (const line of contours().size([size, size]).smooth(true).thresholds(levels)(values)) {
    const shore = line.value < 1;
    const fifth = Math.round(line.value / interval) % 5 === 0;
    context.strokeStyle = night ? (shore ? '#8fb3bd' : '#8c8878') : shore ? '#41606a' : '#8a7f66';
    context.lineWidth = shore ? 1.3 : fifth ? 1.1 : 0.5;
    context.beginPath();
    for (const polygon of line.coordinates) {
      for (const ring of polygon) {
        ring.forEach(([x = 0, y = 0], i) => {
          // d3 counts cell corners from 0; a cell's centre is half a pixel in.
          if (i) context.lineTo(x - margin, y - margin);
          else context.moveTo(x - margin, y - margin);
        });
      }
    }
    context.stroke();
  }
}

export type Relief = typeof relief;
expose(relief);
