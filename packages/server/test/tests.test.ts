import type { LinkView } from '@kivram/contract/views/link';
import type { ThroughputTest } from '@kivram/contract/views/test';
import type { Air } from '@kivram/core/air/air';
import { planOf } from '@kivram/core/budget/plan';
import { predictLink } from '@kivram/core/budget/prediction';
import { ethernetTcpMbps } from '@kivram/core/throughput/ethernet';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { AlignmentRow } from '../src/database/models/alignment';
import { NetworkRow } from '../src/database/models/network';
import { loadLink } from '../src/services/linkRecords';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

let stamp = 1_790_000_000;

interface Options {
  mbps: number;
  seconds?: number;
  planned?: number;
  reverse?: boolean;
  bidir?: boolean;
  udpLossPercent?: number;
  error?: string;
}

/** A file as iperf3 writes it, at a wished rate. */
function file({ mbps, seconds = 10, planned = seconds, reverse, bidir, udpLossPercent, error }: Options): string {
  const bps = mbps * 1e6;
  const sum = { seconds: 1, bytes: bps / 8, bits_per_second: bps };
  const back = bidir && {
    sum_sent_bidir_reverse: { bits_per_second: bps },
    sum_received_bidir_reverse: { bits_per_second: bps },
  };
  const total = { bits_per_second: bps, seconds };
  return JSON.stringify({
    start: {
      timestamp: { timesecs: stamp++ },
      test_start: {
        protocol: udpLossPercent === undefined ? 'TCP' : 'UDP',
        duration: planned,
        reverse: reverse ? 1 : 0,
        bidir: bidir ? 1 : 0,
      },
    },
    intervals: Array.from({ length: seconds }, () => ({ sum })),
    end: error
      ? {}
      : udpLossPercent === undefined
        ? { sum_sent: { ...total, retransmits: 3 }, sum_received: total, ...back }
        : { sum: { ...total, lost_percent: udpLossPercent, jitter_ms: 0.4 } },
    ...(error && { error }),
  });
}

const bringAll = async (link: string, options: Options, clientAt: 'near' | 'far'): Promise<ThroughputTest[]> =>
  (
    await server.post(`/api/links/${await server.linkId(link)}/throughput-tests/iperf3`, {
      fileName: 'test.json',
      text: file(options),
      clientAt,
    })
  ).body;

const bring = async (link: string, options: Options, clientAt: 'near' | 'far' = 'near'): Promise<ThroughputTest> => {
  const [test] = await bringAll(link, options, clientAt);
  if (!test) throw new Error('nothing was imported');
  return test;
};

const prediction = async (link: string, changes: Partial<Air> = {}) => {
  const plan = planOf(await loadLink(await server.linkId(link)));
  return predictLink({ ...plan, air: { ...plan.air, ...changes } });
};

