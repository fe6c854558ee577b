/** How the level rises and falls while nothing is turned. */
export interface Fading {
  /** @returns the level against its mean, dB, so much later */
  step(dtS: number): number;
  readonly db: number;
}
