import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type { Pool } from 'pg';
import { ApiProblem } from './apiProblem';

const minuteS = 60;

/** How often somebody may try to get in. */
const limits = {
  /** codes and passwords together, from one address */
  address: { points: 20, duration: 10 * minuteS },
  /** wrong passwords of one person, from wherever */
  person: { points: 10, duration: 15 * minuteS },
  /** everybody together: a flood from many addresses */
  all: { points: 300, duration: 10 * minuteS },
} as const;

/** Counts tries to sign in, in the database, so that another start of the server forgets none. */
export class Tries {
  private readonly limiters: Record<keyof typeof limits, RateLimiterPostgres>;

  constructor(pool: Pool) {
    const limiter = (kind: keyof typeof limits): RateLimiterPostgres =>
      new RateLimiterPostgres({
        storeClient: pool,
        storeType: 'pool',
        tableName: 'sign_in_try',
        tableCreated: true,
        keyPrefix: kind,
        ...limits[kind],
      });
    this.limiters = { address: limiter('address'), person: limiter('person'), all: limiter('all') };
  }

  /** Counts a try. @throws ApiProblem when there were too many, with how long to wait */
  async count(kind: keyof typeof limits, key: string): Promise<void> {
    try {
      await this.limiters[kind].consume(key);
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error;
      const minutes = Math.max(1, Math.ceil(error.msBeforeNext / 60_000));
      throw new ApiProblem(
        429,
        'Too many tries',
        `There were too many tries. Wait ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}, or ask for an invitation at the computer.`,
      );
    }
  }

  /** Who has got in has tried nothing. */
  async forget(kind: 'person', key: string): Promise<void> {
    await this.limiters[kind].delete(key);
  }
}
