import type { Burst, Sender } from './sender';
import type { Layer } from './layer';

/** Who sent last and what came of it; `waitedUs` is all the time that went by. */
export interface Turn {
  who: 'forward' | 'back';
  burst: Burst;
  usedUs: number;
}

/** Gives the two radios of a link their turns. */
export interface Turns {
  /** The next turn among those that have something to send; undefined when nobody has. */
  next(forward: Sender, back: Sender): Turn | undefined;
}

/** Turns by contention: both wait, then count slots down; who reaches zero first sends, and both at once is a collision. */
export class ContentionTurns implements Turns {
  constructor(private readonly layer: Layer & { contention: NonNullable<Layer['contention']> }) {}

  next(forward: Sender, back: Sender): Turn | undefined {
    const { slotUs, waitUs, shortWaitUs, answerUs } = this.layer.contention;
    let lostUs = 0;
    for (;;) {
      const a = forward.queued > 0 ? forward.drawBackoff() : Infinity;
      const b = back.queued > 0 ? back.drawBackoff() : Infinity;
      const slots = Math.min(a, b);
      if (slots === Infinity) return undefined;
      if (a === b) {
        lostUs += waitUs + slots * slotUs + this.layer.preambleUs + Math.max(forward.burstUs, back.burstUs);
        forward.collide();
        back.collide();
        continue;
      }
      const burst = (a < b ? forward : back).send();
      const usedUs = lostUs + waitUs + slots * slotUs + burst.airUs + shortWaitUs + answerUs;
      return { who: a < b ? 'forward' : 'back', burst, usedUs };
    }
  }
}

/** Turns by a master clock: the radios alternate, each turn with a guard time and a share of the slot map. */
export class SlotTurns implements Turns {
  private last: Turn['who'] = 'back';

  next(forward: Sender, back: Sender): Turn | undefined {
    const wish: Turn['who'] = this.last === 'forward' ? 'back' : 'forward';
    const has = { forward: forward.queued > 0, back: back.queued > 0 };
    if (!has.forward && !has.back) return undefined;
    const who = has[wish] ? wish : this.last;
    this.last = who;
    const burst = (who === 'forward' ? forward : back).send();
    return { who, burst, usedUs: burst.airUs + slotGuardUs + slotMapUs };
  }
}

/** Longest way there and back, and switching between sending and hearing. */
const slotGuardUs = 90;
const slotMapUs = 60;
