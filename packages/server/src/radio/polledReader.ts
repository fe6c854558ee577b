import { Freshness } from '@kivram/core/aiming/freshness';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import { setTimeout as pause } from 'node:timers/promises';
import { DeviceError, type LevelDevice, type ToldLevel } from './devices/device';
import { nothingNew, type LevelReading, type RadioReader } from './reader';

/** Asked no more often than readings are taken, and down to this where it does not answer, ms. */
const fastestMs = 100;
const slowestMs = 3000;
/** A question that was not answered makes the next ones this much rarer, and each answer the next one a little sooner. */
const slower = 1.6;
const sooner = 0.85;
/** A packet that got lost is not waited for longer than answers take: the retransmission timer of RFC 6298, section 2, between these, ms. */
const waits = { least: 150, first: 500, most: 1500 } as const;
/** Questions that may be under way at once, late ones among them. */
const mostQuestions = 8;
/** So long without an answer, and whoever aims is told, ms. */
const patienceMs = 2500;

/** A device that is asked over and over, as fast as it bears. What it told is given once; until it tells something new, that is said. */
export class PolledReader implements RadioReader {
  private everyMs = fastestMs;
  private fresh: { told: ToldLevel; measuredAt: number } | null = null;
  private last: ToldLevel | null = null;
  private answeredAt = performance.now();
  private measuredAt = -Infinity;
  private underWay = 0;
  private waitMs: number = waits.first;
  /** how long answers take, on average, and how that differs */
  private trip: { meanMs: number; deviationMs: number } | null = null;
  private why: string | null = null;
  private isOpen = true;
  private readonly freshness = new Freshness();

  /** @param clockSpeed seconds of the reader's caller in one of ours */
  constructor(
    readonly way: LevelWay,
    private readonly device: LevelDevice,
    private readonly clockSpeed = 1,
  ) {
    void this.poll();
  }

  get trouble(): string | null {
    const silentMs = performance.now() - this.answeredAt;
    if (silentMs < patienceMs) return null;
    return this.why ?? 'The radio does not answer.';
  }

  read(): Promise<LevelReading> {
    const { fresh } = this;
    this.fresh = null;
    if (fresh) this.last = fresh.told;
    if (!this.last) return Promise.resolve(nothingNew);
    const { rslDbm, chainsDbm, told } = this.last;
    const angles = { phoneAzimuthDeg: null, phoneTiltDeg: null };
    if (!fresh) return Promise.resolve({ rslDbm, chainsDbm, ...angles, isRepeat: true });
    const ageS = (this.clockSpeed * (performance.now() - fresh.measuredAt)) / 1000;
    const beside = Object.keys(told).length ? { told } : {};
    return Promise.resolve({ rslDbm, chainsDbm, ...angles, ageS, ...beside });
  }

  close(): void {
    this.isOpen = false;
    this.device.close();
  }

  private async poll(): Promise<void> {
    while (this.isOpen) {
      const askedAt = performance.now();
      const isOver = await Promise.race([this.ask(askedAt), pause(this.waitMs, 'late' as const)]);
      // A late answer counts all the same when it comes.
      if (isOver !== 'answered') this.everyMs = Math.min(slowestMs, this.everyMs * slower);
      else this.everyMs = Math.max(fastestMs, this.everyMs * sooner);
      await pause(Math.max(0, this.everyMs - (performance.now() - askedAt)));
      while (this.isOpen && this.underWay >= mostQuestions) await pause(fastestMs);
    }
  }

  private async ask(askedAt: number): Promise<'answered' | 'failed'> {
    this.underWay++;
    try {
      this.take(await this.device.ask(), askedAt, performance.now());
      return 'answered';
    } catch (error) {
      this.why = error instanceof DeviceError ? error.message : `The radio cannot be read: ${String(error)}`;
      return 'failed';
    } finally {
      this.underWay--;
    }
  }

  /** The device measured when the question had come, which is half of the way there and back. */
  private take(told: ToldLevel, askedAt: number, answeredAt: number): void {
    this.answeredAt = answeredAt;
    this.why = null;
    this.learn(answeredAt - askedAt);
    const measuredAt = (askedAt + answeredAt) / 2;
    // One that was overtaken is no news.
    if (measuredAt < this.measuredAt) return;
    this.measuredAt = measuredAt;
    const { rslDbm, chainsDbm } = told;
    const { noiseDbm = null, txMbps = null, rxMbps = null } = told.told;
    if (this.freshness.isNew(measuredAt / 1000, [rslDbm, ...chainsDbm, noiseDbm, txMbps, rxMbps]))
      this.fresh = { told, measuredAt };
  }

  private learn(tookMs: number): void {
    const { trip } = this;
    if (trip) {
      trip.deviationMs += (Math.abs(trip.meanMs - tookMs) - trip.deviationMs) / 4;
      trip.meanMs += (tookMs - trip.meanMs) / 8;
    } else this.trip = { meanMs: tookMs, deviationMs: tookMs / 2 };
    const { meanMs, deviationMs } = this.trip ?? { meanMs: tookMs, deviationMs: 0 };
    this.waitMs = Math.min(waits.most, Math.max(waits.least, meanMs + 4 * deviationMs));
  }
}
