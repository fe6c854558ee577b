import type { Problem } from '@kivram/contract/problem';
import { routes } from '@kivram/contract/routes';
import { fillPath } from '@kivram/contract/routes/route';
import { notReadOn, type AimEvent, type AlignmentView, type Present, type Tap } from '@kivram/contract/views/alignment';
import { AimGuide, crewWords, type AimPlan, type CrewWord } from '@kivram/core/aiming/aimGuide';
import { replayAim } from '@kivram/core/aiming/alignment';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { Reading } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import { call } from '../api';

/** Levels of both ends at one moment, for the trace. */
export interface TracePoint {
  tS: number;
  nearDbm: number | null;
  farDbm: number | null;
}

/** Seconds of trace kept on the screen. */
const traceSeconds = 60;

/** A level that is older than this is not shown as the level now, ms. */
const staleMs = 1000;
/** How often that is looked at, and how soon what failed is tried again, ms. */
const lookMs = 200;
const againMs = 1000;

/** Readings that come sooner after each other are drawn at once, ms: radios tell ten a second, and more come only in bursts. */
const drawMs = 80;

const isCall = (kind: string): kind is CrewWord => (crewWords as readonly string[]).includes(kind);

const noReading = 'No reading comes. The level is not known now.';

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
  /** who has the alignment open */
  present: Present[] = [];
  /** where the levels come from, and why none comes */
  sources: Partial<Record<End, { way: LevelWay; trouble: string | null }>> = {};
  /** what one end called to the other last */
  calls: Partial<Record<End, { word: CrewWord; tS: number }>> = {};
  /** why there is no level now; null while readings come */
  silence: string | null = null;
  version = 0;
  private guideNow: AimGuide | null = null;
  private source: EventSource | null = null;
  private waiting: AimEvent[] | null = [];
  private lastS = -Infinity;
  /** when a reading last came, by the page's monotonic clock */
  private heardAt = performance.now();
  private trouble: string | null = null;
  /** nothing comes before somebody asks for it */
  isNotReadOn = false;
  /** when listeners were told last, and what will tell them of readings that came since */
  private toldAt = -Infinity;
  private telling: ReturnType<typeof setTimeout> | undefined;
  private stopped = false;
  private timers: ReturnType<typeof setInterval>[] = [];
  /** ids of the taps that the guide has heard: one may come twice, in the past and in the stream */
  private readonly heard = new Set<string>();
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly alignmentId: string,
    /** what the guide sets out with, once it is known where the levels come from */
    private readonly planFor: (view: Pick<AlignmentView, 'levelsFrom'>) => AimPlan,
  ) {}

  private get address(): string {
    return fillPath(routes.alignmentStream.path, { alignmentId: this.alignmentId });
  }

  get guide(): AimGuide | null {
    return this.guideNow;
  }

  /** Opens the stream first and reads the past second, so that nothing falls between them. Call the result to stop. */
  start(): () => void {
    this.stopped = false;
    this.open();
    this.timers.push(setInterval(() => this.look(), lookMs));
    return () => {
      this.stopped = true;
      this.source?.close();
      for (const timer of this.timers) clearInterval(timer);
      clearTimeout(this.telling);
      this.timers = [];
    };
  }

  private open(): void {
    if (this.stopped || this.ended) return;
    const source = new EventSource(this.address);
    this.source = source;
    source.onopen = () => void this.catchUp(source);
    source.onerror = () => {
      this.connected = false;
      this.waiting = [];
      this.tell();
      // What was refused the browser does not ask for again: the server may be starting, or the alignment have ended.
      if (source.readyState === EventSource.CLOSED) this.again(() => this.reopen());
    };
    source.onmessage = ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as AimEvent;
      if (this.waiting) this.waiting.push(event);
      else this.take(event);
    };
  }

  private async reopen(): Promise<void> {
    try {
      const { state } = await call(routes.getAlignment, { alignmentId: this.alignmentId });
      if (state !== 'running') return this.take({ type: 'ended', state });
      this.trouble = await this.reasonOfRefusal();
    } catch {
      // It is asked again when the stream is refused again.
    }
    this.open();
  }

  /** Why the stream is refused, in the server's words, which the browser's own reader of streams keeps to itself; null where it is not refused any more. */
  private async reasonOfRefusal(): Promise<string | null> {
    const over = new AbortController();
    const answer = await fetch(this.address, { signal: over.signal });
    this.isNotReadOn = false;
    if (!answer.ok) {
      const { title, detail } = (await answer.json()) as Problem;
      this.isNotReadOn = title === notReadOn;
      return detail;
    }
    over.abort();
    return null;
  }

  private again(work: () => unknown): void {
    setTimeout(() => this.stopped || work(), againMs);
  }

  /** Covers the level when it is no longer true. */
  private look(): void {
    const silent = performance.now() - this.heardAt > staleMs && !this.ended;
    const silence = silent ? (this.trouble ?? noReading) : null;
    if (silence === this.silence) return;
    this.silence = silence;
    this.tell();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): number => this.version;

  private async catchUp(source: EventSource): Promise<void> {
    try {
      const past = await call(routes.getAlignment, { alignmentId: this.alignmentId });
      this.replay(past);
      const { waiting } = this;
      this.waiting = null;
      for (const event of waiting ?? []) this.take(event);
      this.connected = true;
      this.error = null;
    } catch (error) {
      this.error = error;
      this.again(() => {
        if (this.source === source && source.readyState === EventSource.OPEN) void this.catchUp(source);
      });
    }
    this.tell();
  }

  private replay(view: AlignmentView): void {
    const { samples, marks } = view;
    this.trace.length = 0;
    this.calls = {};
    this.guideNow = replayAim(new AimGuide(this.planFor(view)), samples, marks, (reading) => this.show(reading));
    this.lastS = samples.at(-1)?.tS ?? -Infinity;
    for (const mark of marks) this.hear(mark);
  }

  private take(event: AimEvent): void {
    if (event.type === 'ended') {
      this.ended = event.state;
      this.source?.close();
    } else if (event.type === 'mark') {
      this.mark(event.mark);
    } else if (event.type === 'trouble') {
      this.trouble = event.words;
    } else if (event.type === 'crew') {
      this.present = event.present;
    } else if (event.type === 'source') {
      const before = this.sources[event.end]?.way;
      this.sources[event.end] = event;
      // How the guide goes depends on it.
      if (before && before !== event.way) this.readAgain();
    } else if (event.type === 'readAgain') {
      this.readAgain();
    } else {
      const fresh = event.readings.filter((r) => r.tS > this.lastS);
      for (const reading of fresh) this.push(reading);
      this.lastS = Math.max(this.lastS, ...fresh.map((r) => r.tS));
      this.lastAtMs = event.atMs;
      this.heardAt = performance.now();
      this.trouble = null;
      this.silence = null;
      return this.tellSoon();
    }
    this.tell();
  }

  /** A tap counts even where a reading that was taken after it came first. */
  private mark(mark: Tap): void {
    if (this.heard.has(mark.id)) return;
    this.hear(mark);
    this.guideNow?.mark(mark);
  }

  private hear({ id, end, kind, tS }: Tap): void {
    this.heard.add(id);
    if (isCall(kind)) this.calls[end] = { word: kind, tS };
  }

  /** Levels of the past came in: what was read until now is read anew, and what comes meanwhile waits. */
  private readAgain(): void {
    const { source } = this;
    if (!source || this.waiting) return;
    this.waiting = [];
    void this.catchUp(source);
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

  private tellSoon(): void {
    const restMs = this.toldAt + drawMs - performance.now();
    if (restMs <= 0) this.tell();
    else this.telling ??= setTimeout(() => this.tell(), restMs);
  }

  private tell(): void {
    clearTimeout(this.telling);
    this.telling = undefined;
    this.toldAt = performance.now();
    this.version++;
    for (const listener of this.listeners) listener();
  }
}
