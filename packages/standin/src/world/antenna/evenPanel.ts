import { straightAperture } from './aperture';

/** A square panel, lit evenly: first side lobe 13.3 dB down (Balanis, Antenna Theory, chapter 12). */
export const evenPanel = straightAperture(
  () => ({ strength: 1 }),
  () => ({ strength: 1 }),
);
