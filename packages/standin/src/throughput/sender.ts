import type { Random } from '../random';
import type { Layer, SendStep } from './layer';

/** How fast a tenth of lost frames becomes nearly none: decades of error rate per decibel over the sensitivity. */
const decadesPerDb = 1;

/** How much the last burst counts in what a radio believes of a step, and how often it tries a faster one. */
const learning = 0.25;
const curiosity = 0.025;

/** After so many tries in vain a frame is thrown away. */
const mostTries = 10;

/** What came of one transmission. */
export interface Burst {
  airUs: number;
  delivered: number;
  dropped: number;
}

/** A radio that sends what is queued: gathers frames, tries steps and learns which one carries most, and repeats what was not heard. */
export class Sender {
  queued = 0;
  private window: number;
  private readonly success: number[];
  private triesInVain = 0;

  constructor(
    private readonly layer: Layer,
    /** mean level at the receiver */
    private readonly levelDbm: () => number,
    private readonly packetBytes: number,
    private readonly random: Random,
  ) {
    this.window = layer.contention?.firstWindow ?? 0;
    // Every step is trusted until it fails.
    this.success = layer.steps.map(() => 1);
  }

  /** Slots to wait before this radio's next try. */
  drawBackoff(): number {
    return Math.floor(this.random.between(0, this.window + 1));
  }

  /** Two radios that begin in the same slot hear nothing of each other's frame. */
  collide(): void {
    this.window = Math.min(1023, 2 * this.window + 1);
  }

  /** How long the frames that would go out now occupy the air, without preamble and answer. */
  get burstUs(): number {
    const step = this.layer.steps[this.bestStep()];
    return step ? this.dataUs(step, this.framesFor(step)) : 0;
  }

  /** Sends one burst. The queue loses what arrived and what was given up. */
  send(): Burst {
    const index = this.chooseStep();
    const step = this.layer.steps[index];
    if (!step) {
      const dropped = this.queued;
      this.queued = 0;
      return { airUs: 1000, delivered: 0, dropped };
    }
    const frames = this.framesFor(step);
    const airUs = this.layer.preambleUs + this.dataUs(step, frames);
    const lossShare = errorShare(this.levelDbm(), step);
    let delivered = 0;
    for (let i = 0; i < frames; i++) if (!this.random.chance(lossShare)) delivered++;
    this.success[index] = (1 - learning) * (this.success[index] ?? 0) + (learning * delivered) / frames;
    this.queued -= delivered;
    if (delivered) {
      this.triesInVain = 0;
      this.window = this.layer.contention?.firstWindow ?? 0;
      return { airUs, delivered, dropped: 0 };
    }
    this.collide();
    if (++this.triesInVain < mostTries) return { airUs, delivered, dropped: 0 };
    this.triesInVain = 0;
    this.queued -= frames;
    return { airUs, delivered, dropped: frames };
  }

  private framesFor(step: SendStep): number {
    const { mostFrames, mostDataUs } = this.layer;
    const fitting = Math.floor(((mostDataUs / this.layer.symbolUs) * step.bitsPerSymbol) / this.frameBits);
    return Math.max(1, Math.min(this.queued, mostFrames, fitting));
  }

  private dataUs(step: SendStep, frames: number): number {
    return Math.ceil((frames * this.frameBits) / step.bitsPerSymbol) * this.layer.symbolUs;
  }

  private get frameBits(): number {
    return 8 * (this.packetBytes + this.layer.headerBytes);
  }

  private bestStep(): number {
    let best = 0;
    this.layer.steps.forEach((step, i) => {
      const carried = (index: number, bits: number): number => (this.success[index] ?? 0) * bits;
      if (carried(i, step.bitsPerSymbol) > carried(best, this.layer.steps[best]?.bitsPerSymbol ?? 0)) best = i;
    });
    return best;
  }

  /** Mostly the step that has carried most; now and then the next faster one, to see whether it would do by now. */
  private chooseStep(): number {
    const best = this.bestStep();
    if (!this.random.chance(curiosity)) return best;
    return Math.min(this.layer.steps.length - 1, best + 1);
  }
}

/** Share of frames lost at a level: a tenth at the sensitivity, by its definition, and ten times fewer for each decibel more. */
function errorShare(levelDbm: number, { sensitivityDbm, quieterDb }: SendStep): number {
  return 1 / (1 + 9 * 10 ** (decadesPerDb * (levelDbm - quieterDb - sensitivityDbm)));
}
