import { spawn, spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { ApiProblem } from '../src/http/apiProblem';
import { problemOf } from '../src/http/problem';
import { readIperf3 } from '../src/formats/iperf3';
import { relayTo } from './udpRelay';
import { startTestServer, type TestServer } from './server';

/** One from below those that Linux hands out, to senders of UDP too, whom nobody can ask for. */
async function freePort(): Promise<number> {
  const port = 20_000 + Math.floor(Math.random() * 10_000);
  const isFree = await new Promise((resolve) => {
    const probe = createServer().once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
  return isFree ? port : freePort();
}

/** Whether somebody listens at a port of this computer. To ask there would be the one run that the server waits for; so Linux is asked. */
const isListening = (port: number): boolean =>
  readFileSync('/proc/net/tcp', 'utf8').includes(
    `0100007F:${port.toString(16).toUpperCase().padStart(4, '0')} 00000000:0000 0A`,
  );

/** What client and server of one run wrote: Debian's iperf3 on loopback, the outside that this reader is checked against. */
async function run(
  args: string[],
  { killAfterMs, lose }: { killAfterMs?: number; lose?: { there: number; back: number } } = {},
): Promise<{ client: string; server: string }> {
  const port = String(await freePort());
  const listening = spawn('iperf3', ['-s', '-1', '-J', '-B', '127.0.0.1', '-p', port]);
  let server = '';
  listening.stdout.on('data', (chunk: Buffer) => (server += chunk.toString()));
  await vi.waitFor(() => expect(isListening(Number(port))).toBe(true), { timeout: 60_000, interval: 20 });
  const relay = lose && (await relayTo(Number(port), lose));
  const calling = spawn('iperf3', ['-c', '127.0.0.1', '-p', String(relay?.port ?? port), '-J', ...args]);
  let client = '';
  calling.stdout.on('data', (chunk: Buffer) => (client += chunk.toString()));
  if (killAfterMs) setTimeout(() => calling.kill('SIGINT'), killAfterMs);
  await new Promise((resolve) => calling.once('close', resolve));
  await Promise.race([
    new Promise((resolve) => listening.once('close', resolve)),
    new Promise((resolve) => setTimeout(resolve, 1000)),
  ]);
  listening.kill();
  relay?.close();
  return { client, server };
}

async function iperf3(args: string[], options: { killAfterMs?: number } = {}): Promise<string> {
  return (await run(args, options)).client;
}

/** The file as if both machines had been apart: the loopback is one machine, which proves nothing. */
function apart(text: string): string {
  return text
    .replace(/"remote_host":\s*"127\.0\.0\.1"/g, '"remote_host": "10.61.4.9"')
    .replace(/"local_host":\s*"127\.0\.0\.1"/g, '"local_host": "10.61.4.8"');
}

const sound = JSON.stringify({
  start: { timestamp: { timesecs: 1_790_000_000 }, test_start: { protocol: 'UDP', duration: 1, reverse: 0, bidir: 0 } },
  intervals: [{ sum: { seconds: 1, bytes: 1e7, bits_per_second: 8e7 } }],
  end: { sum: { bits_per_second: 8e7, lost_percent: 1, jitter_ms: 0.2 } },
});

describe('a damaged file', () => {
  it('is read as something that can be, or refused in words', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.nat(sound.length - 1), fc.constantFrom('0', '"', '{', ']', '-', '', 'e', 'null', '1e999')),
          { maxLength: 4 },
        ),
        (edits) => {
          const text = edits.reduce((now, [at, put]) => now.slice(0, at) + put + now.slice(at + 1), sound);
          try {
            const { seconds, at, measured } = readIperf3(text, 'near');
            const [{ mbps, lossShare } = { mbps: NaN, lossShare: NaN }] = measured;
            expect(mbps).toBeGreaterThanOrEqual(0);
            expect(mbps).toBeLessThan(1e6);
            expect(seconds).toBeGreaterThan(0);
            expect(lossShare ?? 0).toBeLessThanOrEqual(1);
            expect(at.getTime()).not.toBeNaN();
          } catch (error) {
            expect(problemOf(error).status).toBe(422);
            expect((error as Error).message.length).toBeGreaterThan(15);
          }
        },
      ),
      { numRuns: 1000 },
    );
  });

  it.each([
    ['[', 3000, 'deep'],
    ['{},', 1_100_000, 'values'],
  ])('of many %s is refused before it is taken apart', (piece, count, words) => {
    expect(() => readIperf3(`{"intervals":[${piece.repeat(count)}`, 'near')).toThrow(words);
  });
});

