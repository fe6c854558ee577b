/** A vertical path: a radio that stays and one under a car that comes and goes. */
export interface Shaft {
  /** antenna to antenna at both ends of the ride */
  leastM: number;
  mostM: number;
}

/** Distances at which a ride is looked at, closest first. */
export function rideDistancesM({ leastM, mostM }: Shaft, count = 21): number[] {
  // The level changes with the logarithm of the distance, so near the fixed end steps are short.
  return Array.from({ length: count }, (_, i) => leastM * (mostM / leastM) ** (i / (count - 1)));
}

/** @throws RangeError naming the value and the repair */
export function checkShaft({ leastM, mostM }: Shaft): void {
  if (!(leastM > 0) || !(mostM > leastM)) {
    throw new RangeError(
      `The car comes as near as ${leastM} m and as far as ${mostM} m: the second must be more than the first.`,
    );
  }
}

/** By how much the walls of a shaft shift a level off free space, either way, dB: common practice, no source. */
export const wallShiftDb = { least: 3, most: 10 };

/** What a moving car changes in the order of work: common practice, no source. */
export const shaftAdvice: readonly string[] = [
  'Only with the lift or hoist firm, the car locked off. Nobody stands under it or on it while it can move.',
  'Aim with the car at the far end of its travel: there the level is least and the beam is widest, and what holds there holds all the way.',
  'Then ride once from end to end and watch the level: it may rise with every metre nearer, but it must not jump. A jump is a landing, a counterweight or a cable in the beam.',
  'Turn the power down until the receiver is not overloaded at the near end, not until the far end looks best.',
  'Set fixed power and a fixed channel: automatic choices hunt when the distance changes with every ride.',
  `Metal walls carry the wave; levels come out ${wallShiftDb.least} to ${wallShiftDb.most} dB off free space either way. Trust the ride, not the figure.`,
  'Mount both antennas beside the ropes with the same polarisation, and mind the sway: under the car a wide beam forgives.',
];
