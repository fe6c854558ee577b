import type { AimEvent } from '@kivram/contract/views/alignment';
import type { AimPlan } from '@kivram/core/aiming/aimGuide';
import type { Reading } from '@kivram/core/aiming/reading';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { AimFeed } from './AimFeed';

/** An event stream that the test drives. */
class TestSource {
  static readonly OPEN = 1;
  static readonly CLOSED = 2;
  static last: TestSource;
  readyState = TestSource.OPEN;
  onopen?: () => void;
  onerror?: () => void;
  onmessage?: (event: { data: string }) => void;
  closed = false;
  constructor(readonly url: string) {
    TestSource.last = this;
  }
  close(): void {
    this.closed = true;
  }
  send(event: AimEvent): void {
    this.onmessage?.({ data: JSON.stringify(event) });
  }
}

const end = {
  beam: { azimuthDeg: 6, elevationDeg: 6 },
  expectedDbm: -50,
  source: 'phone' as const,
  notchDeg: { azimuth: 1, tilt: 1 },
};
const plan: AimPlan = { near: end, far: end, order: 'endByEnd' };
const reading = (tS: number, side: 'near' | 'far', rslDbm: number): Reading => ({
  end: side,
  tS,
  rslDbm,
  chainsDbm: [],
  phoneAzimuthDeg: tS,
  phoneTiltDeg: 0,
});
const both = (tS: number): Reading[] => [reading(tS, 'near', -60), reading(tS, 'far', -61)];
const event = (tS: number): AimEvent => ({ type: 'reading', readings: both(tS), atMs: 1000 * tS });

let past: { samples: Reading[]; marks: unknown[] };

