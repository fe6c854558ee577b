import { testFileLimits } from '@kivram/contract/jobDocument/limits';
import { refusePlain } from '@kivram/contract/plain';
import type { End } from '@kivram/core/budget/plan';
import type { RunConditions } from '@kivram/core/throughput/run';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import { sizeOfJson } from '../http/body';
import { ApiProblem } from '../http/apiProblem';

/** What a throughput test file says: one run, and what it measured in one direction or in both. */
export interface TestFile {
  at: Date;
  protocol: 'TCP' | 'UDP';
  seconds: number;
  aborted: boolean;
  /** both directions ran at once */
  bothLoaded: boolean;
  warning: string | null;
  conditions: RunConditions;
  measured: MeasuredDirection[];
  raw: Record<string, unknown>;
}

export interface MeasuredDirection {
  direction: Direction;
  mbps: number;
  retransmits: number | null;
  lossShare: number | null;
  jitterMs: number | null;
}

function fail(detail: string): never {
  throw new ApiProblem(422, 'Not an iperf3 result', detail);
}

/**
 * Reads what `iperf3 -J` wrote, on the client or on the server: TCP or UDP, either direction or both at once, one stream or several, by time or by
 * amount, with seconds left out, also when the run was broken off.
 * @param clientAt the end at which the client ran: it sends, unless the run was reversed
 * @throws ApiProblem naming what is wrong with the file
 */
export function readIperf3(text: string, clientAt: End): TestFile {
  const json = parse(text);
  const error = at(json, 'error');
  const test = at(json, 'start', 'test_start');
  const every = at(json, 'intervals');
  if (error !== undefined && !isObject(test))
    return fail(`iperf3 could not begin: ${String(error).slice(0, 200)}. Nothing was measured.`);
  if (!isObject(test) || !Array.isArray(every)) {
    return fail(
      'The file is JSON, but has no "start" and "intervals" as iperf3 -J writes them. Choose the file of iperf3 -c ... -J.',
    );
  }
  const protocol = at(test, 'protocol') === 'UDP' ? 'UDP' : 'TCP';
  const isOmitted = (interval: unknown): boolean => at(interval, 'sum', 'omitted') === true;
  const intervals = every.filter((interval) => !isOmitted(interval));
  const omittedSeconds = Math.min(
    longestS,
    Math.max(0, number(test, 'omit') ?? total(every.filter(isOmitted), 'sum', 'seconds')),
  );
  const counted = total(intervals, 'sum', 'seconds');
  const end = at(json, 'end');
  const aborted =
    error !== undefined ||
    endSums.every((key) => number(end, key, 'bits_per_second') === null) ||
    counted < 0.8 * (number(test, 'duration') ?? 0);
  // The end sums know the time of a run best; one that was broken off has only its intervals.
  const ended = endSums
    .map((key) => number(end, key, 'seconds'))
    .find((value) => value !== null && value > 0 && value < longestS);
  const seconds = aborted ? counted : (ended ?? counted);
  const clientSends = at(test, 'reverse') !== 1;
  const isServers = isObject(at(json, 'start', 'accepted_connection'));
  const read = (sum: Sums['sum'], suffix: string, sends: boolean): Omit<MeasuredDirection, 'direction'> | null => {
    const sums = { end, intervals, seconds, sum, suffix, isUntold: isServers && !sends };
    return aborted ? brokenOff(sums) : protocol === 'UDP' ? finishedUdp(sums) : finishedTcp(sums);
  };
  const both =
    at(test, 'bidir') === 1 ||
    at(end, 'sum_received_bidir_reverse') !== undefined ||
    intervals.some((interval) => isObject(at(interval, 'sum_bidir_reverse')));
  const outwards: Direction = (clientAt === 'near') === clientSends ? 'nearToFar' : 'farToNear';
  const back: Direction = outwards === 'nearToFar' ? 'farToNear' : 'nearToFar';
  const measured = [
    [outwards, read('sum', '', clientSends)] as const,
    [back, both ? read('sum_bidir_reverse', '_bidir_reverse', !clientSends) : null] as const,
  ].flatMap(([direction, one]): MeasuredDirection[] => (one ? [{ direction, ...one }] : []));
  if (!measured.length)
    return fail(
      'Nobody counted what arrived: of UDP a server that sent does not know it, and where neither loss nor jitter was seen nothing came. Bring the file of the other machine.',
    );
  if (!(seconds > 0 && seconds < longestS) || measured.some(({ mbps }) => !(mbps < fastestMbps)))
    return fail('The file holds no interval with a rate.');
  return {
    at: moment(number(json, 'start', 'timestamp', 'timesecs')),
    protocol,
    seconds,
    aborted,
    bothLoaded: both,
    warning:
      error !== undefined
        ? `iperf3 says: ${String(error)}`.slice(0, 300)
        : aborted
          ? `Broken off after ${seconds.toFixed(0)} s.`
          : null,
    conditions: conditionsOf(json, { seconds, omittedSeconds }),
    measured,
    raw: json,
  };
}

