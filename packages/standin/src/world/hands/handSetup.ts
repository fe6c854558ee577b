/** What a person's hands are like. */
export interface HandSetup {
  /** from hearing a word to doing it, and its standard deviation, seconds */
  reactionS: number;
  reactionSdS: number;
  /** how a stroke's speed differs from the asked one, standard deviation of its logarithm, and how unsteady it is within */
  speedSpread: number;
  unsteadiness: number;
  /** in so many strokes they turn the wrong way first, for so long, and do not know it */
  wrongWayShare: number;
  wrongWayS: number;
}

/** A practised hand, with the words in the ear. */
export const steadyHand: HandSetup = {
  reactionS: 0.3,
  reactionSdS: 0.08,
  speedSpread: 0.12,
  unsteadiness: 0.15,
  wrongWayShare: 0,
  wrongWayS: 0,
};

/** A helper calls the words up the mast. */
export const slowHand: HandSetup = { ...steadyHand, reactionS: 1.25, reactionSdS: 0.12 };

/** Takes left for right now and then. */
export const confusedHand: HandSetup = { ...steadyHand, wrongWayShare: 0.15, wrongWayS: 2 };
