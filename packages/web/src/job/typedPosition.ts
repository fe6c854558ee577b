import { CoordinateError, parseCoordinate, type Axis, type Position } from '@kivram/core/geodesy/coordinates';
import { parsePosition } from '@kivram/core/geodesy/utm';

export interface TypedPosition {
  position: Position | null;
  /** what could not be read, by field */
  errors: Partial<Record<Axis, string>>;
}

/** A position typed into two fields; the first may hold all of it, also as UTM, while the second is empty. */
export function typedPosition(latitude: string, longitude: string): TypedPosition {
  if (latitude.trim() && !longitude.trim()) {
    const whole = read(() => parsePosition(latitude));
    if (typeof whole !== 'string') return { position: whole, errors: {} };
    // Neither one coordinate nor a whole position: say what a whole one looks like.
    if (typeof read(() => parseCoordinate(latitude, 'latitude')) === 'string') {
      return { position: null, errors: { latitude: whole } };
    }
  }
  const latitudeDeg = read(() => parseCoordinate(latitude, 'latitude'));
  const longitudeDeg = read(() => parseCoordinate(longitude, 'longitude'));
  if (typeof latitudeDeg === 'number' && typeof longitudeDeg === 'number') {
    return { position: { latitudeDeg, longitudeDeg }, errors: {} };
  }
  return {
    position: null,
    errors: {
      ...(typeof latitudeDeg === 'string' && { latitude: latitudeDeg }),
      ...(typeof longitudeDeg === 'string' && { longitude: longitudeDeg }),
    },
  };
}

/** The value, or in words why there is none. */
function read<T>(parse: () => T): T | string {
  try {
    return parse();
  } catch (error) {
    if (error instanceof CoordinateError) return error.message;
    throw error;
  }
}
