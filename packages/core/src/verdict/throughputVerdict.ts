import { ethernetPayloadMbps, ethernetTcpMbps } from '../throughput/ethernet';
import type { DirectionExpectation } from '../throughput/expectation';
import type { Ceiling, RunConditions } from '../throughput/run';
import type { Verdict } from './verdict';

/** Which way data goes over a link. */
export const directions = ['nearToFar', 'farToNear'] as const;
export type Direction = (typeof directions)[number];

export const bottlenecks = [
  'radioRate',
  'width',
  'ethernet',
  'halfDuplex',
  'feed',
  'target', // the run itself asked for no more
  'processor',
  'smallPackets',
  'loss',
  'none',
  'unknown',
] as const;
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
  /** the other direction of the same run, where both were loaded and both are known */
  otherMbps: number | null;
  /** share of the packets that were lost; null where nobody counted */
  lossShare: number | null;
  /** how the run was made; null where only a figure is known */
  conditions: RunConditions | null;
  expectation: DirectionExpectation;
  /** what nothing that crosses the link can exceed; null where the link has no prediction */
  ceiling: Ceiling | null;
  /** expectation at half the channel width */
  halfWidth: DirectionExpectation;
  /** expectation at the level last measured, where it was short of the prediction */
  atMeasuredLevel: DirectionExpectation | null;
  needMbps: number;
  /** what the feed delivers, where the test went through it */
  feedMbps: number | null;
}

/** What a measured rate says by itself, without the reasons behind the expectation. */
export type MeasuredRate = Pick<
  ThroughputCase,
  'measuredMbps' | 'aborted' | 'bothLoaded' | 'otherMbps' | 'lossShare' | 'conditions'
>;

/** From here up a test counts as what was expected: TCP on a clean half-duplex link comes within a fifth (common practice, no source). */
const asExpected = 0.8;

/** More than so much over the expectation is not explained by a better level or a faster step than computed (common practice, no source). */
const surprising = 1.3;

/** A candidate explains a rate when it lies within so much of it. */
const closeRatio = 0.12;

/** TCP takes some seconds to find its rate, and a radio to find its step (common practice, no source). */
const leastSeconds = 3;

/** A run that was told a rate and came so near to it was limited by being told. */
const atTarget = 0.9;

/** Clocks and rounding on a screen may add so much to what a port lets through. */
const portSlack = 1.005;

/** So busy a computer may be what limits a run (common practice, no source). */
const busyShare = 0.9;

/** Segments smaller than this make many small packets (common practice, no source); Ethernet carries 1448 to 1460 bytes. */
const smallSegmentBytes = 1000;

/** A clean link loses fewer packets than this at a rate that it carries easily (common practice, no source). */
const cleanLossShare = 0.01;

interface Candidate {
  bottleneck: Bottleneck;
  limitMbps: number;
  reason: string;
}

/** Judges a throughput test against what can be, the expectation and the need, and names the likeliest bottleneck. */
export function judgeThroughput(c: ThroughputCase): ThroughputVerdict {
  const expectedMbps = pick(c.expectation, c);
  const terms = [
    { label: 'measured', value: c.measuredMbps, unit: 'Mbit/s' },
    { label: 'expected', value: expectedMbps, unit: 'Mbit/s' },
    { label: 'needed', value: c.needMbps, unit: 'Mbit/s' },
  ];
  const nothing = provesNothing(c);
  if (nothing) return { state: 'open', ...nothing, terms, bottleneck: 'unknown' };

  const enough = c.measuredMbps >= c.needMbps;
  const good = expectedMbps > 0 && c.measuredMbps >= asExpected * expectedMbps;
  const targetMbps = c.conditions?.targetMbps ?? null;
  const loss = lossAtEase(c, expectedMbps);
  const wasTold = targetMbps !== null && c.measuredMbps >= atTarget * targetMbps;
  if (!good && wasTold && !loss) {
    const asked = rate(targetMbps);
    const more = `The run was told to send ${asked} and did: what more the link carries, it does not say. Run it again without -b.`;
    return enough
      ? {
          state: 'thin',
          headline: `enough for the need; the run asked for no more than ${asked}`,
          reason: more,
          terms,
          bottleneck: 'target',
        }
      : {
          state: 'open',
          headline: `the run asked for only ${asked}, less than the need`,
          reason: more,
          terms,
          bottleneck: 'target',
        };
  }
  // In turns both directions together are held against what one of them has alone.
  const onAirMbps = c.measuredMbps + (c.bothLoaded && c.ceiling?.inTurns ? (c.otherMbps ?? 0) : 0);
  const tooGood = good && onAirMbps > surprising * c.expectation.aloneMbps;
  const usual = wasTold ? toldSo(targetMbps) : usualLimit(c);
  const found = loss ?? (good && !tooGood ? usual : tooGood ? betterThanComputed : likeliest(c, expectedMbps));
  const state = enough ? (good && !tooGood && !loss ? 'holds' : 'thin') : 'fails';
  const headline =
    expectedMbps <= 0
      ? `${enough ? 'enough for the need' : 'less than the need'}, though the plan expects no link`
      : loss
        ? `${enough ? 'enough for the need' : 'less than the need'}, ${c.measuredMbps > 0 ? `but ${percent(c.lossShare ?? 0)} of the packets were lost` : 'and nothing arrived'}`
        : tooGood
          ? `${enough ? 'enough' : 'less than the need'}, but more than this link should give`
          : {
              holds: 'as expected, and enough',
              thin: 'enough for the need, but less than this link should give',
              fails: good ? 'as expected, but less than the need: the plan is too small' : 'less than the need',
            }[state];
  return { state, headline, reason: found.reason, terms, bottleneck: found.bottleneck };
}

