import { spawn, spawnSync } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ApiProblem, problemOf } from '../src/http/problem';
import { readIperf3 } from '../src/formats/iperf3';
import { startTestServer, type TestServer } from './server';

/** Debian's iperf3 on loopback: the outside this reader is checked against. */
async function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}

async function iperf3(args: string[], { killAfterMs }: { killAfterMs?: number } = {}): Promise<string> {
  const port = String(await freePort());
  const listening = spawn('iperf3', ['-s', '-1', '-B', '127.0.0.1', '-p', port], { stdio: 'ignore' });
  await new Promise((resolve) => setTimeout(resolve, 300));
  const client = spawn('iperf3', ['-c', '127.0.0.1', '-p', port, '-J', ...args]);
  let text = '';
  client.stdout.on('data', (chunk: Buffer) => (text += chunk.toString()));
  if (killAfterMs) setTimeout(() => client.kill('SIGINT'), killAfterMs);
  await new Promise((resolve) => client.once('close', resolve));
  listening.kill();
  return text;
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
            const { mbps, seconds, lossShare, at } = readIperf3(text, 'near');
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
  it('TCP, near to far', async () => {
    const file = readIperf3(await iperf3(['-t', '1', '-b', '80M']), 'near');
    expect(file).toMatchObject({ direction: 'nearToFar', protocol: 'TCP', aborted: false, warning: null });
    expect(file.mbps).toBeGreaterThan(60);
    expect(file.mbps).toBeLessThan(100);
    expect(Math.abs(file.at.getTime() - Date.now())).toBeLessThan(60_000);
  });

  it('TCP reversed, and run at the far end', async () => {
    const text = await iperf3(['-t', '1', '-b', '80M', '-R']);
    expect(readIperf3(text, 'near').direction).toBe('farToNear');
    expect(readIperf3(text, 'far').direction).toBe('nearToFar');
  });

  it('UDP with loss and jitter', async () => {
    const file = readIperf3(await iperf3(['-t', '1', '-u', '-b', '20M']), 'near');
    expect(file).toMatchObject({ protocol: 'UDP', aborted: false, retransmits: null });
    expect(file.mbps).toBeGreaterThan(15);
    expect(file.mbps).toBeLessThan(25);
    expect(file.jitterMs).toBeGreaterThanOrEqual(0);
    expect(file.lossShare).toBeGreaterThanOrEqual(0);
  });

  it('broken off: what ran is kept and nothing is proven', async () => {
    const file = readIperf3(await iperf3(['-t', '20', '-b', '80M'], { killAfterMs: 2500 }), 'near');
    expect(file.aborted).toBe(true);
    expect(file.seconds).toBeLessThan(10);
    expect(file.warning).toBeTruthy();
    expect(file.mbps).toBeGreaterThan(40);
  });

  it('refused connection: told as such', () => {
    const { stdout } = spawnSync('iperf3', ['-c', '127.0.0.1', '-p', '1', '-J'], { encoding: 'utf8' });
    expect(() => readIperf3(stdout, 'near')).toThrow(/could not begin|no interval/);
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
            expect(Number.isFinite(read.mbps)).toBe(true);
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
    const text = await iperf3(['-t', '1', '-b', '95M']);
    const body = { fileName: 'evening.json', text, clientAt: 'near' };
    const first = await server.post(`/api/links/${id}/throughput-tests/iperf3`, body);
    expect(first.body.verdict).toMatchObject({ state: 'fails', bottleneck: 'ethernet' });
    expect((await server.post(`/api/links/${id}/throughput-tests/iperf3`, body)).body.detail).toContain(
      'imported for this link already',
    );
    const csv = await server.get(`/api/links/${id}/throughput-tests.csv`);
    expect(csv.text.split('\n')[0]).toContain('throughput_mbps');
    expect(csv.text).toContain('evening.json');
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
