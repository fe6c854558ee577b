import type { LobeFit } from './lobeFit';

// Shares of time and of a beam's width by which a sweep is steered, each with its reason. They were found against simulated installers (`npm run bench`);
// none has a published source.

/** While turning, the level of the moment is that of the last half second: a longer mean lags behind a hand that reacts in 0.3 s. */
export const momentS = 0.5;

/** The level that is shown is averaged a little longer, so that its figure can be read. */
export const shownS = 0.8;

/** So far past the highest reading a lobe has fallen by a decibel and a half, more than noise does: only then "past the peak". */
export const pastHighestWidths = 0.35;

/** A fitted peak is known better than a highest reading, so "past" can be said a little earlier: at one decibel. */
export const pastFitWidths = 0.3;

/** A search over this many times its usual reach has met nothing and will meet nothing: turn back. */
export const giveUpReaches = 1.5;

/** How far the width of a lobe that may be any strays from the spec sheet's main lobe. */
export const unknownLobeSpread = 0.6;

/** A flank counts as seen when it was followed this far out, where a lobe has fallen by two decibels. */
const flankSeenWidths = 0.4;

/** Whether both flanks of a lobe were seen: half a lobe fits many peaks. */
export function lobeIsWhole({ reachAbove, reachBelow }: Pick<LobeFit, 'reachAbove' | 'reachBelow'>): boolean {
  return reachAbove > flankSeenWidths && reachBelow > flankSeenWidths;
}

/** A stroke goes on to where the lobe has fallen by nine decibels: the flank is where the peak is told best. */
export const flankWidths = 0.9;

/** A level so far under the best has left the lobe, whatever fading does. */
export const flankDropDb = 5;

/** A stroke that met nothing near the best level so far has met another lobe. */
export const sameLobeDb = 4;

/** Looking over all points costs, and a third of a second of ten readings a second changes little. */
export const samplesPerLook = 4;

/** Coming back is good enough so near to the peak: 12 x 0.07^2 = 0.06 dB. */
export const closeWidths = 0.07;