/** Why a result says nothing about the link: it was broken off, did not cross the link, or was over before it began. */
function provesNothing(c: ThroughputCase): Pick<Verdict, 'headline' | 'reason'> | null {
  if (c.aborted) {
    return {
      headline: 'the test was broken off',
      reason: 'What ran until then is kept, but it proves nothing. Run it again to its end.',
    };
  }
  if (c.conditions?.oneMachine) {
    return {
      headline: 'both ends of this run were on one machine',
      reason:
        'Nothing crossed the link: the client called its own address. Call the address of the machine at the other end.',
    };
  }
  const { ceiling, measuredMbps } = c;
  const elsewhere =
    'Something else was measured: both ends on one machine, a cable beside the link, or a figure in Mbit/s noted as MByte/s.';
  if (ceiling && measuredMbps > portSlack * ethernetPayloadMbps(ceiling.portMbps)) {
    return {
      headline: `more than a ${ceiling.portMbps} Mbit/s port lets through`,
      reason: `${rate(measuredMbps)} cannot have crossed this link. ${elsewhere}`,
    };
  }
  // In turns both directions share what the air carries.
  const onAirMbps = measuredMbps + (ceiling?.inTurns ? (c.otherMbps ?? 0) : 0);
  if (ceiling && ceiling.airMbps > 0 && onAirMbps > ceiling.airMbps) {
    return {
      headline: `more than these radios send at their fastest step, ${rate(ceiling.airMbps)}`,
      reason: `${rate(onAirMbps)} cannot have crossed this link. ${elsewhere}`,
    };
  }
  const seconds = c.conditions?.seconds;
  if (typeof seconds === 'number' && seconds < leastSeconds) {
    return {
      headline: `the run lasted only ${seconds < 0.1 ? `${Number((1000 * seconds).toPrecision(2))} ms` : `${seconds.toFixed(1)} s`}`,
      reason: `Too short to find its rate: run it for at least ${leastSeconds} s, better 10 s.`,
    };
  }
  return null;
}

const betterThanComputed: Omit<Candidate, 'limitMbps'> = {
  bottleneck: 'unknown',
  reason:
    'More than computed for the level that was predicted. If the level is higher than predicted, correct the plan; else check that nothing but the radios carried it.',
};

/** What limits a link that does as well as it should. */
function usualLimit({ expectation }: ThroughputCase): Omit<Candidate, 'limitMbps'> {
  return expectation.limitedBy === 'ethernet'
    ? { bottleneck: 'ethernet', reason: 'The Ethernet port is the limit; the radios could do more.' }
    : { bottleneck: 'none', reason: 'The radio link itself is the limit, as planned.' };
}

/** A run that did what it was told, and so says nothing about what limits the link. */
function toldSo(targetMbps: number): Omit<Candidate, 'limitMbps'> {
  return {
    bottleneck: 'target',
    reason: `The run was told to send ${rate(targetMbps)} and did, about what the link should give: what more it carries, it does not say.`,
  };
}

/** Packets that were lost although the link should carry that rate easily; a run that sends more than the link carries loses the rest, and that says nothing. */
function lossAtEase(c: ThroughputCase, expectedMbps: number): Omit<Candidate, 'limitMbps'> | undefined {
  const lost = c.lossShare ?? 0;
  const targetMbps = c.conditions?.targetMbps ?? null;
  if (lost >= 1)
    return {
      bottleneck: 'loss',
      reason:
        'All of the packets were lost: nothing crosses the link this way, or something between the two computers stops UDP.',
    };
  if (lost <= cleanLossShare || targetMbps === null || targetMbps >= asExpected * expectedMbps) return undefined;
  return {
    bottleneck: 'loss',
    reason: `${percent(lost)} of the packets were lost at a rate that the link should carry easily: look for interference, a weak level or a bad cable.`,
  };
}

const percent = (part: number): string => `${(100 * part).toFixed(1)} %`;

function likeliest(c: ThroughputCase, expectedMbps: number): Omit<Candidate, 'limitMbps'> {
  const { conditions } = c;
  if ((conditions?.busyShare ?? 0) >= busyShare) {
    return {
      bottleneck: 'processor',
      reason: `A computer of the run was ${(100 * (conditions?.busyShare ?? 0)).toFixed(0)} % busy with it: the computer may be the limit, not the link. Test with a faster one.`,
    };
  }
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
  const segmentBytes = conditions?.segmentBytes ?? Infinity;
  if (segmentBytes < smallSegmentBytes) {
    return {
      bottleneck: 'smallPackets',
      reason: `The run sent segments of ${segmentBytes} bytes: small packets cost more air and more processor than full ones of 1448.`,
    };
  }
  const share =
    expectedMbps > 0 ? `${((100 * c.measuredMbps) / expectedMbps).toFixed(0)} % of the expectation, and no` : 'No';
  return {
    bottleneck: 'unknown',
    reason: `${share} usual limit fits. Test again by cable at both ends, one direction at a time.`,
  };
}

function pick(expectation: DirectionExpectation, { bothLoaded }: ThroughputCase): number {
  return bothLoaded ? expectation.bothMbps : expectation.aloneMbps;
}

function rate(mbps: number): string {
  return `${mbps >= 10 ? mbps.toFixed(0) : Number(mbps.toPrecision(2))} Mbit/s`;
}