describe('files of the real iperf3', () => {
  let whole: string | undefined;
  const near = (text: string) => readIperf3(text, 'near');
  /** Near what iperf3 was told to send, in all; on a loaded machine it is less, and never so little as octets taken for bits would be. */
  const about = (mbps: number | undefined, target: number): void => {
    expect(mbps).toBeGreaterThan(0.15 * target);
    expect(mbps).toBeLessThan(1.4 * target);
  };

  it('TCP, near to far, by client and by server', async () => {
    const { client, server } = await run(['-t', '1', '-b', '80M']);
    for (const text of [client, server]) {
      const file = near(text);
      expect(file).toMatchObject({ protocol: 'TCP', aborted: false, bothLoaded: false, warning: null });
      expect(file.measured).toHaveLength(1);
      expect(file.measured[0]?.direction).toBe('nearToFar');
      about(file.measured[0]?.mbps, 80);
      expect(file.conditions).toMatchObject({ streams: 1, targetMbps: 80, omittedSeconds: 0, oneMachine: true });
      expect(Math.abs(file.at.getTime() - Date.now())).toBeLessThan(60_000);
    }
    expect(near(apart(client)).conditions.oneMachine).toBe(false);
  });

  it('TCP reversed, by client and by server, and run at the far end', async () => {
    const { client, server } = await run(['-t', '1', '-b', '80M', '-R']);
    for (const text of [client, server]) {
      expect(near(text).measured[0]?.direction).toBe('farToNear');
      about(near(text).measured[0]?.mbps, 80);
      expect(readIperf3(text, 'far').measured[0]?.direction).toBe('nearToFar');
    }
  });

  it.each([['TCP'], ['UDP']])('%s both ways at once: two directions, by client and by server', async (protocol) => {
    const { client, server } = await run(['-t', '1', '-b', '20M', '--bidir', ...(protocol === 'UDP' ? ['-u'] : [])]);
    for (const text of [client, server]) {
      const file = near(text);
      expect(file).toMatchObject({ protocol, bothLoaded: true, aborted: false });
      // Of UDP a server does not know what arrived of what it sent.
      const known = protocol === 'UDP' && text === server ? ['nearToFar'] : ['nearToFar', 'farToNear'];
      expect(file.measured.map((m) => m.direction)).toEqual(known);
      for (const { mbps } of file.measured) about(mbps, 20);
    }
  });

  it('parallel streams add up, in rate and in target', async () => {
    const file = near(await iperf3(['-t', '1', '-P', '4', '-b', '10M']));
    expect(file.conditions).toMatchObject({ streams: 4, targetMbps: 40 });
    about(file.measured[0]?.mbps, 40);
  });

  it('seconds left out count neither as time nor as data', async () => {
    const file = near(await iperf3(['-t', '1', '-O', '2', '-b', '80M']));
    expect(file.conditions.omittedSeconds).toBeCloseTo(2, 0);
    expect(file.seconds).toBeCloseTo(1, 0);
    about(file.measured[0]?.mbps, 80);
  });

  it('a run by amount ends when it is sent; small segments are told', async () => {
    const file = near(await iperf3(['-n', '10M', '-b', '80M', '-M', '600']));
    expect(file.aborted).toBe(false);
    expect(file.conditions.segmentBytes).toBe(600);
    expect(file.conditions.busyShare).toBeGreaterThan(0);
  });

  it('UDP with loss and jitter, by client and by server', async () => {
    const { client, server } = await run(['-t', '1', '-u', '-b', '20M']);
    for (const text of [client, server]) {
      const file = near(text);
      expect(file).toMatchObject({ protocol: 'UDP', aborted: false });
      const [measured] = file.measured;
      expect(measured?.retransmits).toBeNull();
      about(measured?.mbps, 20);
      expect(measured?.jitterMs).toBeGreaterThanOrEqual(0);
      expect(measured?.lossShare).toBeGreaterThanOrEqual(0);
    }
  });

  it('UDP counts what arrived, not what was sent', () => {
    const file = JSON.parse(sound) as { end: Record<string, unknown> };
    expect(near(sound).measured[0]?.mbps).toBeCloseTo(80 * 0.99, 6);
    file.end.sum_received = { bits_per_second: 79e6, lost_percent: 1.25, jitter_ms: 0.3 };
    expect(near(JSON.stringify(file)).measured[0]).toMatchObject({ mbps: 79, lossShare: 0.0125, jitterMs: 0.3 });
  });

  describe('UDP over a relay that loses', () => {
    const udp = ['-u', '-b', '4M', '-t', '1', '-l', '1000'];

    it('everything: nothing arrived, and all of it was lost, whichever way and on either side’s file', async () => {
      const [there, back] = [
        await run(udp, { lose: { there: 1, back: 0 } }),
        await run([...udp, '-R'], { lose: { there: 0, back: 1 } }),
      ];
      for (const text of [there.client, there.server, back.client])
        expect(near(text).measured).toMatchObject([{ mbps: 0, lossShare: 1, jitterMs: null }]);
      // The server that sent was told nothing.
      expect(() => near(back.server)).toThrow('Nobody counted what arrived');
    });

    it('everything both ways at once', async () => {
      const { client, server } = await run([...udp, '--bidir'], { lose: { there: 1, back: 1 } });
      expect(near(client).measured).toMatchObject([
        { direction: 'nearToFar', mbps: 0, lossShare: 1 },
        { direction: 'farToNear', mbps: 0, lossShare: 1 },
      ]);
      expect(near(server).measured).toMatchObject([{ direction: 'nearToFar', mbps: 0, lossShare: 1 }]);
    });

    it('a third there and a twentieth back: what arrived counts, each way', async () => {
      const { client } = await run([...udp, '--bidir'], { lose: { there: 1 / 3, back: 0.05 } });
      const [out, home] = near(client).measured;
      expect(out?.lossShare).toBeGreaterThan(0.25);
      expect(out?.lossShare).toBeLessThan(0.45);
      expect(home?.lossShare).toBeGreaterThan(0.02);
      expect(home?.lossShare).toBeLessThan(0.15);
      const sent = (JSON.parse(client) as { end: { sum_sent: { bits_per_second: number } } }).end.sum_sent
        .bits_per_second;
      expect(out?.mbps).toBeLessThan((0.8 * sent) / 1e6);
    });
  });

  it.each([
    [
      'UTF-16 of a Windows shell, read as bytes',
      (text: string) => Buffer.from(`\uFEFF${text}`, 'utf16le').toString('utf8'),
    ],
    ['a warning in front', (text: string) => `warning: UDP block size 60000 exceeds TCP MSS 32768\n${text}`],
    ['something behind', (text: string) => `${text}\niperf Done.\n`],
    ['a mark of byte order', (text: string) => `\uFEFF${text}`],
    [
      'an event a line, as --json-stream writes',
      (text: string) => {
        const { start, intervals, end } = JSON.parse(text) as Record<string, unknown> & { intervals: unknown[] };
        const event = (name: string, data: unknown): string => JSON.stringify({ event: name, data });
        return [event('start', start), ...intervals.map((i) => event('interval', i)), event('end', end)].join('\n');
      },
    ],
  ])('with %s says the same', async (_, wrap) => {
    whole ??= await iperf3(['-t', '1', '-b', '80M']);
    const { raw, ...plain } = near(whole);
    const { raw: wrapped, ...read } = near(wrap(whole));
    expect(read).toEqual(plain);
    expect(wrapped).toEqual(raw);
  });

  it.each([
    ['a rate below nothing', -8e7, 'below nothing'],
    ['ten times what its bytes make', 1e9, 'its 10000000 bytes in 1.0 s make 80 Mbit/s'],
  ])('that was changed to %s is refused', (_, bits, words) => {
    const sum = { bits_per_second: bits, bytes: 1e7, seconds: 1, packets: 7000, lost_percent: 1, jitter_ms: 0.2 };
    const file = { ...(JSON.parse(sound) as object), end: { sum, sum_received: sum } };
    expect(() => near(JSON.stringify(file))).toThrow(words);
  });

  it('with one sum, as before 3.7, believes nothing where neither jitter nor loss was seen', () => {
    const file = JSON.parse(sound) as { end: { sum: object } };
    file.end.sum = { ...file.end.sum, lost_percent: 0, jitter_ms: 0 };
    expect(() => near(JSON.stringify(file))).toThrow('Nobody counted');
  });

  it.each(['127.0.0.2', '::1', '::ffff:127.0.0.1'])(
    'from %s, by which a computer calls itself, crossed nothing',
    (host) => {
      const file = JSON.parse(sound) as { start: object };
      file.start = { ...file.start, connected: [{ local_host: '10.61.4.8', remote_host: host }] };
      expect(near(JSON.stringify(file)).conditions.oneMachine).toBe(true);
    },
  );

  it('broken off: what ran is kept and nothing is proven', async () => {
    const file = near(await iperf3(['-t', '20', '-b', '80M'], { killAfterMs: 2500 }));
    expect(file.aborted).toBe(true);
    expect(file.seconds).toBeLessThan(10);
    expect(file.warning).toBeTruthy();
    about(file.measured[0]?.mbps, 80);
  });

  it('refused connection: told as such', () => {
    const { stdout } = spawnSync('iperf3', ['-c', '127.0.0.1', '-p', '1', '-J'], { encoding: 'utf8' });
    expect(() => near(stdout)).toThrow(/could not begin|no interval/);
  });
});