describe('verdicts of imported tests', () => {
  it('as expected, and enough', async () => {
    const { nearToFar } = await prediction('Ice works');
    const test = await bring('Ice works', { mbps: 0.95 * nearToFar.aloneMbps });
    expect(test.verdict).toMatchObject({ state: 'holds', bottleneck: 'none' });
    expect(test).toMatchObject({ direction: 'nearToFar', retransmits: 3, protocol: 'TCP', aborted: false });
  });

  it('what half the width would give points to the width', async () => {
    const { nearToFar } = await prediction('Ice works', { widthMHz: 40, centreMHz: 5755 });
    expect((await bring('Ice works', { mbps: nearToFar.aloneMbps })).verdict).toMatchObject({
      state: 'thin',
      bottleneck: 'width',
    });
  });

  it('a 100 Mbit/s port is known by its rate', async () => {
    const test = await bring('Ice works', { mbps: ethernetTcpMbps(100) });
    expect(test.verdict).toMatchObject({ state: 'fails', bottleneck: 'ethernet' });
    expect(test.verdict.reason).toContain('100 Mbit/s Ethernet port');
  });

  it('the feed is no fault of the link', async () => {
    await NetworkRow.update({ feedDownMbps: 210 }, { where: { jobId: server.jobId } });
    // A speed test goes through the feed; iperf3 runs between the two ends.
    const { body: test } = await server.post(`/api/links/${await server.linkId('Ice works')}/throughput-tests/hand`, {
      direction: 'nearToFar',
      value: 205,
      unit: 'Mbit/s',
      note: '',
    });
    expect(test.verdict).toMatchObject({ state: 'thin', bottleneck: 'feed' });
    expect(test.verdict.reason).toContain('210 Mbit/s');
    expect((await bring('Ice works', { mbps: 205 })).verdict.bottleneck).not.toBe('feed');
  });

  it('both directions loaded are held against the shared channel', async () => {
    const { nearToFar } = await prediction('Ice works');
    const both = await bringAll('Ice works', { mbps: 0.9 * nearToFar.bothMbps, bidir: true }, 'near');
    expect(both.map((t) => [t.direction, t.verdict.state])).toEqual([
      ['nearToFar', 'holds'],
      ['farToNear', 'holds'],
    ]);
    expect(both[0]?.otherMbps).toBeCloseTo(0.9 * nearToFar.bothMbps, 6);
    // Each alone could be, but not both at once on one channel.
    const impossible = await bringAll('Ice works', { mbps: 0.9 * nearToFar.aloneMbps, bidir: true }, 'near');
    expect(impossible.map((t) => t.verdict.state)).toEqual(['open', 'open']);
    expect((await bring('Ice works', { mbps: 0.9 * nearToFar.bothMbps })).verdict.state).toBe('thin');
  });

  it('UDP counts what arrived', async () => {
    const test = await bring('Ice works', { mbps: 200, udpLossPercent: 25 });
    expect(test).toMatchObject({ protocol: 'UDP', lossShare: 0.25, jitterMs: 0.4, retransmits: null });
    expect(test.mbps).toBeCloseTo(150, 6);
  });

  it('the direction follows from where the client ran and whether it was reversed', async () => {
    expect((await bring('Ice works', { mbps: 100, reverse: true })).direction).toBe('farToNear');
    expect((await bring('Ice works', { mbps: 100 }, 'far')).direction).toBe('farToNear');
    expect((await bring('Ice works', { mbps: 100, reverse: true }, 'far')).direction).toBe('nearToFar');
  });

  it('a run that was broken off proves nothing, with or without an error', async () => {
    for (const options of [{ error: 'interrupt - the client has terminated' }, { planned: 30 }]) {
      const test = await bring('Ice works', { mbps: 500, seconds: 4, ...options });
      expect(test).toMatchObject({ aborted: true, seconds: 4 });
      expect(test.verdict.state).toBe('open');
      expect(test.warning).toBeTruthy();
    }
  });
});

describe('tests and the state of a link', () => {
  it('the newest test of a direction counts: a failure shows, a good one after it repairs', async () => {
    const prove = async (): Promise<string | undefined> =>
      (await server.link('Slipway store')).state.steps.find((s) => s.step === 'prove')?.state;
    stamp += 1_000_000_000;
    await bring('Slipway store', { mbps: 12 });
    expect(await prove()).toBe('fails');
    const { nearToFar, farToNear } = await prediction('Slipway store');
    await bring('Slipway store', { mbps: 0.97 * nearToFar.aloneMbps });
    await bring('Slipway store', { mbps: 0.97 * farToNear.aloneMbps, reverse: true });
    expect(await prove()).toBe('holds');
    const view = (await server.link('Slipway store')) as LinkView;
    const times = view.tests.map((t) => t.at);
    expect(times).toEqual([...times].sort().reverse());
  });

  it('a level that was measured short explains a rate that is short', async () => {
    const loaded = await loadLink(await server.linkId('Hatchery'));
    const plan = planOf(loaded);
    const { alignment } = await server.link('Hatchery');
    const shortDb = 9;
    const { near, far } = alignment?.result ?? {};
    await AlignmentRow.update(
      { result: { near: { ...near, shortDb }, far: { ...far, shortDb } } as AlignmentRow['result'] },
      { where: { id: alignment?.id ?? '' } },
    );
    const weak = predictLink({ ...plan, near: { ...plan.near, cableLossDb: shortDb } });
    expect(weak.nearToFar.aloneMbps).toBeLessThan(0.85 * predictLink(plan).nearToFar.aloneMbps);
    const test = await bring('Hatchery', { mbps: 0.97 * weak.nearToFar.aloneMbps });
    expect(test.verdict).toMatchObject({ state: 'thin', bottleneck: 'radioRate' });
  });
});
