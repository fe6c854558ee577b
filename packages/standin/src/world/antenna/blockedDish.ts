import { roundAperture } from './aperture';

/** The feed stands before the middle of the dish and takes so much of its radius. */
const feedRadius = 0.3;
const rim = 0.3;

/** A small dish with its feed in front of it: the shadow lifts the first side lobe, here to about 14 dB down. */
export const blockedDish = roundAperture((radius) => (radius < feedRadius ? 0 : rim + (1 - rim) * (1 - radius ** 2)));