describe('files that are none', () => {
  it.each([
    ['', 'empty'],
    ['{"start":', 'not complete JSON'],
    ['[1, 2]', 'no object'],
    ['{"a": 1}', 'no "start"'],
    ['[ ID] Interval           Transfer     Bitrate', 'text output'],
  ])('%s', (text, words) => {
    expect(() => readIperf3(text, 'near')).toThrow(words);
  });

  it('never crashes, whatever is inside', () => {
    const file = fc.record({
      start: fc.record({ test_start: fc.anything(), timestamp: fc.anything() }),
      intervals: fc.oneof(fc.anything(), fc.array(fc.record({ sum: fc.anything() }))),
      end: fc.anything(),
    });
    fc.assert(
      fc.property(
        fc.oneof(
          fc.json(),
          file.map((f) => JSON.stringify(f)),
        ),
        (text) => {
          try {
            const read = readIperf3(text, 'near');
            expect(read.measured.every(({ mbps }) => Number.isFinite(mbps))).toBe(true);
          } catch (error) {
            if (!(error instanceof ApiProblem)) throw error;
          }
        },
      ),
      { numRuns: 2000 },
    );
  });
});

describe('importing', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startTestServer();
  });
  afterAll(() => server.close());

  it('judges the test, refuses the same file twice, and keeps what is needed', async () => {
    const id = await server.linkId('Ice works');
    const text = apart(await iperf3(['-t', '3', '-b', '2M']));
    const body = { fileName: 'evening.json', text, clientAt: 'near' };
    const first = await server.post(`/api/links/${id}/throughput-tests/iperf3`, body);
    // The link needs more than that, so a run that was told to send no more says nothing. A machine that is busy reaches it as well.
    expect(first.body[0].verdict).toMatchObject({ state: 'open', bottleneck: 'target' });
    expect((await server.post(`/api/links/${id}/throughput-tests/iperf3`, body)).body.detail).toContain(
      'imported for this link already',
    );
    const csv = await server.get(`/api/links/${id}/throughput-tests.csv`);
    expect(csv.text.split('\n')[0]).toContain('throughput_mbps');
    expect(csv.text).toContain('evening.json');
  });

  it('lets a run over the loopback prove nothing, and hide nothing that was proven', async () => {
    const id = await server.linkId('Slipway store');
    const proven = async () => (await server.link('Slipway store')).state.steps.find((s) => s.step === 'prove');
    const before = await proven();
    const text = await iperf3(['-t', '3', '--bidir']);
    const made = await server.post(`/api/links/${id}/throughput-tests/iperf3`, {
      fileName: 'loopback.json',
      text,
      clientAt: 'near',
    });
    expect(made.body).toHaveLength(2);
    for (const test of made.body as { verdict: { state: string; headline: string } }[])
      expect(test.verdict).toMatchObject({ state: 'open', headline: 'both ends of this run were on one machine' });
    expect(await proven()).toEqual(before);
  });

  it('needs a unit by hand, and warns of bits and bytes', async () => {
    const id = await server.linkId('Ice works');
    const path = `/api/links/${id}/throughput-tests/hand`;
    const body = { direction: 'nearToFar', value: 80, note: '=cmd' };
    expect((await server.post(path, body)).body.detail).toContain('unit');
    const noted = await server.post(path, { ...body, unit: 'Mbit/s' });
    expect(noted.body.warning).toContain('MByte/s?');
    expect((await server.get(`/api/links/${id}/throughput-tests.csv`)).text).toContain("'=cmd");
  });
});