function conditionsOf(
  json: Record<string, unknown>,
  times: Pick<RunConditions, 'omittedSeconds'> & { seconds: number },
): RunConditions {
  const test = at(json, 'start', 'test_start');
  const streams = Math.min(1000, Math.max(1, Math.round(number(test, 'num_streams') ?? 1)));
  // iperf3 tells the target of one stream; 0 is none.
  const target = number(test, 'target_bitrate') ?? 0;
  const busy = ['host_total', 'remote_total'].map((key) => number(json, 'end', 'cpu_utilization_percent', key) ?? 0);
  const connected = at(json, 'start', 'connected');
  const first: unknown = Array.isArray(connected) ? connected[0] : undefined;
  const [here, there] = [at(first, 'local_host'), at(first, 'remote_host')];
  const segment = whole(number(json, 'start', 'tcp_mss_default') ?? number(json, 'start', 'tcp_mss') ?? udpSize(test));
  return {
    ...times,
    streams,
    targetMbps: target > 0 && (target * streams) / 1e6 < fastestMbps ? (target * streams) / 1e6 : null,
    segmentBytes: segment && segment <= 65_536 ? segment : null,
    busyShare: Math.max(...busy) > 0 ? Math.min(1, Math.max(...busy) / 100) : null,
    oneMachine: typeof here === 'string' && (here === there || [here, there].some(isLoopback)),
  };
}

/** Any address by which a computer calls itself: RFC 1122 section 3.2.1.3 (127.0.0.0/8) and RFC 4291 section 2.5.3. */
function isLoopback(host: unknown): boolean {
  return typeof host === 'string' && (/^(::ffff:)?127\./i.test(host) || host === '::1');
}

function udpSize(test: unknown): number | null {
  return at(test, 'protocol') === 'UDP' ? number(test, 'blksize') : null;
}

const endSums = ['sum_received', 'sum', 'sum_sent'];

interface Sums {
  end: unknown;
  intervals: unknown[];
  /** in which the intervals keep this direction */
  sum: 'sum' | 'sum_bidir_reverse';
  /** what the names of its end sums end in */
  suffix: string;
  /** the file is of a server that sent this direction: what arrived it is never told, as a client is */
  isUntold: boolean;
  seconds: number;
}

/** A run that was broken off has no end sums worth reading: what its intervals add up to is what was measured. */
function brokenOff({ intervals, sum, seconds }: Sums): Omit<MeasuredDirection, 'direction'> {
  const mbps = (8 * total(intervals, sum, 'bytes')) / Math.max(seconds, 1e-9) / 1e6;
  return { mbps, retransmits: null, lossShare: null, jitterMs: null };
}

/** A server that only sent knows nothing of what arrived, and a client of what it received before it was asked: the side that counted bytes tells. */
function finishedTcp({ end, suffix, isUntold }: Sums): Omit<MeasuredDirection, 'direction'> {
  const [received, sent] = [at(end, `sum_received${suffix}`), at(end, `sum_sent${suffix}`)];
  // TCP sends no more than what the other side acknowledges, but for what waits on the way.
  const isCounted = (number(received, 'bytes') ?? 0) > 0 || !isUntold;
  return {
    mbps: rateOf(isCounted && number(received, 'bits_per_second') !== null ? received : sent),
    retransmits: whole(number(sent, 'retransmits')),
    lossShare: null,
    jitterMs: null,
  };
}

/**
 * What arrived counts. Where nothing did, iperf3 writes a rate of 0 and no loss, and so it does where the file is of a server that sent.
 * @returns null where nobody counted what arrived
 */
function finishedUdp({ end, suffix, isUntold }: Sums): Omit<MeasuredDirection, 'direction'> | null {
  const [received, sent] = [at(end, `sum_received${suffix}`), at(end, `sum_sent${suffix}`)];
  const both = at(end, `sum${suffix}`);
  if (received === undefined) return oldUdp(both ?? sent);
  const arrived = ['packets', 'bytes', 'bits_per_second'].some((key) => (number(received, key) ?? 0) !== 0);
  if (!arrived && isUntold) return null;
  const lostShare = share(number(received, 'lost_percent') ?? number(both, 'lost_percent'));
  const sentBytes = number(sent, 'bytes') ?? 0;
  const missing = sentBytes > 0 ? 1 - (number(received, 'bytes') ?? 0) / sentBytes : 0;
  return {
    mbps: rateOf(received),
    retransmits: null,
    // iperf3 counts gaps between packets that came: those after the last one it does not see.
    lossShare: !arrived ? 1 : missing > unseenShare ? Math.max(lostShare ?? 0, missing) : lostShare,
    jitterMs: arrived ? (number(received, 'jitter_ms') ?? number(both, 'jitter_ms')) : null,
  };
}

