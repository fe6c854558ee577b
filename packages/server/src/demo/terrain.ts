import type { Position } from '@kivram/core/geodesy/coordinates';
import { fromUtm, toUtm } from '@kivram/core/geodesy/utm';
import { Ground, type Pin } from '@kivram/standin/ground/ground';
import { writeArrayBuffer } from 'geotiff';
import { places } from './scenario';

/** The Tessary Isles lie around the ferry office; their grid is UTM zone 24 north, in cells of 12 m. */
const epsg = 32624;
const cellM = 12;
const reach = { westM: 4600, eastM: 2900, southM: 2500, northM: 5000 };

const origin = toUtm(places.ferry);

const at = (position: Position): { eastM: number; northM: number } => {
  const { eastingM, northingM } = toUtm(position);
  return { eastM: eastingM - origin.eastingM, northM: northingM - origin.northingM };
};

const pinned = (Object.values(places) as (Position & { groundHeightM: number })[]).map((place): Pin => ({
  ...at(place),
  heightM: place.groundHeightM,
  reachM: 110,
}));

const hill = (eastM: number, northM: number, heightM: number, alongM: number, acrossM: number, bearingDeg = 0) => ({
  eastM,
  northM,
  heightM,
  alongM,
  acrossM,
  bearingDeg,
});

/** The shape of the isles: all invented. */
export const tessary = new Ground({
  seed: 61,
  floorM: -14,
  hills: [
    hill(-2900, 3500, 185, 900, 620, 40), // the gauge hut's mountain
    hill(-3600, 2300, 70, 900, 500, 150),
    hill(-2050, 1250, 44, 620, 210, 15), // the ridge before the beacon
    hill(-1500, 300, 20, 1500, 900, 100), // the low land of the main isle
    hill(-2300, -900, 22, 700, 420, 70),
    hill(1350, 2050, 62, 620, 380, 120), // the isle of the ice works
    hill(1850, -450, 34, 620, 300, 20), // the spit of the net loft
    hill(150, -350, 9, 520, 260, 160),
    hill(700, -1700, 52, 420, 300, 60),
  ],
  // The last pin is the crest of the ridge on the way to the beacon shed: it leaves 58 % of the zone free.
  pins: [...pinned, { eastM: -2171, northM: 797, heightM: 33.5, reachM: 200 }],
});

/** The isles as a GeoTIFF, heights in decimetre steps. */
export function tessaryGeoTiff(): ArrayBuffer {
  const columns = Math.round((reach.westM + reach.eastM) / cellM);
  const rows = Math.round((reach.northM + reach.southM) / cellM);
  const west = Math.round(origin.eastingM - reach.westM);
  const north = Math.round(origin.northingM + reach.northM);
  const heights = new Float32Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const eastM = west + (column + 0.5) * cellM - origin.eastingM;
      const northM = north - (row + 0.5) * cellM - origin.northingM;
      // The sea's surface is its height: a radio sees no floor.
      heights[row * columns + column] = Math.max(0, Math.round(tessary.heightM(eastM, northM) * 10) / 10);
    }
  }
  return writeArrayBuffer(heights, {
    width: columns,
    height: rows,
    BitsPerSample: [32],
    SampleFormat: [3],
    SamplesPerPixel: 1,
    ModelPixelScale: [cellM, cellM, 0],
    ModelTiepoint: [0, 0, 0, west, north, 0],
    GTModelTypeGeoKey: 1,
    GTRasterTypeGeoKey: 1,
    ProjectedCSTypeGeoKey: epsg,
  });
}

/** A position from metres east and north of the ferry office, for placing things on the isles. */
export function onTessary(eastM: number, northM: number): Position {
  return fromUtm({ ...origin, eastingM: origin.eastingM + eastM, northingM: origin.northingM + northM });
}
