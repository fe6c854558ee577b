import type { Action, AxisAdvice } from './advice';
import type { AngleTrack } from './angleTrack';
import type { AxisGuide } from './guide';
import { shownS } from './steering';
import type { HandDelay } from './handDelay';
import { Levels } from './levels';
import type { LobePoint } from './lobeFit';
import type { AimSample, Turning } from './reading';

/** Standing still for so long after a stop, the next row is searched. */
const pauseS = 0.5;

/** Turns one axis by so much, to where the next row of a search runs. Nothing is tightened there. */
export class ShiftGuide implements AxisGuide {
  private readonly levels = new Levels();
  private readonly direction: Turning;
  private startDeg: number | null = null;
  action: Action = 'nextRow';
  private remainingDeg: number;
  private stoppedS: number | null = null;

  constructor(
    private readonly byDeg: number,
    private readonly speedDegPerS: number,
    private readonly track: AngleTrack,
    private readonly delay: HandDelay,
  ) {
    this.direction = byDeg > 0 ? 1 : -1;
    this.remainingDeg = Math.abs(byDeg);
  }

  get advice(): AxisAdvice {
    return {
      action: this.action,
      direction: this.action === 'nextRow' ? this.direction : 0,
      remainingDeg: this.remainingDeg,
      levelDbm: this.levels.recentDbm(shownS),
      estimate: null,
    };
  }

  notch(tS: number, direction: Turning): void {
    this.track.notch(tS, direction);
  }

  locked(): void {
    // Nothing is to be tightened yet: whoever did will loosen again.
  }

  endStop(tS: number): void {
    this.stop(tS);
  }

  push(sample: AimSample): void {
    this.levels.push(sample);
    this.track.push(sample);
    const here = this.track.now().angleDeg;
    this.startDeg ??= here;
    if (this.stoppedS !== null) {
      if (sample.tS - this.stoppedS > pauseS + this.delay.seconds) this.action = 'done';
      return;
    }
    this.remainingDeg = Math.abs(this.byDeg) - (here - this.startDeg) * this.direction;
    if (this.remainingDeg < this.speedDegPerS * this.delay.seconds) this.stop(sample.tS);
  }

  points(): LobePoint[] {
    return [];
  }

  private stop(tS: number): void {
    this.stoppedS = tS;
    this.action = 'stop';
    this.remainingDeg = 0;
  }
}
