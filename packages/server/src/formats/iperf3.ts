import type { Direction } from '@kivram/contract';
import type { End } from '@kivram/core';
import { ApiProblem } from '../http/problem';

/** What a throughput test file says. */
export interface TestFile {
  at: Date;
  direction: Direction;
  protocol: 'TCP' | 'UDP';
  mbps: number;
  seconds: number;
  retransmits: number | null;
  lossShare: number | null;
  jitterMs: number | null;
  aborted: boolean;
  bothLoaded: boolean;
  warning: string | null;
  raw: Record<string, unknown>;
}

interface Sum {
  seconds?: number;
  bytes?: number;
  bits_per_second?: number;
  retransmits?: number;
  jitter_ms?: number;
  lost_packets?: number;
  packets?: number;
  lost_percent?: number;
}

interface Iperf3Json {
  start?: {
    timestamp?: { timesecs?: number };
    test_start?: { protocol?: string; reverse?: number; duration?: number; bidir?: number };
  };
  intervals?: { sum?: Sum }[];
  end?: { sum?: Sum; sum_sent?: Sum; sum_received?: Sum };
  error?: string;
}

const fail = (detail: string): never => {
  throw new ApiProblem(422, 'Not an iperf3 result', detail);
};

/**
 * Reads what `iperf3 -J` wrote on the client: TCP or UDP, either direction, also when the run was broken off.
 * @param clientAt the end at which the client ran: it sends, unless the run was reversed
 * @throws ApiProblem naming what is wrong with the file
 */
export function readIperf3(text: string, clientAt: End): TestFile {
  const json = parse(text);
  const { start, intervals, end } = json;
  if (!start && json.error) fail(`iperf3 could not begin: ${json.error}. Nothing was measured.`);
  if (!start?.test_start || !Array.isArray(intervals)) {
    return fail('The file is JSON, but has no "start" and "intervals" as iperf3 -J writes them. Choose the file of iperf3 -c ... -J.');
  }
  const test = start.test_start;
  const reverse = test.reverse === 1;
  const protocol = test.protocol === 'UDP' ? 'UDP' : 'TCP';
  const sums = intervals.flatMap((i) => (i.sum ? [i.sum] : []));
  const seconds = sums.reduce((sum, s) => sum + (s.seconds ?? 0), 0);
  const received = protocol === 'UDP' ? end?.sum : end?.sum_received;
  const aborted = !!json.error || !finite(received?.bits_per_second) || seconds < 0.8 * (test.duration ?? 0);
  // A run that was broken off has no end sums worth reading: what its intervals add up to is what was measured.
  const bits = aborted ? sums.reduce((sum, s) => sum + 8 * (s.bytes ?? 0), 0) / Math.max(seconds, 1e-9) : received?.bits_per_second;
  if (!finite(bits) || (!sums.length && !aborted)) return fail('The file holds no interval with a rate.');
  const loss = finite(received?.lost_percent) ? (received?.lost_percent ?? 0) / 100 : null;
  // UDP sums count what was sent; what arrived is less by what was lost.
  const arrived = protocol === 'UDP' && loss !== null ? bits * (1 - loss) : bits;
  const clientSends = !reverse;
  return {
    at: new Date((start.timestamp?.timesecs ?? 0) * 1000),
    direction: (clientAt === 'near') === clientSends ? 'nearToFar' : 'farToNear',
    protocol,
    mbps: Math.max(0, arrived / 1e6),
    seconds,
    retransmits: protocol === 'TCP' && finite(end?.sum_sent?.retransmits) ? (end?.sum_sent?.retransmits ?? null) : null,
    lossShare: protocol === 'UDP' && loss !== null ? Math.min(1, Math.max(0, loss)) : null,
    jitterMs: protocol === 'UDP' && finite(received?.jitter_ms) ? (received?.jitter_ms ?? null) : null,
    aborted,
    bothLoaded: test.bidir === 1,
    warning: json.error ? `iperf3 says: ${json.error}` : aborted ? `Broken off after ${seconds.toFixed(0)} s.` : null,
    raw: json as Record<string, unknown>,
  };
}

function parse(text: string): Iperf3Json {
  if (!text.trim()) return fail('The file is empty.');
  try {
    const json: unknown = JSON.parse(text);
    if (typeof json === 'object' && json !== null && !Array.isArray(json)) return json as Iperf3Json;
    return fail('The file is JSON, but no object as iperf3 -J writes it.');
  } catch (error) {
    if (error instanceof ApiProblem) throw error;
    const plain = /\[ *ID\] Interval/.test(text);
    return fail(
      plain
        ? 'This is iperf3\'s text output. Run it with -J and import that file.'
        : 'The file is not complete JSON. Perhaps the copy was cut short; export it again.',
    );
  }
}

function finite(value: unknown): value is number {
  return typeof value === 'number' && Number.isFinite(value);
}
