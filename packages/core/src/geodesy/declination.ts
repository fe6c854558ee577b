import geomagnetism from 'geomagnetism';
import type { Position } from './coordinates';

/** A declination of the World Magnetic Model, with the days its model is valid for. */
export interface Declination {
  /** positive when the needle points east of true north */
  declinationDeg: number;
  model: string;
  /** false when the date lies outside the model's five years: the value is then that of its nearest day */
  valid: boolean;
}

const validFrom = Date.UTC(2024, 10, 14);
const validUntil = Date.UTC(2029, 10, 12);

/**
 * Angle from true to magnetic north by WMM2025 (NOAA / BGS, valid 2025.0 to 2030.0, about 0.4 degrees). A roof full of steel can be off by far
 * more.
 * @param date ISO 8601
 */
export function magneticDeclination(position: Position, heightAslM: number, date: string): Declination {
  const time = Date.parse(date);
  if (Number.isNaN(time)) throw new RangeError(`"${date}" is no date: write it like 2026-05-31.`);
  const within = Math.min(validUntil, Math.max(validFrom, time));
  const point = geomagnetism
    .model(new Date(within))
    .point([position.latitudeDeg, position.longitudeDeg, heightAslM / 1000]);
  return { declinationDeg: point.decl, model: 'WMM2025', valid: time >= validFrom && time <= validUntil };
}

/** The bearing a compass shows for a true bearing, 0 to 360. */
export function magneticBearingDeg(trueBearingDeg: number, declinationDeg: number): number {
  return (((trueBearingDeg - declinationDeg) % 360) + 360) % 360;
}
