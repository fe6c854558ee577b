import { ApiProblem } from './apiProblem';

/** Lets so many pieces of work run at one time; more wait for their turn, first come first served, up to a number beyond which they are refused. */
export class Turns {
  private readonly waiting: (() => void)[] = [];
  private running = 0;

  constructor(
    private readonly atOnce: number,
    private readonly mostWaiting = Infinity,
  ) {}

  /** @throws ApiProblem when too many wait already */
  async run<T>(work: () => Promise<T>): Promise<T> {
    if (this.waiting.length >= this.mostWaiting) {
      throw new ApiProblem(503, 'Busy', `${this.mostWaiting} others wait for this already. Try again in a minute.`);
    }
    if (this.running >= this.atOnce) await new Promise<void>((resolve) => this.waiting.push(resolve));
    else this.running++;
    try {
      return await work();
    } finally {
      // The place goes on to the next one, or is free.
      const next = this.waiting.shift();
      if (next) next();
      else this.running--;
    }
  }
}
