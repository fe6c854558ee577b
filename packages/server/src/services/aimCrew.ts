import type { Present } from '@kivram/contract/views/alignment';

/** Whoever has not been heard of for so long has gone, ms; a page says every few seconds that it is there. */
const goneMs = 12_000;

/** Who has one running alignment open, and where they are. */
export class AimCrew {
  private readonly heard = new Map<string, Present & { at: number }>();

  /** @returns whether that is news */
  join(present: Present): boolean {
    const before = this.heard.get(present.device);
    this.heard.set(present.device, { ...present, at: performance.now() });
    return before?.end !== present.end || before.name !== present.name;
  }

  /** @returns whether somebody has gone */
  forgetGone(): boolean {
    const since = performance.now() - goneMs;
    const gone = [...this.heard.values()].filter(({ at }) => at < since);
    for (const { device } of gone) this.heard.delete(device);
    return gone.length > 0;
  }

  present(): Present[] {
    return [...this.heard.values()].map(({ device, name, end }) => ({ device, name, end }));
  }
}
