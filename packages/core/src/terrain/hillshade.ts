import type { HeightRaster } from './grid';

export interface Light {
  /** where the light comes from, clockwise from north */
  azimuthDeg: number;
  altitudeDeg: number;
  /** heights are stretched by this before shading */
  exaggeration: number;
}

export const mapLight: Light = { azimuthDeg: 315, altitudeDeg: 45, exaggeration: 2 };

/**
 * Shaded relief, 1 (dark) to 255 (bright), 0 where a neighbour is void. Slopes by Horn, "Hill shading and the reflectance map", Proc. IEEE 69
 * (1981), over 3 by 3 cells; the outermost cells have no slope and stay 0.
 */
export function hillshade(
  { columns, rows, heightsM }: HeightRaster,
  cellWidthM: number,
  cellHeightM: number,
  light: Light = mapLight,
): Uint8Array {
  const shade = new Uint8Array(columns * rows);
  const zenith = ((90 - light.altitudeDeg) * Math.PI) / 180;
  const azimuth = (light.azimuthDeg * Math.PI) / 180;
  const cosZenith = Math.cos(zenith);
  const sinZenith = Math.sin(zenith);
  const toEast = Math.sin(azimuth) * sinZenith;
  const toNorth = Math.cos(azimuth) * sinZenith;
  const h = (i: number): number => heightsM[i] ?? NaN;
  for (let row = 1; row < rows - 1; row++) {
    for (let column = 1; column < columns - 1; column++) {
      const i = row * columns + column;
      const [n, s] = [i - columns, i + columns];
      const east = h(n + 1) + 2 * h(i + 1) + h(s + 1) - (h(n - 1) + 2 * h(i - 1) + h(s - 1));
      const south = h(s - 1) + 2 * h(s) + h(s + 1) - (h(n - 1) + 2 * h(n) + h(n + 1));
      const risesEast = (light.exaggeration * east) / (8 * cellWidthM);
      const risesNorth = (light.exaggeration * -south) / (8 * cellHeightM);
      // Lambert: the cosine between the surface's normal (-east, -north, 1) and the light.
      const bright =
        (cosZenith - risesEast * toEast - risesNorth * toNorth) / Math.sqrt(1 + risesEast ** 2 + risesNorth ** 2);
      if (!Number.isNaN(bright)) shade[i] = 1 + Math.round(254 * Math.max(0, bright));
    }
  }
  return shade;
}
