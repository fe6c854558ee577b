import proj4, { type Converter } from 'proj4';
import { CoordinateError, parseCoordinate, type Position } from './coordinates';

/** Universal Transverse Mercator on WGS84, easting and northing in metres. */
export interface Utm {
  zone: number;
  hemisphere: 'north' | 'south';
  eastingM: number;
  northingM: number;
}

const converters = new Map<string, Converter>();

/** Longitude, latitude to easting, northing and back, by proj4's extended transverse Mercator. */
export function utmConverter(zone: number, hemisphere: 'north' | 'south'): Converter {
  const definition = `+proj=utm +zone=${zone}${hemisphere === 'south' ? ' +south' : ''} +datum=WGS84 +units=m +no_defs`;
  let converter = converters.get(definition);
  if (!converter) converters.set(definition, (converter = proj4(definition)));
  return converter;
}

/** The zone of a position by longitude alone; the exceptions of Norway and Svalbard are left out, their zones still convert. */
export function toUtm({ latitudeDeg, longitudeDeg }: Position): Utm {
  const zone = Math.min(60, Math.floor((longitudeDeg + 180) / 6) + 1);
  const hemisphere = latitudeDeg < 0 ? 'south' : 'north';
  const [eastingM = NaN, northingM = NaN] = utmConverter(zone, hemisphere).forward([longitudeDeg, latitudeDeg]);
  return { zone, hemisphere, eastingM, northingM };
}

export function fromUtm({ zone, hemisphere, eastingM, northingM }: Utm): Position {
  const [longitudeDeg = NaN, latitudeDeg = NaN] = utmConverter(zone, hemisphere).inverse([eastingM, northingM]);
  return { latitudeDeg, longitudeDeg };
}

export function formatUtm(position: Position): string {
  const { zone, hemisphere, eastingM, northingM } = toUtm(position);
  return `${zone} ${hemisphere} ${eastingM.toFixed(0)} ${northingM.toFixed(0)}`;
}

const utmPattern = /^(\d{1,2})\s*(north|south|[C-HJ-NP-X])?\s+(\d+(?:\.\d*)?)\s*M?E?[\s,;]+(\d+(?:\.\d*)?)\s*M?N?$/i;

/**
 * Reads a whole position in one line: two coordinates in any form of `parseCoordinate`, parted by a comma with a space behind it, a semicolon, a space or
 * a hemisphere letter, or UTM as zone, hemisphere or latitude band, easting, northing.
 * @throws CoordinateError naming the value and the repair
 */
export function parsePosition(text: string): Position {
  const trimmed = text.trim();
  const utm = utmPattern.exec(trimmed);
  if (utm) return readUtm(trimmed, utm);
  if (/^[+-\u2212]?\d+,\d+$/.test(trimmed)) {
    throw new CoordinateError(
      `"${trimmed}" may be one number or two. Write both latitude and longitude, like 33.41, -37.84 or 33,41; -37,84.`,
    );
  }
  const parts =
    /^([^;]+);([^;]+)$/.exec(trimmed) ?? // 33,41; -37,84
    /^([^,;]+),\s*([^,;]+)$/.exec(trimmed) ?? // 33.41, -37.84
    /^([+-]?\d+,\d+),?\s+([+-]?\d+,\d+)$/.exec(trimmed) ?? // 33,41 -37,84
    /^(.*[NS])\s*[,;]?\s*(.*[EW])$/i.exec(trimmed) ?? // 33 24 43 N 37 50 26 W
    /^([+-]?\d+(?:\.\d+)?)\s+([+-]?\d+(?:\.\d+)?)$/.exec(trimmed); // 33.41 -37.84
  if (!parts?.[1] || !parts[2]) {
    throw new CoordinateError(
      `"${trimmed}" is no position. Write latitude and longitude like 33.41200, -37.84060, or UTM like 25 north 421870 3697420.`,
    );
  }
  return {
    latitudeDeg: parseCoordinate(parts[1], 'latitude'),
    longitudeDeg: parseCoordinate(parts[2], 'longitude'),
  };
}

function readUtm(text: string, match: RegExpExecArray): Position {
  const fail = (why: string): never => {
    throw new CoordinateError(`"${text}" is no UTM position: ${why}. Write it like 25 north 421870 3697420.`);
  };
  const [, zoneText, half, easting, northing] = match;
  const zone = Number(zoneText);
  const letter = half?.toLowerCase();
  if (zone < 1 || zone > 60) return fail(`there is no zone ${zone}, only 1 to 60`);
  if (!letter) return fail('it does not say north or south');
  if (letter === 's') return fail('S may mean the southern half or the latitude band S; write north or south');
  const hemisphere = letter === 'north' || (letter.length === 1 && letter >= 'n') ? 'north' : 'south';
  const eastingM = Number(easting);
  const northingM = Number(northing);
  if (eastingM < 100_000 || eastingM > 900_000)
    return fail(`an easting of ${eastingM} m is not between 100000 and 900000`);
  if (northingM > 10_000_000) return fail(`a northing of ${northingM} m is more than 10000000`);
  return fromUtm({ zone, hemisphere, eastingM, northingM });
}
