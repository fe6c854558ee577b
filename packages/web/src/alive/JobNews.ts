import { routes } from '@kivram/contract/routes';
import { fillPath } from '@kivram/contract/routes/route';
import type { NewsEvent } from '@kivram/contract/views/news';
import { isOfStatesOnly, type SomeNews } from './affected';

/** A server tells at least every 15 s that the line stands; one that is silent for longer than this is gone, ms. */
const silentMs = 40_000;

/** How soon a stream that was lost is opened again, ms; each time later, so that many pages do not ask at once. */
const againMs = 1000;
const latestAgainMs = 15_000;

/** A line that is lost for shorter than this is nobody's concern, ms. */
const quietlyMs = 8000;

/** How long somebody who made a change waits until it is told: news come within moments, or not at all, ms. */
const patienceMs = 2000;

/** What is read so slowly does not keep later news waiting, ms. */
const longestShowMs = 5000;

/** What was read then may have been asked for so long before, s. */
const longestReadS = 10;

/** The part of the browser's event source that is used. */
export type Line = Pick<EventSource, 'close' | 'onmessage' | 'onerror'>;

/**
 * What changes in a job while somebody looks at it, from the server's stream. What came while the line was lost, or the page was hidden, is asked for by its number. News of a change that was made
 * on this page wait for its answer, which says most of it already.
 */
export class JobNews {
  /** the news come as they happen */
  isLive = false;
  /** they have not come for a while, and nobody knows what was missed */
  isLate = false;
  private number: number | null = null;
  private line: Line | null = null;
  private waiting: SomeNews[] = [];
  private isShowing = false;
  /** changes of this page that are on their way */
  private readonly expected = new Map<string, number>();
  /** changes that were told, and those that are shown */
  private readonly told = new Set<string>();
  private readonly shown = new Set<string>();
  /** how often something moved that was not changed here */
  private othersMoved = 0;
  private readonly listeners = new Set<() => void>();
  private tries = 0;
  private again: ReturnType<typeof setTimeout> | undefined;
  private silence: ReturnType<typeof setTimeout> | undefined;
  private late: ReturnType<typeof setTimeout> | undefined;

  /**
   * @param shownSinceMs when the oldest thing was read that the page shows, by the page's clock
   * @param show reads what the news have made old, and is through when it is shown
   */
  constructor(
    readonly jobId: string,
    private readonly shownSinceMs: number,
    private readonly show: (news: readonly SomeNews[]) => Promise<void>,
    private readonly open: (address: string) => Line = (address) => new EventSource(address),
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Opens the line; what was missed since it was closed is told first. */
  listen(): void {
    if (this.line) return;
    clearTimeout(this.again);
    const since =
      this.number === null
        ? `secondsAgo=${Math.max(0, Math.round((Date.now() - this.shownSinceMs) / 1000)) + longestReadS}`
        : `after=${this.number}`;
    const line = this.open(`${fillPath(routes.jobStream.path, { jobId: this.jobId })}?${since}`);
    this.line = line;
    line.onmessage = ({ data }: MessageEvent<string>) => this.take(JSON.parse(data) as NewsEvent);
    line.onerror = () => this.lost();
    this.late ??= setTimeout(() => this.tell({ isLate: true }), quietlyMs);
  }

  /** Closes the line, as while nobody looks. */
  rest(): void {
    this.line?.close();
    this.line = null;
    for (const timer of [this.again, this.silence, this.late]) clearTimeout(timer);
    this.late = undefined;
    this.tell({ isLive: false, isLate: false });
  }

  /** A change is sent from here. */
  expect(changeId: string): void {
    this.expected.set(changeId, this.othersMoved);
  }

  /** Whether nobody else has changed anything since this change was sent: then its answer is the newest that there is. */
  isNewest(changeId: string): boolean {
    return this.expected.get(changeId) === this.othersMoved;
  }

  /** It was refused, or got no answer: if it was made all the same, its news are those of anybody. */
  giveUp(changeId: string): void {
    this.expected.delete(changeId);
    void this.work();
  }

  /**
   * It was made, and what its answer says is shown.
   * @returns whether all else that it moved is shown, too; false where nobody tells of it
   */
  async follow(changeId: string): Promise<boolean> {
    this.expected.delete(changeId);
    void this.work();
    if (!this.isLive) return false;
    if (this.shown.has(changeId)) return true;
    return new Promise((resolve) => {
      const over = (isShown: boolean): void => {
        clearTimeout(patience);
        stop();
        resolve(isShown);
      };
      // What is told and slow to read is waited for: to read everything would be slower.
      const patience = setTimeout(() => this.told.has(changeId) || over(false), patienceMs);
      const stop = this.subscribe(() => {
        if (this.shown.has(changeId)) over(true);
        else if (!this.isLive) over(false);
      });
    });
  }

  private take(event: NewsEvent): void {
    this.tries = 0;
    clearTimeout(this.silence);
    this.silence = setTimeout(() => this.lost(), silentMs);
    if (event.type === 'still') return;
    this.number = Math.max(this.number ?? 0, event.number);
    if (event.type === 'here') {
      clearTimeout(this.late);
      this.late = undefined;
      return this.tell({ isLive: true, isLate: false });
    }
    if (event.changeId !== null) this.told.add(event.changeId);
    if (!isOfStatesOnly(event) && !(event.changeId !== null && this.expected.has(event.changeId))) this.othersMoved++;
    this.waiting.push(event);
    void this.work();
  }

  private lost(): void {
    if (!this.line) return;
    this.line.close();
    this.line = null;
    clearTimeout(this.silence);
    this.late ??= setTimeout(() => this.tell({ isLate: true }), quietlyMs);
    this.tell({ isLive: false });
    this.again = setTimeout(() => this.listen(), Math.min(againMs * 2 ** this.tries++, latestAgainMs));
  }

  /** Shows what waits, and what came meanwhile; one at a time, so that a burst is shown in few goes. */
  private async work(): Promise<void> {
    if (this.isShowing) return;
    this.isShowing = true;
    // The answer of a change has the step states as they are after it.
    const isHeld = (one: SomeNews): boolean =>
      one.changeId === null ? this.expected.size > 0 && isOfStatesOnly(one) : this.expected.has(one.changeId);
    for (let news; (news = this.waiting.filter((one) => !isHeld(one))).length;) {
      this.waiting = this.waiting.filter(isHeld);
      const soon = new Promise((resolve) => setTimeout(resolve, longestShowMs));
      await Promise.race([this.show(news).catch(() => undefined), soon]);
      for (const { changeId } of news) if (changeId !== null) this.shown.add(changeId);
      this.tell({});
    }
    this.isShowing = false;
  }

  private tell(now: { isLive?: boolean; isLate?: boolean }): void {
    Object.assign(this, now);
    for (const listener of this.listeners) listener();
  }
}
