import { Random } from '../random';

/** What a stand-in throughput run goes through. */
export interface RunConditions {
  /** TCP payload the link would carry, undisturbed */
  capacityMbps: number;
  /** what the feed or the wall socket behind it lets through */
  feedMbps?: number;
  /** share of packets lost on air */
  lossShare?: number;
  reverse: boolean;
  seconds: number;
  startedAtS: number;
  seed: number;
}

/**
 * A run over the stand-in link, written as iperf3 writes its JSON: one interval a second, with the rate that the slowest part
 * lets through, unsteady as TCP is.
 */
export function runThroughput(conditions: RunConditions): Record<string, unknown> {
  const random = new Random(conditions.seed);
  const loss = conditions.lossShare ?? 0;
  // TCP settles where losses let it: Mathis et al. 1997, rate = MSS / (RTT sqrt(2 p / 3)), with 3 ms of round trip.
  const lossLimitMbps = loss > 0 ? (1448 * 8) / (0.003 * Math.sqrt((2 * loss) / 3)) / 1e6 : Infinity;
  const meanMbps = Math.min(conditions.capacityMbps * 0.97, conditions.feedMbps ?? Infinity, lossLimitMbps);
  const intervals = Array.from({ length: conditions.seconds }, (_, i) => {
    const ramp = i === 0 ? 0.85 : 1;
    const bps = Math.max(0, meanMbps * ramp * (1 + 0.03 * random.normal())) * 1e6;
    const retransmits = Math.round(loss * (bps / 8 / 1448) + random.between(0, 2));
    return {
      start: i,
      end: i + 1,
      seconds: 1,
      bytes: Math.round(bps / 8),
      bits_per_second: bps,
      retransmits,
      omitted: false,
    };
  });
  const bytes = intervals.reduce((sum, s) => sum + s.bytes, 0);
  const retransmits = intervals.reduce((sum, s) => sum + s.retransmits, 0);
  const total = {
    start: 0,
    end: conditions.seconds,
    seconds: conditions.seconds,
    bytes,
    bits_per_second: (bytes * 8) / conditions.seconds,
  };
  return {
    start: {
      version: 'iperf 3.12 (stand-in)',
      timestamp: { timesecs: conditions.startedAtS },
      test_start: {
        protocol: 'TCP',
        num_streams: 1,
        duration: conditions.seconds,
        reverse: conditions.reverse ? 1 : 0,
      },
    },
    intervals: intervals.map((s) => ({ streams: [], sum: s })),
    end: { sum_sent: { ...total, retransmits, sender: true }, sum_received: { ...total, sender: true } },
  };
}
