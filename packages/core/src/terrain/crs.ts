import type { Position } from '../geodesy/coordinates';
import { utmConverter } from '../geodesy/utm';

/** A coordinate reference system a terrain grid may lie in: geographic degrees, or UTM metres. */
export interface Crs {
  epsg: number;
  name: string;
  kind: 'geographic' | 'utm';
  /** grid coordinates (longitude and latitude, or easting and northing) of a position */
  fromPosition(position: Position): { x: number; y: number };
  toPosition(x: number, y: number): Position;
}

/** Geographic systems whose coordinates are WGS84's within about 2 m; finer than any terrain grid is true. */
const geographicNames: Record<number, string> = { 4326: 'WGS84', 4258: 'ETRS89', 4269: 'NAD83' };

function geographic(epsg: number, name: string): Crs {
  return {
    epsg,
    name: `${name} geographic`,
    kind: 'geographic',
    fromPosition: ({ longitudeDeg, latitudeDeg }) => ({ x: longitudeDeg, y: latitudeDeg }),
    toPosition: (x, y) => ({ longitudeDeg: x, latitudeDeg: y }),
  };
}

function utm(epsg: number, name: string, zone: number, hemisphere: 'north' | 'south'): Crs {
  const converter = utmConverter(zone, hemisphere);
  return {
    epsg,
    name: `${name} UTM zone ${zone} ${hemisphere}`,
    kind: 'utm',
    fromPosition: ({ longitudeDeg, latitudeDeg }) => {
      const [x = NaN, y = NaN] = converter.forward([longitudeDeg, latitudeDeg]);
      return { x, y };
    },
    toPosition: (x, y) => {
      const [longitudeDeg = NaN, latitudeDeg = NaN] = converter.inverse([x, y]);
      return { longitudeDeg, latitudeDeg };
    },
  };
}

/**
 * The system of an EPSG code: 4326, 4258, 4269; UTM on WGS84 (326zz north, 327zz south), on ETRS89 (258zz) and on NAD83 (269zz).
 * @throws RangeError naming the code and the repair
 */
export function crsOf(epsg: number): Crs {
  const name = geographicNames[epsg];
  if (name) return geographic(epsg, name);
  const zone = epsg % 100;
  const series = Math.floor(epsg / 100);
  if (zone >= 1 && zone <= 60) {
    if (series === 326) return utm(epsg, 'WGS84', zone, 'north');
    if (series === 327) return utm(epsg, 'WGS84', zone, 'south');
    if (series === 258 && zone >= 28 && zone <= 38) return utm(epsg, 'ETRS89', zone, 'north');
    if (series === 269 && zone <= 23) return utm(epsg, 'NAD83', zone, 'north');
  }
  throw new RangeError(
    `EPSG:${epsg} is no projection Kivram reads: only geographic WGS84 (EPSG:4326) and UTM (like EPSG:32625). Convert the file first, for instance: gdalwarp -t_srs EPSG:4326 in.tif out.tif`,
  );
}
