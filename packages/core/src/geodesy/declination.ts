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

/** The model's own five years, 2025.0 to 2030.0 (WMM2025 report, section 1). */
const validFrom = Date.UTC(2025, 0, 1);
const validUntil = Date.UTC(2030, 0, 1);

/** Until here the library, which counts five years from the model's release, answers by itself; the field changes evenly on from there. */
const libraryUntil = Date.UTC(2029, 10, 12);
const yearMs = 365.25 * 24 * 3600 * 1000;

/**
 * Angle from true to magnetic north by WMM2025 (NOAA / BGS, valid 2025.0 to 2030.0, about 0.4 degrees). A roof full of steel can be off by far
 * more.
 * @param date ISO 8601
 */
export function magneticDeclination(position: Position, heightAslM: number, date: string): Declination {
  const time = Date.parse(date);
  if (Number.isNaN(time)) throw new RangeError(`"${date}" is no date: write it like 2026-05-31.`);
  const within = Math.min(validUntil, Math.max(validFrom, time));
  const at = (moment: number): number =>
    geomagnetism.model(new Date(moment)).point([position.latitudeDeg, position.longitudeDeg, heightAslM / 1000]).decl;
  const known = Math.min(within, libraryUntil);
  const beyondYears = (within - known) / yearMs;
  const declinationDeg = at(known) + (beyondYears ? beyondYears * (at(known) - at(known - yearMs)) : 0);
  return { declinationDeg, model: 'WMM2025', valid: time >= validFrom && time < validUntil };
}

/** The bearing a compass shows for a true bearing, 0 to 360. */
export function magneticBearingDeg(trueBearingDeg: number, declinationDeg: number): number {
  return (((trueBearingDeg - declinationDeg) % 360) + 360) % 360;
}
