import { roundAperture } from './aperture';

/** A round aperture, lit evenly: first side lobe 17.6 dB down (Balanis, Antenna Theory, chapter 12). */
export const evenDish = roundAperture(() => 1);
