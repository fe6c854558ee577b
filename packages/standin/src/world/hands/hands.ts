import type { Advice } from '@kivram/core/aiming/advice';
import type { AimMark } from '@kivram/core/aiming/aimGuide';
import type { AngleSource, MountAxis, Turning } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import type { Random } from '../../random';
import type { AimWorld } from '../aimWorld';
import { steadyHand, type HandSetup } from './handSetup';

/** Feeling that the mount goes no further takes so long, and so does finding the wrench for the bolts. */
const feelsStopS = 0.5;
const wrenchS = 0.5;

/**
 * A simulated installer who does what the words say: turns at about the asked speed (each stroke a little different, and unsteady
 * within), reacts late, tightens when told to, and taps what he feels. For trying guides; in the application a person does this.
 */
export class Hands {
  private turning: Turning = 0;
  private wanted: Turning = 0;
  private wantedSinceS = 0;
  private strokeSpeed = 1;
  private wobble = 0;
  private reactionS = 0;
  private budgetDeg = Infinity;
  private wrongUntilS = -Infinity;
  private blockedSinceS: number | null = null;
  private notchesTapped: number | undefined;
  /** when the bolts were taken in hand; null while nobody tightens */
  private tighteningSinceS: number | null = null;
  turns = 0;

  constructor(
    private readonly world: AimWorld,
    private readonly end: End,
    private readonly random: Random,
    private readonly source: AngleSource,
    private readonly notchDeg: Record<MountAxis, number>,
    private readonly setup: HandSetup = steadyHand,
  ) {}

  /** One time step: follows the advice of the moment and returns what was tapped. */
  act(tS: number, dtS: number, axis: MountAxis, speedDegPerS: number, advice: Advice): AimMark[] {
    const marks: AimMark[] = [];
    if (advice.action === 'lock' && this.tighteningSinceS === null && !this.turning) {
      this.tighteningSinceS = tS;
      this.world.tighten(this.end, axis);
    }
    if (this.tighteningSinceS !== null) {
      // Whoever has begun to tighten finishes, whatever the words say meanwhile.
      if (this.source === 'scale') marks.push(...this.tapNotches(tS, axis));
      if (!this.world.isTight(this.end, axis) || tS - this.tighteningSinceS < wrenchS) return marks;
      this.tighteningSinceS = null;
      return [...marks, { kind: 'locked', tS }];
    }
    this.hear(tS, speedDegPerS, advice);
    if (this.turning !== this.wanted && tS - this.wantedSinceS >= this.reactionS) {
      this.turning = this.wanted;
      // Taps are asked for where nothing else tells the angle.
      if (advice.byTime) marks.push({ kind: 'turning', tS, direction: this.turning });
      if (this.turning) this.beginStroke(tS);
    }
    this.wobble += -this.wobble * dtS + this.setup.unsteadiness * Math.sqrt(2 * dtS) * this.random.normal();
    const wrongly = tS < this.wrongUntilS ? -1 : 1;
    const by = wrongly * this.turning * speedDegPerS * this.strokeSpeed * Math.max(0.2, 1 + this.wobble) * dtS;
    const allowed = Math.sign(by) * Math.min(Math.abs(by), Math.max(0, this.budgetDeg));
    this.budgetDeg -= Math.abs(allowed);
    const went = this.world.turn(this.end, axis, allowed);
    if (this.source === 'scale') marks.push(...this.tapNotches(tS, axis));
    if (this.feelsStop(tS, allowed, went)) marks.push({ kind: 'endStop', tS });
    return marks;
  }

  /** Starts counting notches anew when the guide turns to another axis. */
  forgetScale(): void {
    this.notchesTapped = undefined;
    this.turning = 0;
    this.wanted = 0;
  }

  private hear(tS: number, speedDegPerS: number, advice: Advice): void {
    if (advice.direction === this.wanted) return;
    this.wanted = advice.direction;
    this.wantedSinceS = tS;
    this.reactionS = Math.max(0.1, this.setup.reactionS + this.setup.reactionSdS * this.random.normal());
    // A short way back is done by feel: about as far as was asked.
    this.budgetDeg =
      advice.action === 'comeBack' && advice.remainingDeg !== null && advice.remainingDeg < speedDegPerS
        ? advice.remainingDeg * (1 + 0.2 * this.random.normal())
        : Infinity;
  }

  private beginStroke(tS: number): void {
    this.turns++;
    this.strokeSpeed = Math.exp(this.setup.speedSpread * this.random.normal());
    this.wrongUntilS = this.random.chance(this.setup.wrongWayShare) ? tS + this.setup.wrongWayS : -Infinity;
  }

  /** Whether it has been clear for a moment that the mount goes no further. */
  private feelsStop(tS: number, askedDeg: number, wentDeg: number): boolean {
    if (askedDeg === 0 || Math.abs(wentDeg) >= 0.5 * Math.abs(askedDeg)) {
      this.blockedSinceS = null;
      return false;
    }
    this.blockedSinceS ??= tS;
    if (tS - this.blockedSinceS < feelsStopS) return false;
    this.blockedSinceS = null;
    return true;
  }

  private tapNotches(tS: number, axis: MountAxis): AimMark[] {
    const here = Math.floor(this.world.scaleDeg(this.end, axis) / this.notchDeg[axis]);
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
