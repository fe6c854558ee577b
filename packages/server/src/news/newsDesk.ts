import type { Moved, NewsEvent } from '@kivram/contract/views/news';
import type { Logger } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { addressOf } from '../database/connection';
import type { EventStream } from '../http/eventStream';
import { NewsListener } from './newsListener';

/** How often a line on which nothing happens is told so, ms: a viewer whose line has gone silent opens another. */
const stillMs = 15_000;

/** How long news are kept for viewers who were away, and how often older ones are thrown away. */
const keptHours = 24;
const sweepMs = 3_600_000;

/** News that a viewer is told one by one; who has missed more asks for everything again. */
const mostToldAtOnce = 200;

/** How soon is looked again where that failed, ms. */
const againMs = 1000;

interface Line {
  number: number;
  changeId: string | null;
  crewMemberId: string | null;
  isWhole: boolean;
  moved: Moved;
}

interface Viewer {
  stream: EventStream;
  /** the last number that it was told of */
  number: number;
}

/** From where on a viewer wants to be told. */
export type Since = { number: number } | { secondsAgo: number };

/** Tells viewers of a job what changes in it, in order: whichever server made the change, and with one look into the database however many they are. */
export class NewsDesk {
  private readonly viewers = new Map<string, Set<Viewer>>();
  /** jobs that are looked at now, and whether there was more to look for meanwhile */
  private readonly looking = new Map<string, boolean>();
  private readonly listener: NewsListener;
  /** once for every start, and every hour after it */
  private swept: Promise<void> | undefined;
  private readonly timers: ReturnType<typeof setInterval>[];

  constructor(
    private readonly sequelize: Sequelize,
    private readonly log: Logger,
  ) {
    this.listener = new NewsListener(addressOf(sequelize), log, (jobId) => {
      for (const watched of jobId ? [jobId] : [...this.viewers.keys()]) void this.look(watched);
    });
    this.timers = [
      setInterval(() => this.sayStill(), stillMs).unref(),
      setInterval(() => void this.sweep(), sweepMs).unref(),
    ];
  }

  async stop(): Promise<void> {
    for (const timer of this.timers) clearInterval(timer);
    for (const { stream } of [...this.viewers.values()].flatMap((some) => [...some])) stream.end();
    this.viewers.clear();
    await this.listener.stop();
  }

  /** Tells a viewer from now on, and of what it has missed. */
  async watch(jobId: string, since: Since, stream: EventStream): Promise<void> {
    this.swept ??= this.sweep();
    await this.listener.start();
    const number = 'number' in since ? since.number : await this.numberAt(jobId, since.secondsAgo);
    const misses = 'number' in since && (await this.isForgotten(jobId, number));
    const viewer = { stream, number };
    stream.begin();
    if (misses) stream.say(allFrom(number));
    stream.say({ type: 'here', number } satisfies NewsEvent);
    const viewers = this.viewers.get(jobId) ?? new Set();
    this.viewers.set(jobId, viewers.add(viewer));
    stream.whenClosed(() => {
      viewers.delete(viewer);
      if (!viewers.size && this.viewers.get(jobId) === viewers) this.viewers.delete(jobId);
    });
    await this.look(jobId);
  }

  /** Looks for news of a job for those who watch it; one look at a time, and another where more came meanwhile. */
  private async look(jobId: string): Promise<void> {
    if (!this.viewers.has(jobId)) return;
    if (this.looking.has(jobId)) return void this.looking.set(jobId, true);
    do {
      this.looking.set(jobId, false);
      try {
        await this.tellNews(jobId);
      } catch (error) {
        this.log.warn({ err: error, jobId }, 'news of this job were not told');
        setTimeout(() => void this.look(jobId), againMs).unref();
      }
    } while (this.looking.get(jobId) && this.viewers.has(jobId));
    this.looking.delete(jobId);
  }

  private async tellNews(jobId: string): Promise<void> {
    const viewers = [...(this.viewers.get(jobId) ?? [])];
    const least = Math.min(...viewers.map(({ number }) => number));
    const lines = await this.sequelize.query<Line>(
      `SELECT number::float8 AS number, change_id AS "changeId", crew_member_id AS "crewMemberId", is_whole AS "isWhole", moved
       FROM news WHERE job_id = :jobId AND number > :least ORDER BY number DESC LIMIT :most`,
      { type: QueryTypes.SELECT, replacements: { jobId, least, most: mostToldAtOnce + 1 } },
    );
    lines.reverse();
    const last = lines.at(-1)?.number;
    // A job that is gone has no news: whoever watches it asks, and is told.
    if (last === undefined) return this.tellGone(jobId, viewers);
    const isTooMuch = lines.length > mostToldAtOnce;
    for (const viewer of viewers) {
      const fresh = lines.filter(({ number }) => number > viewer.number);
      if (!fresh.length) continue;
      if (isTooMuch && fresh.length === lines.length) viewer.stream.say(allFrom(last));
      else for (const line of fresh) viewer.stream.say(eventOf(line));
      viewer.number = last;
    }
  }

  private async tellGone(jobId: string, viewers: readonly Viewer[]): Promise<void> {
    const rows = await this.sequelize.query('SELECT 1 FROM job WHERE id = :jobId', {
      type: QueryTypes.SELECT,
      replacements: { jobId },
    });
    if (rows.length) return;
    for (const { stream, number } of viewers) {
      stream.say(allFrom(number));
      stream.end();
    }
  }

  /** The number that a job's news had so long ago. */
  private async numberAt(jobId: string, secondsAgo: number): Promise<number> {
    const rows = await this.sequelize.query<{ number: number }>(
      `SELECT coalesce(max(number) FILTER (WHERE at <= now() - interval '1 second' * :secondsAgo), min(number) - 1, 0)::float8 AS number
       FROM news WHERE job_id = :jobId`,
      { type: QueryTypes.SELECT, replacements: { jobId, secondsAgo } },
    );
    return rows[0]?.number ?? 0;
  }

  /** Whether news after this one may have been thrown away. */
  private async isForgotten(jobId: string, number: number): Promise<boolean> {
    const rows = await this.sequelize.query<{ oldest: number | null }>(
      'SELECT min(number)::float8 AS oldest FROM news WHERE job_id = :jobId',
      { type: QueryTypes.SELECT, replacements: { jobId } },
    );
    const oldest = rows[0]?.oldest ?? null;
    return oldest === null ? number > 0 : number < oldest;
  }

  /** The last line of a job is kept however old it is: by it one sees that nothing is missed. */
  private async sweep(): Promise<void> {
    try {
      await this.sequelize.query(
        `DELETE FROM news WHERE at < now() - interval '1 hour' * :keptHours
           AND number < (SELECT max(number) FROM news later WHERE later.job_id = news.job_id)`,
        { replacements: { keptHours } },
      );
    } catch (error) {
      this.log.warn({ err: error }, 'old news were not thrown away');
    }
  }

  private sayStill(): void {
    for (const viewers of this.viewers.values())
      for (const { stream } of viewers) stream.say({ type: 'still' } satisfies NewsEvent);
  }
}

/** Too much to be told one by one. */
const allFrom = (number: number): Extract<NewsEvent, { type: 'all' }> => ({ type: 'all', number, changeId: null });

function eventOf({ number, changeId, crewMemberId, isWhole, moved }: Line): NewsEvent {
  return isWhole ? { ...allFrom(number), changeId } : { type: 'moved', number, changeId, crewMemberId, moved };
}
