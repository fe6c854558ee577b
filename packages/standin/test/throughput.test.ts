import { fastestStep, rateSteps, type Model } from '@kivram/core/gear/model';
import type { Protocol } from '@kivram/core/radio/kinds';
import { expectTcp } from '@kivram/core/throughput/expectation';
import { describe, expect, it } from 'vitest';
import { runThroughput, type RunConditions } from '../src/throughput/run';
import { testModel } from './models';

interface Result {
  intervals: { sum: { bits_per_second: number } }[];
  end: { sum_sent: { retransmits: number }; sum_received: { bits_per_second: number } };
}

const run = (model: Model, changes: Partial<RunConditions> & { levelDbm?: number; portMbps?: number } = {}): Result => {
  const { levelDbm = -50, portMbps = 2500, ...more } = changes;
  const end = { model, levelDbm, portMbps };
  return runThroughput({
    from: end,
    to: end,
    widthMHz: 80,
    protocol: '802.11',
    errorCorrection: false,
    reverse: false,
    seconds: 10,
    startedAtS: 0,
    seed: 1,
    ...more,
  }) as unknown as Result;
};
const mbps = (result: Result): number => result.end.sum_received.bits_per_second / 1e6;
const vht = testModel();

describe('a stand-in throughput run', () => {
  it.each<[string, Model, number, number, Protocol]>([
    ['802.11ac', vht, 80, -45, '802.11'],
    ['802.11ac, weaker', vht, 80, -70, '802.11'],
    ['802.11ac, weak', vht, 80, -77, '802.11'],
    ['802.11ac, narrow', vht, 20, -55, '802.11'],
    ['802.11n', testModel({ band: '2.4GHz' }), 40, -55, '802.11'],
    ['802.11ax', testModel({ phy: 'HE' }), 80, -45, '802.11'],
    ['time slots', vht, 40, -50, 'slots'],
    ['60 GHz', testModel({ band: '60GHz' }), 2160, -50, '802.11'],
    ['licensed', testModel({ band: 'licensed' }), 0.3, -70, '802.11'],
  ])(
    '%s: what gets through frame by frame comes within a fifth of what counting one exchange foretells, and both were made apart',
    (_, model, widthMHz, levelDbm, protocol) => {
      const rate = fastestStep(rateSteps(model, widthMHz), levelDbm)?.phyRateMbps ?? 0;
      const expected = expectTcp({
        phy: model.phy,
        protocol,
        phyRateMbps: rate,
        reversePhyRateMbps: rate,
        ethernetMbps: 2500,
      }).aloneMbps;
      const ratio = mbps(run(model, { widthMHz, levelDbm, protocol })) / expected;
      expect(ratio).toBeGreaterThan(0.8);
      expect(ratio).toBeLessThan(1.05);
    },
  );

  it('is held down by its slowest part: a port, a feed, a level', () => {
    expect(mbps(run(vht, { portMbps: 100 }))).toBeCloseTo(94.1, 0); // frame arithmetic of 100BASE-TX
    expect(mbps(run(vht, { portMbps: 10 }))).toBeCloseTo(9.41, 1);
    expect(mbps(run(vht, { feedMbps: 40 }))).toBeCloseTo(37.7, 0);
    expect(mbps(run(vht, { levelDbm: -75 }))).toBeLessThan(0.6 * mbps(run(vht)));
  });

  it('carries nothing where no step is heard', () => {
    const result = run(vht, { levelDbm: -95 });
    expect(mbps(result)).toBe(0);
    expect(result.end.sum_sent.retransmits).toBeGreaterThan(0);
  });

  it('falls with every share of packets that a bad cable eats, as TCP does (Mathis et al. 1997: with the root of the loss)', () => {
    const [none, few, many] = [0, 0.001, 0.01].map((lossShare) => mbps(run(vht, { lossShare }))) as [
      number,
      number,
      number,
    ];
    expect(few).toBeLessThan(none);
    // Ten times the loss costs a factor of sqrt(10) = 3.2 where loss alone limits.
    expect(few / many).toBeGreaterThan(1.8);
    expect(few / many).toBeLessThan(5);
  });

  it('goes by the weaker direction too, which carries the acknowledgements', () => {
    const end = { model: vht, levelDbm: -50, portMbps: 1000 };
    const deaf = run(vht, { from: { ...end, levelDbm: -95 }, to: end });
    expect(mbps(deaf)).toBeLessThan(5);
  });

  it('is the same for the same seed, and another for another', () => {
    expect(mbps(run(vht))).toBe(mbps(run(vht)));
    expect(mbps(run(vht, { seed: 2 }))).not.toBe(mbps(run(vht)));
  });

  it('adds up: the whole is the sum of its seconds', () => {
    const { intervals, end } = run(vht, { seconds: 4 });
    const sum = intervals.reduce((total, i) => total + i.sum.bits_per_second, 0);
    expect(end.sum_received.bits_per_second).toBeCloseTo(sum / 4, 3);
  });
});
