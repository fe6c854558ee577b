import FFT from 'fft.js';

/** A field over terrain, solved and not estimated. Heights above a common zero at equal steps. */
export interface WaveProblem {
  frequencyMHz: number;
  stepM: number;
  /** terrain at each step; the field is zero in and under it */
  heightsM: number[];
  nearM: number;
  farM: number;
  /** radius of the Earth the air makes of it; Infinity for a flat one */
  radiusM: number;
  topM: number;
  cells: number;
}

const lightSpeedMPerS = 299_792_458;

/**
 * Loss over free space by the parabolic wave equation, split-step Fourier (M. Levy, "Parabolic equation methods for electromagnetic wave propagation",
 * IEE 2000, chapter 2): a route to diffraction that shares nothing with ITU-R P.526. Narrow angle, horizontal polarisation, perfectly
 * conducting ground, a Gaussian beam for an antenna; terrain is a staircase.
 */
export function waveLossDb({ frequencyMHz, stepM, heightsM, nearM, farM, radiusM, topM, cells }: WaveProblem): number {
  const wavelengthM = lightSpeedMPerS / (frequencyMHz * 1e6);
  const k = (2 * Math.PI) / wavelengthM;
  const dz = topM / cells;
  const waist = 3 * wavelengthM;
  // An odd mirror image under the ground makes the Fourier transform a sine transform.
  const fft = new FFT(2 * cells);
  let field = new Float64Array(4 * cells);
  for (let i = 1; i < cells; i++) {
    const value = Math.exp(-(((i * dz - nearM) / waist) ** 2));
    field[2 * i] = value;
    field[2 * (2 * cells - i)] = -value;
  }
  const spectrum = new Float64Array(4 * cells);
  for (let step = 1; step < heightsM.length; step++) {
    fft.transform(spectrum, field);
    for (let i = 0; i < 2 * cells; i++) {
      const p = (Math.PI / topM) * (i < cells ? i : 2 * cells - i);
      turn(spectrum, i, (-p * p * stepM) / (2 * k));
    }
    const next = new Float64Array(4 * cells);
    fft.inverseTransform(next, spectrum);
    const ground = heightsM[step] as number;
    for (let i = 1; i < cells; i++) {
      const z = i * dz;
      turn(next, i, (k * z * stepM) / radiusM);
      // The top quarter swallows what goes up, so that nothing comes back from the lid.
      const rise = z / topM - 0.75;
      const fade = z <= ground ? 0 : rise <= 0 ? 1 : Math.cos(2 * Math.PI * rise) ** 0.5;
      for (const part of [0, 1]) {
        next[2 * i + part] = (next[2 * i + part] as number) * fade;
        next[2 * (2 * cells - i) + part] = -(next[2 * i + part] as number);
      }
    }
    next[0] = next[1] = 0;
    field = next;
  }
  const at = Math.round(farM / dz);
  const magnitude = Math.hypot(field[2 * at] as number, field[2 * at + 1] as number);
  // The same beam in free space, straight up to where the antenna is.
  const distanceM = stepM * (heightsM.length - 1);
  const spread = (2 * distanceM) / (k * waist ** 2);
  const alone = (1 + spread ** 2) ** -0.25 * Math.exp(-(((farM - nearM) / waist) ** 2) / (1 + spread ** 2));
  return 20 * Math.log10(alone / magnitude);
}

function turn(values: Float64Array, i: number, phase: number): void {
  const [re, im] = [values[2 * i] as number, values[2 * i + 1] as number];
  const [c, s] = [Math.cos(phase), Math.sin(phase)];
  values[2 * i] = re * c - im * s;
  values[2 * i + 1] = re * s + im * c;
}
