import { routes, streamPath, fillPath, type AimEvent, type AlignmentView, type Tap } from '@kivram/contract';
import { AimGuide, replayAim, type AimPlan, type End, type Reading } from '@kivram/core';
import { call } from '../api';

/** Levels of both ends at one moment, for the trace. */
export interface TracePoint {
  tS: number;
  nearDbm: number | null;
  farDbm: number | null;
}

/** Seconds of trace kept on the screen. */
const traceSeconds = 60;

/**
 * Follows one running alignment: replays what was before, then takes the stream, and feeds both to the guide in order. It knows
 * readings and marks only; where the mounts truly stand never reaches it.
 */
export class AimFeed {
  readonly trace: TracePoint[] = [];
  latest: Partial<Record<End, Reading>> = {};
  ended: 'finished' | 'abandoned' | null = null;
  connected = false;
  error: unknown = null;
  /** when the newest readings were taken, by the server's clock on this same machine */
  lastAtMs = 0;
  version = 0;
  private guideNow: AimGuide | null = null;
  private source: EventSource | null = null;
  private waiting: AimEvent[] | null = [];
  private lastS = -Infinity;
  /** ids of the taps that the guide has heard: one may come twice, in the past and in the stream */
  private readonly heard = new Set<string>();
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly alignmentId: string,
    private readonly plan: AimPlan,
  ) {}

  get guide(): AimGuide | null {
    return this.guideNow;
  }

  /** Opens the stream first and reads the past second, so that nothing falls between them. Call the result to stop. */
  start(): () => void {
    this.source = new EventSource(fillPath(streamPath, { alignmentId: this.alignmentId }));
    this.source.onopen = () => void this.catchUp();
    this.source.onerror = () => {
      // The browser reconnects by itself; what was missed is read again then.
      this.connected = false;
      this.waiting = [];
      this.tell();
    };
    this.source.onmessage = ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as AimEvent;
      if (this.waiting) this.waiting.push(event);
      else this.take(event);
    };
    return () => this.source?.close();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): number => this.version;

  private async catchUp(): Promise<void> {
    try {
      const past = await call(routes.getAlignment, { alignmentId: this.alignmentId });
      this.replay(past);
      for (const event of this.waiting ?? []) this.take(event);
      this.waiting = null;
      this.connected = true;
      this.error = null;
    } catch (error) {
      this.error = error;
    }
    this.tell();
  }

  private replay({ samples, marks }: AlignmentView): void {
    this.trace.length = 0;
    this.guideNow = replayAim(new AimGuide(this.plan), samples, marks, (reading) => this.show(reading));
    this.lastS = samples.at(-1)?.tS ?? -Infinity;
    for (const mark of marks) this.heard.add(mark.id);
  }

  private take(event: AimEvent): void {
    if (event.type === 'ended') {
      this.ended = event.state;
      this.source?.close();
    } else if (event.type === 'mark') {
      this.mark(event.mark);
    } else {
      const fresh = event.readings.filter((r) => r.tS > this.lastS);
      for (const reading of fresh) this.push(reading);
      this.lastS = Math.max(this.lastS, ...fresh.map((r) => r.tS));
      this.lastAtMs = event.atMs;
    }
    this.tell();
  }

  /** A tap counts even where a reading that was taken after it came first. */
  private mark(mark: Tap): void {
    if (this.heard.has(mark.id)) return;
    this.heard.add(mark.id);
    this.guideNow?.mark(mark);
  }

  private push(reading: Reading): void {
    this.show(reading);
    this.guideNow?.push(reading);
  }

  /** Puts a reading into the trace. */
  private show(reading: Reading): void {
    this.latest[reading.end] = reading;
    const last = this.trace.at(-1);
    const key = reading.end === 'near' ? 'nearDbm' : 'farDbm';
    if (last?.tS === reading.tS) last[key] = reading.rslDbm;
    else this.trace.push({ tS: reading.tS, nearDbm: null, farDbm: null, [key]: reading.rslDbm });
    while (this.trace.length && (this.trace[0]?.tS ?? 0) < reading.tS - traceSeconds) this.trace.shift();
  }

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }
}
