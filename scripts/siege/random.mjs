/** Chance that can be repeated: the same seed attacks the same way (mulberry32). */
export class Random {
  #state;

  /** @param {number} seed */
  constructor(seed) {
    this.#state = seed >>> 0;
  }

  /** From 0 up to 1. */
  next() {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0;
    let t = this.#state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }

  /** @param {number} low @param {number} high */
  between(low, high) {
    return low + (high - low) * this.next();
  }

  /** A whole number, both limits possible. @param {number} low @param {number} high */
  whole(low, high) {
    return Math.floor(this.between(low, high + 1));
  }

  /** @param {number} share */
  chance(share) {
    return this.next() < share;
  }

  /** @template T @param {readonly T[]} list @returns {T} */
  of(list) {
    return /** @type {T} */ (list[this.whole(0, list.length - 1)]);
  }
}
