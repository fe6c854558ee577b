import type { Model } from '../gear/model';

/** The level up to which a receiver is let alone. */
export function mostHeardDbm({ overloadDbm }: Model): number {
  return overloadDbm - overloadSlackDb;
}

/** By so much a level stays under what overloads the receiver, dB: levels come out by some decibels to either side (common practice, no source). */
const overloadSlackDb = 3;
