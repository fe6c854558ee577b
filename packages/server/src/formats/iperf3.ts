import type { Direction, End } from '@kivram/core';
import { sizeOfJson } from '../http/body';
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

function fail(detail: string): never {
  throw new ApiProblem(422, 'Not an iperf3 result', detail);
}

/**
 * Reads what `iperf3 -J` wrote on the client: TCP or UDP, either direction, also when the run was broken off.
 * @param clientAt the end at which the client ran: it sends, unless the run was reversed
 * @throws ApiProblem naming what is wrong with the file
 */
export function readIperf3(text: string, clientAt: End): TestFile {
  const json = parse(text);
  const error = at(json, 'error');
  const test = at(json, 'start', 'test_start');
  const intervals = at(json, 'intervals');
  if (error !== undefined && !isObject(test))
    return fail(`iperf3 could not begin: ${String(error)}. Nothing was measured.`);
  if (!isObject(test) || !Array.isArray(intervals)) {
    return fail(
      'The file is JSON, but has no "start" and "intervals" as iperf3 -J writes them. Choose the file of iperf3 -c ... -J.',
    );
  }
  const protocol = at(test, 'protocol') === 'UDP' ? 'UDP' : 'TCP';
  const seconds = total(intervals, 'seconds');
  const received = at(json, 'end', protocol === 'UDP' ? 'sum' : 'sum_received');
  const endBits = number(received, 'bits_per_second');
  const aborted = error !== undefined || endBits === null || seconds < 0.8 * (number(test, 'duration') ?? 0);
  // A run that was broken off has no end sums worth reading: what its intervals add up to is what was measured.
  const bits = aborted ? (8 * total(intervals, 'bytes')) / Math.max(seconds, 1e-9) : endBits;
  if (bits === null || seconds <= 0 || !(bits / 1e6 < fastestMbps))
    return fail('The file holds no interval with a rate.');
  const lossPercent = protocol === 'UDP' ? number(received, 'lost_percent') : null;
  const lossShare = lossPercent === null ? null : Math.min(1, Math.max(0, lossPercent / 100));
  const clientSends = at(test, 'reverse') !== 1;
  return {
    at: moment(number(json, 'start', 'timestamp', 'timesecs')),
    direction: (clientAt === 'near') === clientSends ? 'nearToFar' : 'farToNear',
    protocol,
    // UDP sums count what was sent; what arrived is less by what was lost.
    mbps: Math.max(0, (bits * (1 - (lossShare ?? 0))) / 1e6),
    seconds,
    retransmits: protocol === 'TCP' ? whole(number(json, 'end', 'sum_sent', 'retransmits')) : null,
    lossShare,
    jitterMs: protocol === 'UDP' ? number(received, 'jitter_ms') : null,
    aborted,
    bothLoaded: at(test, 'bidir') === 1,
    warning:
      error !== undefined
        ? `iperf3 says: ${String(error)}`.slice(0, 300)
        : aborted
          ? `Broken off after ${seconds.toFixed(0)} s.`
          : null,
    raw: json,
  };
}

/** An hour of ten streams, with an interval a second. */
const mostValues = 1_000_000;
const deepest = 20;

/** No link that Kivram knows of is faster; a rate beyond is no rate. */
const fastestMbps = 1e6;

/** The value at a path, or undefined where the path ends early. A file from outside may hold anything. */
function at(value: unknown, ...path: string[]): unknown {
  return path.reduce<unknown>((here, key) => (isObject(here) ? here[key] : undefined), value);
}

function number(value: unknown, ...path: string[]): number | null {
  const found = at(value, ...path);
  return typeof found === 'number' && Number.isFinite(found) ? found : null;
}

function whole(value: number | null): number | null {
  return value !== null && value >= 0 && value < 2 ** 31 ? Math.round(value) : null;
}

/** Adds a field up over the sums of all intervals. */
function total(intervals: unknown[], key: string): number {
  return intervals.reduce<number>((sum, interval) => sum + Math.max(0, number(interval, 'sum', key) ?? 0), 0);
}

/** When the run began; a file without a believable time counts from now. */
function moment(timesecs: number | null): Date {
  return timesecs !== null && timesecs > 0 && timesecs < 4e9 ? new Date(timesecs * 1000) : new Date();
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function parse(text: string): Record<string, unknown> {
  if (!text.trim()) return fail('The file is empty.');
  const { depth, values } = sizeOfJson(Buffer.from(text));
  if (depth > deepest || values > mostValues)
    return fail(
      `The file holds ${values} values, ${depth} deep. A run of an hour has ${mostValues} at most: run a shorter one.`,
    );
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return fail(
      /\[ *ID\] Interval/.test(text)
        ? "This is iperf3's text output. Run it with -J and import that file."
        : 'The file is not complete JSON. Perhaps the copy was cut short; export it again.',
    );
  }
  return isObject(json) ? json : fail('The file is JSON, but no object as iperf3 -J writes it.');
}
