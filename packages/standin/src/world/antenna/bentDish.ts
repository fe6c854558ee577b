import { straightAperture } from './aperture';

/** Phase at the rim where the feed sits beside its place, radians: a cubic error, which makes one side lobe larger than the other. */
const bend = 0.9;

/** A dish whose feed was knocked sideways: the first side lobe of one side about 15 dB down, of the other 28, and no two flanks alike. */
export const bentDish = straightAperture(
  (x) => ({ strength: 1 - 0.7 * x * x, phase: bend * x ** 3 }),
  (x) => ({ strength: 1 - 0.7 * x * x }),
);