beforeEach(() => {
  past = { samples: [], marks: [] };
  vi.stubGlobal('EventSource', TestSource);
  vi.stubGlobal('fetch', () =>
    Promise.resolve({ headers: new Headers(), ok: true, json: () => Promise.resolve(past) }),
  );
});
let stops: (() => void)[] = [];
afterEach(() => {
  for (const stop of stops) stop();
  stops = [];
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function open(): Promise<AimFeed> {
  const feed = new AimFeed('3f0a2c1e', () => plan);
  stops.push(feed.start());
  TestSource.last.onopen?.();
  await vi.waitFor(() => expect(feed.connected).toBe(true));
  return feed;
}

describe('the feed of an alignment that is not read on', () => {
  it('says so, and that somebody may ask for it, until readings come', async () => {
    vi.useFakeTimers();
    const refusal = { title: 'Not read on', detail: 'Kivram ended three times.' };
    let isRefused = true;
    vi.stubGlobal('fetch', (address: string) =>
      Promise.resolve(
        address.endsWith('/stream') && isRefused
          ? { headers: new Headers(), ok: false, json: () => Promise.resolve(refusal) }
          : { headers: new Headers(), ok: true, json: () => Promise.resolve({ ...past, state: 'running' }) },
      ),
    );
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    TestSource.last.readyState = TestSource.CLOSED;
    TestSource.last.onerror?.();
    await vi.advanceTimersByTimeAsync(5000);
    expect(feed.isNotReadOn).toBe(true);
    expect(feed.silence).toBe('Kivram ended three times.');
    isRefused = false;
    TestSource.last.readyState = TestSource.CLOSED;
    TestSource.last.onerror?.();
    await vi.advanceTimersByTimeAsync(5000);
    expect(feed.isNotReadOn).toBe(false);
  });
});

describe('the feed of a running alignment', () => {
  it('loses nothing between past and stream, and takes nothing twice', async () => {
    past.samples = [0, 0.1, 0.2, 0.3].flatMap(both);
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    TestSource.last.onopen?.();
    // These arrive while the past is still being read; the first two are in it.
    for (const tS of [0.2, 0.3, 0.4]) TestSource.last.send(event(tS));
    await vi.waitFor(() => expect(feed.connected).toBe(true));
    TestSource.last.send(event(0.5));
    expect(feed.trace.map((p) => p.tS)).toEqual([0, 0.1, 0.2, 0.3, 0.4, 0.5]);
    expect(feed.guide?.points()).toHaveLength(6);
  });

  it('pairs both ends of a moment, keeps a minute, and tells its listeners of a burst once or twice, of its end too', async () => {
    const feed = await open();
    const heard: (number | undefined)[] = [];
    // What is told later, that no reading comes any more, does not count.
    feed.subscribe(() => feed.silence === null && heard.push(feed.trace.at(-1)?.tS));
    for (let i = 0; i <= 700; i++) TestSource.last.send(event(i / 10));
    expect(feed.trace.at(-1)).toEqual({ tS: 70, nearDbm: -60, farDbm: -61 });
    expect(feed.trace[0]?.tS).toBeGreaterThanOrEqual(10);
    await vi.waitFor(() => expect(heard.at(-1)).toBe(70), 3000);
    expect(heard.length).toBeLessThan(350);
    expect(feed.latest.far?.rslDbm).toBe(-61);
    expect(feed.lastAtMs).toBe(70_000);
  });

  it('reads everything anew after an interruption', async () => {
    const feed = await open();
    TestSource.last.send(event(0.1));
    TestSource.last.onerror?.();
    expect(feed.connected).toBe(false);
    past.samples = [0.1, 0.2, 0.3, 0.4].flatMap(both);
    TestSource.last.onopen?.();
    await vi.waitFor(() => expect(feed.connected).toBe(true));
    expect(feed.guide?.points()).toHaveLength(4);
  });

  it('passes marks on to the guide, and closes when the alignment ends', async () => {
    const feed = await open();
    TestSource.last.send(event(0.1));
    TestSource.last.send({ type: 'mark', mark: { id: 'a', end: 'near', kind: 'eye', tS: 0.15 } });
    expect(feed.guide?.step).toMatchObject({ end: 'near', axis: 'tilt' });
    TestSource.last.send({ type: 'ended', state: 'finished' });
    expect(feed.ended).toBe('finished');
    expect(TestSource.last.closed).toBe(true);
  });

  it('counts every tap once: one that comes after a later reading, two of one moment, one that is in past and stream', async () => {
    past.marks = [{ id: 'a', end: 'near', kind: 'eye', tS: 0.05 }];
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    TestSource.last.onopen?.();
    TestSource.last.send({ type: 'mark', mark: { id: 'a', end: 'near', kind: 'eye', tS: 0.05 } });
    await vi.waitFor(() => expect(feed.connected).toBe(true));
    expect(feed.guide?.done).toHaveLength(1);
    TestSource.last.send(event(0.2));
    TestSource.last.send({ type: 'mark', mark: { id: 'b', end: 'near', kind: 'eye', tS: 0.15 } });
    expect(feed.guide?.done).toHaveLength(2);
    TestSource.last.send({ type: 'mark', mark: { id: 'c', end: 'near', kind: 'eye', tS: 0.15 } });
    expect(feed.guide?.done).toHaveLength(3);
  });

  it('says when the past cannot be read', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new Error('down')));
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    TestSource.last.onopen?.();
    await vi.waitFor(() => expect(feed.error).toBeTruthy());
    expect((feed.error as Error).message).toContain('does not answer');
  });

  it('covers the level a second after the last reading, with the reason where one is known, until readings come again', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'setTimeout', 'performance'] });
    const covered = new AimFeed('3f0a2c1e', () => plan);
    stops.push(covered.start());
    TestSource.last.onopen?.();
    await vi.advanceTimersByTimeAsync(100);
    TestSource.last.send(event(0.1));
    await vi.advanceTimersByTimeAsync(900);
    expect(covered.silence).toBeNull();
    await vi.advanceTimersByTimeAsync(400);
    expect(covered.silence).toContain('No reading comes');
    TestSource.last.send({ type: 'trouble', words: 'The disk is full.' });
    await vi.advanceTimersByTimeAsync(300);
    expect(covered.silence).toBe('The disk is full.');
    TestSource.last.send(event(2.5));
    expect(covered.silence).toBeNull();
  });

  it('reads the past again where that failed once', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'setTimeout', 'performance'] });
    let failures = 1;
    vi.stubGlobal('fetch', () =>
      failures-- > 0
        ? Promise.reject(new Error('down'))
        : Promise.resolve({ headers: new Headers(), ok: true, json: () => Promise.resolve(past) }),
    );
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    TestSource.last.onopen?.();
    await vi.advanceTimersByTimeAsync(100);
    expect(feed.connected).toBe(false);
    await vi.advanceTimersByTimeAsync(1100);
    expect(feed.connected).toBe(true);
    expect(feed.error).toBeNull();
  });

  it('opens the stream anew where it was refused, and ends where the alignment has ended elsewhere', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'setTimeout', 'performance'] });
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    const refuse = async (state: string): Promise<TestSource> => {
      const before = TestSource.last;
      Object.assign(past, { state });
      before.readyState = TestSource.CLOSED;
      before.onerror?.();
      await vi.advanceTimersByTimeAsync(1100);
      return before;
    };
    expect(await refuse('running')).not.toBe(TestSource.last);
    expect(feed.ended).toBeNull();
    const last = await refuse('abandoned');
    expect(last).toBe(TestSource.last);
    expect(feed.ended).toBe('abandoned');
  });

  it('says why the stream is refused, in the words of the server', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'setTimeout', 'performance'] });
    Object.assign(past, { state: 'running' });
    vi.stubGlobal('fetch', (url: string) =>
      Promise.resolve(
        url.endsWith('/stream')
          ? {
              headers: new Headers(),
              ok: false,
              json: () => Promise.resolve({ detail: 'This alignment cannot be read: no geometry.' }),
            }
          : { headers: new Headers(), ok: true, json: () => Promise.resolve(past) },
      ),
    );
    const feed = new AimFeed('3f0a2c1e', () => plan);
    stops.push(feed.start());
    TestSource.last.readyState = TestSource.CLOSED;
    TestSource.last.onerror?.();
    await vi.advanceTimersByTimeAsync(1500);
    expect(feed.silence).toBe('This alignment cannot be read: no geometry.');
  });
});
