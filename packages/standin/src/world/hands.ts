import type { Advice, AimMark, AngleSource, End, MountAxis, Turning } from '@kivram/core';
import type { Random } from '../random';
import type { AimWorld } from './aimWorld';

/**
 * A simulated installer who does what the words say: turns at about the asked speed (each stroke a little different, and unsteady
 * within), reacts late, and taps what he feels. For trying guides; in the application a person does this.
 */
export class Hands {
  private turning: Turning = 0;
  private wanted: Turning = 0;
  private wantedSinceS = 0;
  private strokeSpeed: number;
  private wobble = 0;
  private reactionS: number;
  private budgetDeg = Infinity;
  private notchesTapped: number | undefined;
  turns = 0;

  constructor(
    private readonly world: AimWorld,
    private readonly end: End,
    private readonly random: Random,
    private readonly source: AngleSource,
    private readonly notchDeg: number,
  ) {
    this.strokeSpeed = 1;
    this.reactionS = 0.3;
  }

  /** One time step: follows the advice of the moment and returns what was tapped. */
  act(tS: number, dtS: number, axis: MountAxis, speedDegPerS: number, advice: Advice): AimMark[] {
    const marks: AimMark[] = [];
    const direction = advice.direction;
    if (direction !== this.wanted) {
      this.wanted = direction;
      this.wantedSinceS = tS;
      this.reactionS = Math.max(0.1, 0.3 + 0.08 * this.random.normal());
      // A short way back is done by feel: about as far as was asked.
      this.budgetDeg =
        advice.action === 'comeBack' && advice.remainingDeg !== null && advice.remainingDeg < speedDegPerS
          ? advice.remainingDeg * (1 + 0.2 * this.random.normal())
          : Infinity;
    }
    if (this.turning !== this.wanted && tS - this.wantedSinceS >= this.reactionS) {
      this.turning = this.wanted;
      marks.push({ kind: 'turning', tS, direction: this.turning });
      if (this.turning) {
        this.turns++;
        this.strokeSpeed = Math.exp(0.12 * this.random.normal());
      }
    }
    this.wobble += -this.wobble * dtS + 0.15 * Math.sqrt(2 * dtS) * this.random.normal();
    const by = this.turning * speedDegPerS * this.strokeSpeed * Math.max(0.2, 1 + this.wobble) * dtS;
    const allowed = Math.sign(by) * Math.min(Math.abs(by), Math.max(0, this.budgetDeg));
    this.budgetDeg -= Math.abs(allowed);
    this.world.turn(this.end, axis, allowed);
    if (this.source === 'scale') marks.push(...this.tapNotches(tS, axis));
    return marks;
  }

  /** Starts counting notches anew when the guide turns to another axis. */
  forgetScale(): void {
    this.notchesTapped = undefined;
    this.turning = 0;
    this.wanted = 0;
  }

  private tapNotches(tS: number, axis: MountAxis): AimMark[] {
    const here = Math.floor(this.world.scaleDeg(this.end, axis) / this.notchDeg);
    this.notchesTapped ??= here;
    const marks: AimMark[] = [];
    while (this.notchesTapped !== here) {
      const direction: Turning = here > this.notchesTapped ? 1 : -1;
      this.notchesTapped += direction;
      marks.push({ kind: 'notch', tS, direction });
    }
    return marks;
  }
}
