/** The two systems of length the interface can speak. */
export const unitSystems = ['metric', 'imperial'] as const;
export type UnitSystem = (typeof unitSystems)[number];

/** Exactly 0.3048 m: the international foot (NIST SP 811). */
const metresPerFoot = 0.3048;
const feetPerMile = 5280;

export interface Quantity {
  value: number;
  unit: string;
  digits: number;
}

/** A length in the unit people use for its size. */
export function lengthIn(system: UnitSystem, metres: number): Quantity {
  if (system === 'metric') {
    return Math.abs(metres) >= 1000
      ? { value: metres / 1000, unit: 'km', digits: 3 }
      : { value: metres, unit: 'm', digits: 1 };
  }
  const feet = metres / metresPerFoot;
  return Math.abs(feet) >= feetPerMile
    ? { value: feet / feetPerMile, unit: 'mi', digits: 3 }
    : { value: feet, unit: 'ft', digits: 1 };
}

/** A height, which stays in metres or feet however large. */
export function heightIn(system: UnitSystem, metres: number): Quantity {
  return system === 'metric'
    ? { value: metres, unit: 'm', digits: 1 }
    : { value: metres / metresPerFoot, unit: 'ft', digits: 1 };
}

/** Metres from a height typed in the given system. */
export function metresFrom(system: UnitSystem, height: number): number {
  return system === 'metric' ? height : height * metresPerFoot;
}
