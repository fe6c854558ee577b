import { roundAperture } from './aperture';

/** Field at the rim of a dish whose feed lights its middle most: 14 dB down. */
const rim = 0.2;

/** A dish as feeds light them, a parabola on a pedestal: side lobes lower and further out than of an even one (Balanis, chapter 12). */
export const taperedDish = roundAperture((radius) => rim + (1 - rim) * (1 - radius ** 2));
