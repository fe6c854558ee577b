import { oxygenLines, waterVapourLines, type GasLine } from './gasLines';
import { requireRange } from './range';

/** The air that a wave crosses. */
export interface Atmosphere {
  /** of the dry air, without the vapour's share */
  dryPressureHPa: number;
  temperatureC: number;
  vapourGPerM3: number;
}

/** Air at sea level, from which that at other heights follows. */
export type GroundAir = Pick<Atmosphere, 'temperatureC' | 'vapourGPerM3'>;

/** The mean of the globe and the year, ITU-R P.835-6 section 1. */
export const meanGroundAir: GroundAir = { temperatureC: 15, vapourGPerM3: 7.5 };

/**
 * The air at a height up to 11 km over such ground: pressure and temperature fall as in ITU-R P.835-6 section 1, vapour by e every 2 km; 1013.25 hPa at sea level.
 */
export function atmosphereAt(heightAslM: number, ground: GroundAir = meanGroundAir): Atmosphere {
  const heightKm = Math.min(11, Math.max(-0.5, heightAslM / 1000));
  const groundK = ground.temperatureC + 273.15;
  const temperatureK = groundK - 6.5 * heightKm;
  return {
    dryPressureHPa: 1013.25 * (groundK / temperatureK) ** (-34.1632 / 6.5),
    temperatureC: temperatureK - 273.15,
    vapourGPerM3: ground.vapourGPerM3 * Math.exp(-heightKm / 2),
  };
}

/** What air takes from a wave, dB/km. */
export interface GasLoss {
  oxygenDbPerKm: number;
  waterVapourDbPerKm: number;
}

/**
 * Specific attenuation by oxygen and water vapour: the sum over all absorption lines, ITU-R P.676-12 annex 1, equations (1) to (9).
 * @throws RangeError outside 1 MHz to 1000 GHz
 */
export function gasLoss(frequencyMHz: number, air: Atmosphere = atmosphereAt(0)): GasLoss {
  const key = `${frequencyMHz} ${air.dryPressureHPa} ${air.temperatureC} ${air.vapourGPerM3}`;
  const known = knownLosses.get(key);
  if (known) return known;
  if (knownLosses.size >= mostKnownLosses) knownLosses.clear();
  const loss = sumOfLines(frequencyMHz, air);
  knownLosses.set(key, loss);
  return loss;
}

/** Summing 79 lines takes longer than all the rest of a prediction, and a plan asks for few frequencies and heights, many times. */
const knownLosses = new Map<string, GasLoss>();
const mostKnownLosses = 500;

function sumOfLines(frequencyMHz: number, air: Atmosphere): GasLoss {
  requireRange('A frequency for loss in air', frequencyMHz, 1, 1_000_000, 'MHz');
  const f = frequencyMHz / 1000;
  const p = air.dryPressureHPa;
  const temperatureK = air.temperatureC + 273.15;
  const theta = 300 / temperatureK;
  const e = (air.vapourGPerM3 * temperatureK) / 216.7;

  const overlapOf = ([, , , , , a5, a6]: GasLine): number => (a5 + a6 * theta) * 1e-4 * (p + e) * theta ** 0.8;
  const oxygen = oxygenLines.reduce((sum, line) => {
    const [f0, a1, a2, a3, a4] = line;
    const strength = a1 * 1e-7 * p * theta ** 3 * Math.exp(a2 * (1 - theta));
    const pressureWidth = a3 * 1e-4 * (p * theta ** (0.8 - a4) + 1.1 * e * theta);
    // Zeeman splitting widens the lines at low pressure.
    const width = Math.sqrt(pressureWidth ** 2 + 2.25e-6);
    return sum + strength * lineShape(f, f0, width, overlapOf(line));
  }, 0);

  const debyeWidth = 5.6e-4 * (p + e) * theta ** 0.8;
  const dryContinuum =
    f *
    p *
    theta ** 2 *
    (6.14e-5 / (debyeWidth * (1 + (f / debyeWidth) ** 2)) + (1.4e-12 * p * theta ** 1.5) / (1 + 1.9e-5 * f ** 1.5));

  const water = waterVapourLines.reduce((sum, [f0, b1, b2, b3, b4, b5, b6]) => {
    const strength = b1 * 1e-1 * e * theta ** 3.5 * Math.exp(b2 * (1 - theta));
    const pressureWidth = b3 * 1e-4 * (p * theta ** b4 + b5 * e * theta ** b6);
    // Doppler broadening matters only high up.
    const width = 0.535 * pressureWidth + Math.sqrt(0.217 * pressureWidth ** 2 + (2.1316e-12 * f0 ** 2) / theta);
    return sum + strength * lineShape(f, f0, width, 0);
  }, 0);

  return { oxygenDbPerKm: 0.182 * f * (oxygen + dryContinuum), waterVapourDbPerKm: 0.182 * f * water };
}

/** The line shape factor of a line at f0, ITU-R P.676-12 equation (5); frequencies and widths in GHz. */
function lineShape(f: number, f0: number, width: number, overlap: number): number {
  const side = (distance: number): number => (width - overlap * distance) / (distance ** 2 + width ** 2);
  return (f / f0) * (side(f0 - f) + side(f0 + f));
}
