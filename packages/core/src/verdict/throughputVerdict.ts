import { ethernetTcpMbps, type DirectionExpectation } from '../throughput';
import type { Verdict } from './verdict';

/** Which way data goes over a link. */
export const directions = ['nearToFar', 'farToNear'] as const;
export type Direction = (typeof directions)[number];

export const bottlenecks = ['radioRate', 'width', 'ethernet', 'halfDuplex', 'feed', 'none', 'unknown'] as const;
export type Bottleneck = (typeof bottlenecks)[number];

export interface ThroughputVerdict extends Verdict {
  bottleneck: Bottleneck;
}

/** A measured rate with what it is held against. */
export interface ThroughputCase {
  measuredMbps: number;
  aborted: boolean;
  /** both directions loaded at once */
  bothLoaded: boolean;
  expectation: DirectionExpectation;
  /** expectation at half the channel width */
  halfWidth: DirectionExpectation;
  /** expectation at the level last measured, where it was short of the prediction */
  atMeasuredLevel: DirectionExpectation | null;
  needMbps: number;
  /** what the feed delivers, where the test went through it */
  feedMbps: number | null;
}

/** From here up a test counts as what was expected: TCP on a clean half-duplex link comes within a fifth (common practice, no source). */
const asExpected = 0.8;

/** A candidate explains a rate when it lies within so much of it. */
const closeRatio = 0.12;

interface Candidate {
  bottleneck: Bottleneck;
  limitMbps: number;
  reason: string;
}

/** Judges a throughput test against expectation and need, and names the likeliest bottleneck. */
export function judgeThroughput(c: ThroughputCase): ThroughputVerdict {
  const expectedMbps = c.bothLoaded ? c.expectation.bothMbps : c.expectation.aloneMbps;
  const terms = [
    { label: 'measured', value: c.measuredMbps, unit: 'Mbit/s' },
    { label: 'expected', value: expectedMbps, unit: 'Mbit/s' },
    { label: 'needed', value: c.needMbps, unit: 'Mbit/s' },
  ];
  if (c.aborted) {
    return {
      state: 'open',
      headline: 'the test was broken off',
      reason: 'What ran until then is kept, but it proves nothing. Run it again to its end.',
      terms,
      bottleneck: 'unknown',
    };
  }
  const enough = c.measuredMbps >= c.needMbps;
  const good = c.measuredMbps >= asExpected * expectedMbps;
  const found = good ? usualLimit(c) : likeliest(c, expectedMbps);
  const state = enough ? (good ? 'holds' : 'thin') : 'fails';
  const headline = {
    holds: 'as expected, and enough',
    thin: 'enough for the need, but less than this link should give',
    fails: good ? 'as expected, but less than the need: the plan is too small' : 'less than the need',
  }[state];
  return { state, headline, reason: found.reason, terms, bottleneck: found.bottleneck };
}

/** What limits a link that does as well as it should. */
function usualLimit({ expectation }: ThroughputCase): Omit<Candidate, 'limitMbps'> {
  return expectation.limitedBy === 'ethernet'
    ? { bottleneck: 'ethernet', reason: 'The Ethernet port is the limit; the radios could do more.' }
    : { bottleneck: 'none', reason: 'The radio link itself is the limit, as planned.' };
}

function likeliest(c: ThroughputCase, expectedMbps: number): Omit<Candidate, 'limitMbps'> {
  const candidates: Candidate[] = [];
  const add = (bottleneck: Bottleneck, limitMbps: number | null | undefined, reason: string): void => {
    if (limitMbps) candidates.push({ bottleneck, limitMbps, reason });
  };
  add(
    'feed',
    c.feedMbps,
    `The feed delivers ${c.feedMbps ?? 0} Mbit/s, and that is what arrived: the link is not the limit.`,
  );
  for (const port of [10, 100]) {
    add(
      'ethernet',
      ethernetTcpMbps(port),
      `This is what a ${port} Mbit/s Ethernet port lets through: look for such a port, or a cable with a bad pair.`,
    );
  }
  if (c.atMeasuredLevel) {
    add(
      'radioRate',
      pick(c.atMeasuredLevel, c),
      'The level is short of the prediction, and at that level the radios step down to this rate.',
    );
  }
  add(
    'width',
    pick(c.halfWidth, c),
    'This is what half the channel width gives: check the width that both ends really use.',
  );
  if (!c.bothLoaded) {
    add(
      'halfDuplex',
      c.expectation.aloneMbps / 2,
      'Half of what one direction alone gives: something loads the other direction too, or a relay hop shares the radio.',
    );
  }
  const distance = (x: Candidate): number => Math.abs(Math.log(c.measuredMbps / x.limitMbps));
  const best = candidates.filter((x) => distance(x) <= closeRatio).sort((a, b) => distance(a) - distance(b))[0];
  if (best) return best;
  return {
    bottleneck: 'unknown',
    reason: `${((100 * c.measuredMbps) / expectedMbps).toFixed(0)} % of the expectation, and no usual limit fits. Test again by cable at both ends, one direction at a time.`,
  };
}

function pick(expectation: DirectionExpectation, { bothLoaded }: ThroughputCase): number {
  return bothLoaded ? expectation.bothMbps : expectation.aloneMbps;
}
