/** The time of one alignment. It goes by the monotonic clock: whoever sets the clock of the machine does not set it. */
export class AlignmentClock {
  private readonly openedAt = performance.now();
  private readonly openedOn = Date.now();

  constructor(
    private readonly secondsBefore: number,
    private readonly speed: number,
  ) {}

  /** Seconds that have passed for the radios since the alignment began. */
  secondsAt(moment: number): number {
    return this.secondsBefore + (this.speed * (moment - this.openedAt)) / 1000;
  }

  /** The same of a time of day, ms since 1970. */
  secondsOn(ms: number): number {
    return this.secondsBefore + (this.speed * (ms - this.openedOn)) / 1000;
  }

  /** The time of day, going on from that at which reading began. */
  now(): Date {
    return new Date(this.openedOn + performance.now() - this.openedAt);
  }
}
