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

/** How far the width of a lobe, as one person's strokes show it, strays from the spec sheet: with angles, and from stroke to stroke without. */
export const widthSpread = { withAngles: 0.15, strokeByTime: 0.35, unknownLobe: 0.6 } as const;

/** A flank counts as seen when it was followed this far out, where a lobe has fallen by two decibels. */
const flankSeenWidths = 0.4;

/** Whether both flanks of a lobe were seen: half a lobe fits many peaks. */
export function lobeIsWhole({ reachAbove, reachBelow }: Pick<LobeFit, 'reachAbove' | 'reachBelow'>): boolean {
  return reachAbove > flankSeenWidths && reachBelow > flankSeenWidths;
}

/** Side lobes are about half as wide as a main lobe; scatter has no shape. Time spreads widths more than angles do. */
const mainLobeWidths = { withAngles: { least: 0.8, most: 1.5 }, byTime: { least: 0.7, most: 1.8 } } as const;

/** Fewer points than this fit anything. */
const leastPoints = 4;

/** Whether a fitted lobe has a main lobe's width, by the shape alone. */
export function hasMainLobeShape(fit: LobeFit | undefined, width: number, known: keyof typeof mainLobeWidths): boolean {
  if (!fit) return false;
  const { least, most } = mainLobeWidths[known];
  return fit.width > least * width && fit.width < most * width && fit.effectivePoints > leastPoints;
}

/** A main lobe's peak and the middle of all that was met lie together; a side lobe's do not. By time both are known less well. */
export const sameCentreWidths = { withAngles: 0.35, byTime: 0.4 } as const;
