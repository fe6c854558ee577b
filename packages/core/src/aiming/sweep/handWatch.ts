import type { AxisPlan } from '../guide';
import type { HandDelay } from '../handDelay';
import type { AimSample, Turning } from '../reading';

/** While it turns a mount's place is known so well, one standard deviation in beam widths. */
const turningSdWidths = 0.12;

/** Watches what a hand does after it was told something, and learns from it how late it is: from taps, from notches, and from where it came to rest. */
export class HandWatch {
  /** when "stop" and "turn back" were said last; null where the hand has answered */
  private stopSaidS: number | null = null;
  private turnSaidS: number | null = null;
  /** where a hand was to stop that was stopped on its way; null where it went by feel */
  private stopToDeg: number | null = null;
  private lastNotch: { tS: number; direction: Turning } | null = null;
  /** when a notch passed last although "stop" was said */
  private ranOverS: number | null = null;

  constructor(
    private readonly delay: HandDelay,
    private readonly plan: AxisPlan,
  ) {}

  toldToTurn(tS: number): void {
    this.turnSaidS = tS;
  }

  toldToComeBack(): void {
    this.stopSaidS = null;
    this.stopToDeg = null;
  }

  toldToStop(tS: number, toDeg: number | null): void {
    this.stopSaidS = tS;
    this.stopToDeg = toDeg;
    this.ranOverS = null;
  }

  /** Taps of who says when the hand turns. */
  turns({ tS, turning }: AimSample, before: Turning, asked: Turning): void {
    if (turning === before) return;
    if (turning === 0 && this.stopSaidS !== null) this.delay.observe(tS - this.stopSaidS);
    else if (turning === asked && before === -turning && this.turnSaidS !== null)
      this.delay.observe(tS - this.turnSaidS);
    this.turnSaidS = null;
  }

  /** A notch that passes. The same one twice, there and back: in the middle of that time the hand turned round. */
  notch(tS: number, direction: Turning, asked: Turning): void {
    const { turnSaidS, lastNotch } = this;
    if (turnSaidS !== null && direction === asked && !this.plan.isLate) {
      if (lastNotch?.direction === -direction) this.delay.observe((lastNotch.tS + tS) / 2 - turnSaidS);
      this.turnSaidS = null;
    }
    if (this.stopSaidS !== null) this.ranOverS = tS;
    this.lastNotch = { tS, direction };
  }

  /** It rests: a notch that passed after "stop" shows that it still turned, and a little longer. */
  rests(resolutionDeg: number): void {
    const { stopSaidS, ranOverS } = this;
    if (stopSaidS === null || ranOverS === null) return;
    this.delay.observe(ranOverS - stopSaidS + resolutionDeg / this.plan.speedDegPerS);
    this.ranOverS = null;
  }

  /** It rests at a place that was read: so far beside where it was to stop it ran on. */
  restsAt({ angleDeg, sdDeg }: { angleDeg: number; sdDeg: number }, direction: Turning): void {
    if (this.stopToDeg === null) return;
    const { speedDegPerS, beamWidthDeg } = this.plan;
    const overS = ((angleDeg - this.stopToDeg) * direction) / speedDegPerS;
    const sdS = Math.hypot(sdDeg, turningSdWidths * beamWidthDeg) / speedDegPerS;
    this.delay.observe(this.delay.seconds + overS, sdS);
    this.stopToDeg = null;
  }
}
