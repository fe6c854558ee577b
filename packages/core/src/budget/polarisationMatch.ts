import type { RadioPlan } from './plan';

type Polarised = Pick<RadioPlan, 'polarisation' | 'model'>;

/** How the antennas of two ends swing to each other: both alike, one with both ways against one with a single way, or across. */
export type PolarisationMatch = 'alike' | 'half' | 'crossed';

/** What crossed antennas lose where no spec sheet tells, dB: common practice, no source. */
export const usualCrossPolarDb = 20;

/** What is lost where one antenna sends or takes in two ways and the other only one of them: half of the power, dB. */
export const halfPolarisationDb = 10 * Math.log10(2);

export function polarisationMatch(a: Polarised, b: Polarised): PolarisationMatch {
  if (a.polarisation === b.polarisation) return 'alike';
  return a.polarisation === 'dual' || b.polarisation === 'dual' ? 'half' : 'crossed';
}

/** What two antennas lose by the way they swing, dB. Of two that are crossed the one that tells them apart less well counts. */
export function polarisationLossDb(a: Polarised, b: Polarised): number {
  const match = polarisationMatch(a, b);
  if (match === 'alike') return 0;
  return match === 'half' ? halfPolarisationDb : Math.min(crossPolarDb(a), crossPolarDb(b));
}

/** How many streams cross at once: in the open a stream takes a way of swinging of its own, and both radios must have it. */
export function sharedStreams(a: Polarised, b: Polarised): number {
  return Math.min(streamsOf(a), streamsOf(b));
}

/** How many chains of a radio send: all where the antenna swings both ways, else one. */
export function streamsOf({ polarisation, model }: Polarised): number {
  return polarisation === 'dual' ? model.streams : 1;
}

function crossPolarDb({ model }: Polarised): number {
  return model.crossPolarDb ?? usualCrossPolarDb;
}
