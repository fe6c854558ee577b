/** A position on WGS84, decimal degrees: latitude positive north, longitude positive east. */
export interface Position {
  latitudeDeg: number;
  longitudeDeg: number;
}

export type Axis = 'latitude' | 'longitude';

/** A coordinate that could not be read. The message names the value and how to repair it. */
export class CoordinateError extends Error {
  override name = 'CoordinateError';
}

const limitDeg: Record<Axis, number> = { latitude: 90, longitude: 180 };
const letters: Record<Axis, string> = { latitude: 'NS', longitude: 'EW' };
const example: Record<Axis, string> = {
  latitude: '33.41200 or 33°24\'43.2"N',
  longitude: '-37.84060 or 37°50\'26.2"W',
};

/**
 * Reads one coordinate written as decimal degrees, degrees and minutes, or degrees, minutes and seconds. The hemisphere
 * may be a letter (before or after) or a sign, not both. A comma is taken as the decimal mark.
 * @returns decimal degrees
 * @throws CoordinateError naming the value and the repair
 */
export function parseCoordinate(text: string, axis: Axis): number {
  const fail = (why: string): never => {
    throw new CoordinateError(`"${text.trim()}" is no ${axis}: ${why}. Write it like ${example[axis]}.`);
  };
  let rest = text.trim().toUpperCase().replace(/,/g, '.').replace(/−/g, '-');
  if (!rest) return fail('it is empty');

  const found = rest.match(/[A-Z]/g) ?? [];
  if (found.length > 1) return fail('it has more than one letter');
  const letter = found[0];
  if (letter && !letters[axis].includes(letter)) {
    return fail(`the letter ${letter} does not belong there, only ${letters[axis][0]} or ${letters[axis][1]}`);
  }
  rest = rest.replace(/[A-Z]/g, ' ').trim();
  const signed = /^[+-]/.exec(rest)?.[0];
  if (signed && letter) return fail('it has both a sign and a letter; keep one');
  rest = rest.replace(/^[+-]\s*/, '');

  const parts = rest.split(/[\s°º:'′"″]+/).filter(Boolean);
  if (parts.length < 1 || parts.length > 3) return fail('it should have one to three numbers');
  const values = parts.map((part) => (/^\d+(\.\d*)?$/.test(part) ? Number(part) : NaN));
  const bad = parts.find((_, i) => Number.isNaN(values[i]));
  if (bad !== undefined) return fail(`"${bad}" is not a number`);
  if (parts.slice(0, -1).some((part) => part.includes('.'))) return fail('only the last number may have decimals');

  const [degrees = 0, minutes = 0, seconds = 0] = values;
  if (minutes >= 60) return fail(`${minutes} minutes are more than 59`);
  if (seconds >= 60) return fail(`${seconds} seconds are more than 59`);
  const magnitude = degrees + minutes / 60 + seconds / 3600;
  if (magnitude > limitDeg[axis]) return fail(`it lies beyond ${limitDeg[axis]} degrees`);
  const negative = signed === '-' || letter === 'S' || letter === 'W';
  return negative ? -magnitude : magnitude;
}

/** Degrees, minutes and seconds with the hemisphere letter, seconds to one decimal (about 3 m). */
export function formatDms(valueDeg: number, axis: Axis): string {
  const letter = letters[axis][valueDeg < 0 ? 1 : 0];
  const tenths = Math.round(Math.abs(valueDeg) * 36000);
  const degrees = Math.floor(tenths / 36000);
  const minutes = Math.floor((tenths % 36000) / 600);
  const seconds = (tenths % 600) / 10;
  return `${degrees}°${String(minutes).padStart(2, '0')}'${seconds.toFixed(1).padStart(4, '0')}"${letter}`;
}
