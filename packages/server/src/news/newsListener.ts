import pg from 'pg';
import type { Logger } from 'pino';

/** How soon a lost connection is opened again, ms. */
const againMs = 1000;

/**
 * Hears from the database that a job has news, whichever server they come from. It has a connection of its own. What is told while that is lost is not heard: whoever listens is told when it is
 * back, and looks for itself.
 */
export class NewsListener {
  private client: pg.Client | null = null;
  private begun: Promise<void> | undefined;
  private stopped = false;
  private again: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly databaseUrl: string,
    private readonly log: Logger,
    /** called with the job that has news; with null when any may have had some */
    private readonly hear: (jobId: string | null) => void,
  ) {}

  /** Begins, unless it has begun. Where the database cannot be reached now, it goes on trying. */
  start(): Promise<void> {
    return (this.begun ??= this.open());
  }

  private async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl });
    this.client = client;
    client.on('error', () => this.lost(client));
    client.on('end', () => this.lost(client));
    client.on('notification', ({ payload }) => this.hear(payload ?? null));
    try {
      await client.connect();
      await client.query('LISTEN kivram_news');
      this.hear(null);
    } catch (error) {
      this.log.warn({ err: error }, 'news of jobs are not heard now');
      this.lost(client);
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.again);
    await this.client?.end().catch(() => undefined);
  }

  /** A connection can be lost once only. */
  private lost(client: pg.Client): void {
    if (this.stopped || this.client !== client) return;
    this.client = null;
    void client.end().catch(() => undefined);
    this.again = setTimeout(() => void this.open(), againMs);
  }
}
