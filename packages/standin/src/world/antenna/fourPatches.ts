import { straightAperture, type Lit } from './aperture';

/** Patches take so much of their share of the panel; the gaps between them lift far side lobes. */
const filled = 0.9;
/** The outer two get less of the power than the inner two. */
const outer = 0.7;

const patches: Lit = (x) => {
  const place = ((x + 1) / 2) * 4;
  const within = Math.abs(place - Math.floor(place) - 0.5) < filled / 2;
  return { strength: within ? (Math.floor(place) === 0 || Math.floor(place) === 3 ? outer : 1) : 0 };
};

/** A panel of four by four patches. */
export const fourPatches = straightAperture(patches, patches);
