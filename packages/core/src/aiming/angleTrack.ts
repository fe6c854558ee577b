import type { Turning } from './reading';

/** Where the mount was at each sample, from whatever tells the angle. */
export interface AngleTrack {
  push(tS: number, phoneDeg: number | null, turning: Turning): void;
  notch(tS: number, direction: Turning): void;
  /** position now and speed, degrees and degrees per second */
  now(): { angleDeg: number; speedDegPerS: number };
  /** the hand stands still from this moment on */
  stopAt(tS: number): void;
  /** mean position over the last seconds, for a mount at rest */
  restDeg(seconds: number): number;
  /** smallest difference of position that this track can tell at rest */
  readonly resolutionDeg: number;
  /** positions of all samples so far, smoothed with what came after them too */
  smoothedDeg(): number[];
  /** which side the mount was pushed from at each sample, where play stands between this scale and the antenna */
  pushedFrom(): Turning[];
  /** leaves the oldest samples out from now on */
  forget(count: number): void;
}

/**
 * A phone held to the antenna: each angle is noisy, but independent of play. The present comes from a constant-velocity Kalman
 * filter, the past from a centred mean, which does not lag.
 */
export class PhoneTrack implements AngleTrack {
  readonly resolutionDeg = 0;
  private readonly raw: number[] = [];
  /** running sums of the raw angles, for means over any stretch */
  private readonly sums: number[] = [0];
  private readonly times: number[] = [];
  private readonly push1: Turning[] = [];
  private state = { x: 0, v: 0, pxx: 1e4, pxv: 0, pvv: 1 };

  constructor(
    private readonly noiseDeg: number,
    private readonly usualSpeedDegPerS: number,
  ) {}

  push(tS: number, phoneDeg: number | null): void {
    const last = this.times.at(-1);
    const angle = phoneDeg ?? this.raw.at(-1) ?? 0;
    this.raw.push(angle);
    this.sums.push((this.sums.at(-1) ?? 0) + angle);
    this.times.push(tS);
    this.push1.push(0);
    const s = this.state;
    if (last === undefined) {
      this.state = { x: angle, v: 0, pxx: this.noiseDeg ** 2, pxv: 0, pvv: this.usualSpeedDegPerS ** 2 };
      return;
    }
    const dt = tS - last;
    const q = this.usualSpeedDegPerS ** 2 * 1.2; // speed changes by about itself within a second
    const x = s.x + s.v * dt;
    const pxx = s.pxx + 2 * dt * s.pxv + dt * dt * s.pvv + (q * dt ** 3) / 3;
    const pxv = s.pxv + dt * s.pvv + (q * dt * dt) / 2;
    const pvv = s.pvv + q * dt;
    const gainX = pxx / (pxx + this.noiseDeg ** 2);
    const gainV = pxv / (pxx + this.noiseDeg ** 2);
    this.state = {
      x: x + gainX * (angle - x),
      v: s.v + gainV * (angle - x),
      pxx: (1 - gainX) * pxx,
      pxv: (1 - gainX) * pxv,
      pvv: pvv - gainV * pxv,
    };
  }

  notch(): void {
    // A phone needs no taps.
  }

  stopAt(): void {
    // A phone sees for itself that the hand stands still.
  }

  now(): { angleDeg: number; speedDegPerS: number } {
    return { angleDeg: this.state.x, speedDegPerS: this.state.v };
  }

  restDeg(seconds: number): number {
    const since = (this.times.at(-1) ?? 0) - seconds;
    const rest = this.raw.filter((_, i) => (this.times[i] ?? 0) >= since);
    return rest.reduce((sum, x) => sum + x, 0) / Math.max(1, rest.length);
  }

  smoothedDeg(): number[] {
    const half = 5;
    const last = this.raw.length - 1;
    return this.raw.map((_, i) => {
      const reach = Math.min(half, i, last - i); // symmetric, so that steady turning is not biased
      return ((this.sums[i + reach + 1] ?? 0) - (this.sums[i - reach] ?? 0)) / (2 * reach + 1);
    });
  }

  pushedFrom(): Turning[] {
    return this.push1;
  }

  forget(count: number): void {
    for (const list of [this.raw, this.sums, this.times, this.push1]) list.splice(0, count);
  }
}

/** A scale on the mount, one tap per notch that passes: exact at each tap, straight in between, but off by the mount's play. */
export class ScaleTrack implements AngleTrack {
  private readonly times: number[] = [];
  private readonly pushed: Turning[] = [];
  private readonly taps: { tS: number; angleDeg: number }[] = [];
  private lastTurning: Turning = 0;
  private lastTap: Turning = 0;

  private stoppedS: number | null = null;

  constructor(private readonly notchDeg: number) {}

  get resolutionDeg(): number {
    return this.notchDeg;
  }

  stopAt(tS: number): void {
    this.stoppedS = tS;
  }

  push(tS: number, _phoneDeg: number | null, turning: Turning): void {
    if (!this.taps.length) this.taps.push({ tS, angleDeg: 0 });
    if (turning) this.lastTurning = turning;
    this.times.push(tS);
    this.pushed.push(this.lastTurning);
  }

  notch(tS: number, direction: Turning): void {
    // After turning round, the first notch that passes is the one that passed last.
    const sameNotch = this.lastTap !== 0 && direction !== this.lastTap;
    this.lastTap = direction;
    this.stoppedS = null;
    this.taps.push({ tS, angleDeg: (this.taps.at(-1)?.angleDeg ?? 0) + (sameNotch ? 0 : direction * this.notchDeg) });
  }

  now(): { angleDeg: number; speedDegPerS: number } {
    const [before, last] = [this.taps.at(-2), this.taps.at(-1)];
    if (!last) return { angleDeg: 0, speedDegPerS: 0 };
    const tS = Math.min(this.times.at(-1) ?? last.tS, this.stoppedS ?? Infinity);
    const speed = before && last.tS > before.tS ? (last.angleDeg - before.angleDeg) / (last.tS - before.tS) : 0;
    const ahead = speed * Math.max(0, tS - last.tS);
    const most = 0.9 * this.notchDeg; // the next notch has not passed yet
    return { angleDeg: last.angleDeg + Math.max(-most, Math.min(most, ahead)), speedDegPerS: speed };
  }

  restDeg(): number {
    return this.now().angleDeg;
  }

  smoothedDeg(): number[] {
    let next = 0;
    const now = this.now().angleDeg;
    return this.times.map((tS) => {
      while (next < this.taps.length && (this.taps[next]?.tS ?? 0) <= tS) next++;
      const [a, b] = [this.taps[next - 1], this.taps[next]];
      if (!a) return 0;
      if (!b) return a.tS === tS ? a.angleDeg : now;
      return a.angleDeg + ((b.angleDeg - a.angleDeg) * (tS - a.tS)) / Math.max(1e-9, b.tS - a.tS);
    });
  }

  pushedFrom(): Turning[] {
    return this.pushed;
  }

  forget(count: number): void {
    this.times.splice(0, count);
    this.pushed.splice(0, count);
    // The last notch before the first sample tells where that one was.
    const since = this.taps.findLastIndex((tap) => tap.tS <= (this.times[0] ?? 0));
    this.taps.splice(0, Math.max(0, since));
  }
}