/** Fewer than these may be on their way when a run ends. */
const unseenShare = 0.05;

/**
 * Before version 3.7 there was one sum: what was sent, with what of it the other side saw lost.
 * @returns null where jitter and loss are both nothing: then no packet was seen, for two that come have some jitter
 */
function oldUdp(sum: unknown): Omit<MeasuredDirection, 'direction'> | null {
  const [lossShare, jitterMs] = [share(number(sum, 'lost_percent')), number(sum, 'jitter_ms')];
  if (!lossShare && !jitterMs) return null;
  return { mbps: rateOf(sum) * (1 - (lossShare ?? 0)), retransmits: null, lossShare, jitterMs };
}

function share(percent: number | null): number | null {
  return percent === null ? null : Math.min(1, Math.max(0, percent / 100));
}

/** A rate and the bytes that it was made of may differ by this factor: iperf3 takes the times of one side for the bytes of the other. */
const sameRate = 1.5;

/** The rate of one sum, Mbit/s; 0 where there is none. */
function rateOf(sum: unknown): number {
  const bits = number(sum, 'bits_per_second') ?? 0;
  if (bits < 0) return fail(`A rate of ${bits} bit/s is below nothing: the file was changed after iperf3 wrote it.`);
  const [bytes, seconds] = [number(sum, 'bytes'), number(sum, 'seconds')];
  const counted = bytes !== null && seconds ? (8 * bytes) / seconds : null;
  if (counted !== null && counted > 0 && (bits > sameRate * counted || bits < counted / sameRate))
    return fail(
      `The file says ${mbit(bits)}, but its ${bytes ?? 0} bytes in ${(seconds ?? 0).toFixed(1)} s make ${mbit(counted)}: it was changed after iperf3 wrote it.`,
    );
  return bits / 1e6;
}

const mbit = (bits: number): string => `${Number((bits / 1e6).toPrecision(3))} Mbit/s`;

/** Eleven days: no run is longer. */
const longestS = 1e6;

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
function total(intervals: unknown[], sum: string, key: string): number {
  return intervals.reduce<number>((so, interval) => so + Math.max(0, number(interval, sum, key) ?? 0), 0);
}

/** When the run began; a file without a believable time counts from now. */
function moment(timesecs: number | null): Date {
  return timesecs !== null && timesecs > 0 && timesecs < 4e9 ? new Date(timesecs * 1000) : new Date();
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function parse(file: string): Record<string, unknown> {
  const text = jsonIn(file);
  if (!text) return fail('The file is empty.');
  const { depth, values } = sizeOfJson(Buffer.from(text));
  if (depth > testFileLimits.depth || values > testFileLimits.values)
    return fail(
      `The file holds ${values} values, ${depth} deep. A run of an hour has ${testFileLimits.values} at most: run a shorter one.`,
    );
  let json: unknown;
  try {
    json = isStream(text) ? fromStream(text) : JSON.parse(text);
  } catch {
    return fail(
      /\[ *ID\] Interval/.test(text)
        ? "This is iperf3's text output. Run it with -J and import that file."
        : 'The file is not complete JSON. Perhaps the copy was cut short; export it again.',
    );
  }
  // What cannot be kept, or brought back from a job's file, is not taken in.
  const wrong = refusePlain(json, testFileLimits);
  if (wrong) return fail(`The file holds what iperf3 does not write: ${wrong.message}.`);
  return isObject(json) ? json : fail('The file is JSON, but no object as iperf3 -J writes it.');
}

/**
 * The JSON in a file, without what stands around it: the zeros of UTF-16 that a Windows shell writes and somebody read as bytes, a mark of byte order, warnings in front of it, and
 * what a shell adds after it.
 */
function jsonIn(file: string): string {
  const text = file.replace(/[\0\uFEFF\uFFFD]/g, '').trim();
  const [from, to] = [text.search(/^\s*\{/m), text.lastIndexOf('}')];
  return from >= 0 && to > from ? text.slice(from, to + 1).trim() : text;
}

/** `--json-stream` writes an event a line as the run goes on (iperf3 3.17 and later; from memory). */
function isStream(text: string): boolean {
  return /^\{\s*"event"\s*:/.test(text);
}

/** The events of a run as the one object that they would have been. */
function fromStream(text: string): Record<string, unknown> {
  const run: Record<string, unknown> & { intervals: unknown[] } = { intervals: [] };
  for (const line of text.split('\n')) {
    if (!line.trim()) continue;
    const event = JSON.parse(line) as unknown;
    const data = at(event, 'data');
    const name = at(event, 'event');
    if (name === 'interval') run.intervals.push(data);
    else if (name === 'start' || name === 'end' || name === 'error') run[name] = data;
  }
  return run;
}
