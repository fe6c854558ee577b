import type { AimSample, Turning } from './reading';

/** Where the mount was at each sample, from whatever tells the angle. */
export interface AngleTrack {
  push(sample: AimSample): void;
  /** the hand was told to turn so, or to stop, and will do so in a moment */
  told(tS: number, direction: Turning, delayS: number): void;
  notch(tS: number, direction: Turning): void;
  /** position now and speed, degrees and degrees per second */
  now(): { angleDeg: number; speedDegPerS: number };
  /** the hand stands still from this moment on */
  stopAt(tS: number): void;
  /** a short way was gone by feel, to here as far as anybody knows */
  settleAt(angleDeg: number): void;
  /** mean position since a moment, for a mount at rest, and its standard deviation */
  restDeg(sinceS: number): { angleDeg: number; sdDeg: number };
  /** smallest difference of position that this track can tell at rest */
  readonly resolutionDeg: number;
  /** positions of all samples so far, smoothed with what came after them too */
  smoothedDeg(): number[];
  /** which side the mount was pushed from at each sample, where play stands between this scale and the antenna */
  pushedFrom(): Turning[];
  /** leaves the oldest samples out from now on */
  forget(count: number): void;
  /** whether more readings at rest make its position better known */
  readonly isAveraging: boolean;
  readonly traits: TrackTraits;
}

/** How far a track can be trusted. */
export interface TrackTraits {
  /** half the play between what it reads and the antenna, one standard deviation */
  halfPlaySdDeg: number;
  /** whether its zero may wander, and how fast, one standard deviation */
  wanders: boolean;
  driftSdDegPerS: number;
  /** how far back strokes may still say where the peak is now, seconds, from the shortest time on */
  memoriesS: readonly number[];
  /** how far a whole stroke may lie beside where it was, one standard deviation, degrees */
  strokeSdDeg: number;
  /** how far lobes in it stray from the spec sheet's width, standard deviation over width */
  widthSpread: number;
  /** how a position read off it strays with the way since, standard deviation over way */
  waySpread: number;
  /** a search must be so much longer than it should, out and back, for its degrees may be short ones */
  slack: { out: number; back: number };
}

/** One moment of a phone's track: position, speed, and how well they are known together. */
interface PhoneState {
  tS: number;
  rawDeg: number;
  x: number;
  v: number;
  pxx: number;
  pxv: number;
  pvv: number;
  /** how fast the speed may change from here on: its variance a second */
  q: number;
  /** where the speed is another one from here on: the speed until here, and how its error goes with that of the position */
  until: { v: number; pxv: number } | null;
  /** what smoothing takes from the next state, once that is there */
  gain?: SmootherGain;
}

interface SmootherGain {
  /** the place that was foreseen for the next state */
  aheadX: number;
  xx: number;
  xv: number;
  vx: number;
  vv: number;
}

/** How the speed of a hand strays from the asked one, and within a second, as shares of it. */
const speedSpread = 0.35;
const unsteadyShare = 0.2;
/** So many angles in a row, and so many standard deviations of their mean, show that the hand does something else than it was told. */
const surprises = 10;
const surprisingSds = 3;

/**
 * A phone held to the antenna: each angle is noisy, but independent of play. The present comes from a constant-velocity Kalman
 * filter, the past from its smoother (Rauch, Tung and Striebel 1965).
 */
export class PhoneTrack implements AngleTrack {
  readonly isAveraging = true;
  readonly resolutionDeg = 0;
  readonly traits: TrackTraits = {
    halfPlaySdDeg: 0.1,
    wanders: true,
    driftSdDegPerS: 2 / 60,
    memoriesS: [40, 120],
    strokeSdDeg: 0.2,
    widthSpread: 0.15,
    waySpread: 0.05,
    slack: { out: 1, back: 1 },
  };
  private readonly states: PhoneState[] = [];
  private readonly pushed: Turning[] = [];
  private smoothed: number[] | null = null;
  /** what the hand was told and will begin to do at a moment */
  private coming: { fromS: number; speedDegPerS: number } | null = null;
  private surprise = 0;

  constructor(
    private readonly noiseDeg: number,
    private readonly usualSpeedDegPerS: number,
  ) {}

  told(tS: number, direction: Turning, delayS: number): void {
    this.coming = { fromS: tS + delayS, speedDegPerS: direction * this.usualSpeedDegPerS };
  }

  push({ tS, angleDeg }: AimSample): void {
    this.smoothed = null;
    this.pushed.push(0);
    const last = this.states.at(-1);
    const rawDeg = angleDeg ?? last?.rawDeg ?? 0;
    const noise = this.noiseDeg ** 2;
    const usual = this.usualSpeedDegPerS;
    if (!last) {
      const q = (unsteadyShare * usual) ** 2;
      this.states.push({ tS, rawDeg, x: rawDeg, v: 0, pxx: noise, pxv: 0, pvv: usual ** 2, q, until: null });
      return;
    }
    const ahead = predicted(last, tS);
    const gainX = ahead.pxx / (ahead.pxx + noise);
    const gainV = ahead.pxv / (ahead.pxx + noise);
    const off = rawDeg - ahead.x;
    const state: PhoneState = {
      tS,
      rawDeg,
      x: ahead.x + gainX * off,
      v: last.v + gainV * off,
      pxx: (1 - gainX) * ahead.pxx,
      pxv: (1 - gainX) * ahead.pxv,
      pvv: ahead.pvv - gainV * ahead.pxv,
      q: (unsteadyShare * usual) ** 2,
      until: null,
    };
    this.states.push(state);
    this.surprise += (off / Math.sqrt(ahead.pxx + noise) - this.surprise) / surprises;
    if (Math.abs(this.surprise) > surprisingSds / Math.sqrt(surprises)) {
      state.until = { v: state.v, pxv: state.pxv };
      state.pvv = usual ** 2;
      state.pxv = 0;
      this.surprise = 0;
    }
    if (this.coming && tS >= this.coming.fromS) {
      state.until ??= { v: state.v, pxv: state.pxv };
      state.v = this.coming.speedDegPerS;
      state.pvv = (speedSpread * usual) ** 2;
      state.pxv = 0;
      this.coming = null;
    }
  }

  notch(): void {
    // A phone needs no taps.
  }

  stopAt(): void {
    // A phone sees for itself that the hand stands still.
  }

  settleAt(): void {
    // And where.
  }

  now(): { angleDeg: number; speedDegPerS: number } {
    const last = this.states.at(-1);
    return { angleDeg: last?.x ?? 0, speedDegPerS: last?.v ?? 0 };
  }

  restDeg(sinceS: number): { angleDeg: number; sdDeg: number } {
    let first = this.states.length - 1;
    while (first > 0 && (this.states[first - 1]?.tS ?? 0) >= sinceS) first--;
    const rest = this.states.slice(first);
    return {
      angleDeg: rest.reduce((sum, { rawDeg }) => sum + rawDeg, 0) / Math.max(1, rest.length),
      sdDeg: this.noiseDeg / Math.sqrt(Math.max(1, rest.length)),
    };
  }

  smoothedDeg(): number[] {
    this.smoothed ??= smoothedPositions(this.states);
    return this.smoothed;
  }

  pushedFrom(): Turning[] {
    return this.pushed;
  }

  forget(count: number): void {
    this.states.splice(0, count);
    this.pushed.splice(0, count);
    this.smoothed = null;
  }
}

/** A state so much later, before anything new is read. */
function predicted(s: PhoneState, tS: number): Pick<PhoneState, 'x' | 'pxx' | 'pxv' | 'pvv'> {
  const dt = tS - s.tS;
  return {
    x: s.x + s.v * dt,
    pxx: s.pxx + 2 * dt * s.pxv + dt * dt * s.pvv + (s.q * dt ** 3) / 3,
    pxv: s.pxv + dt * s.pvv + (s.q * dt * dt) / 2,
    pvv: s.pvv + s.q * dt,
  };
}

/** How much of what the next moment knew better, of place and speed, this one takes over: it rests on both, not on what comes later. */
function gainFrom(s: PhoneState, nextS: number): SmootherGain {
  const dt = nextS - s.tS;
  const ahead = predicted(s, nextS);
  const determinant = ahead.pxx * ahead.pvv - ahead.pxv ** 2;
  const [cx, cv] = [s.pxx + dt * s.pxv, s.pxv + dt * s.pvv];
  return {
    aheadX: ahead.x,
    xx: (cx * ahead.pvv - s.pxv * ahead.pxv) / determinant,
    xv: (s.pxv * ahead.pxx - cx * ahead.pxv) / determinant,
    vx: (cv * ahead.pvv - s.pvv * ahead.pxv) / determinant,
    vv: (s.pvv * ahead.pxx - cv * ahead.pxv) / determinant,
  };
}

function smoothedPositions(states: readonly PhoneState[]): number[] {
  const positions = states.map(({ x }) => x);
  let x = states.at(-1)?.x ?? 0;
  let v = states.at(-1)?.v ?? 0;
  for (let i = states.length - 2; i >= 0; i--) {
    const [s, next] = [states[i], states[i + 1]];
    if (!s || !next) continue;
    const { aheadX, xx, xv, vx, vv } = (s.gain ??= gainFrom(s, next.tS));
    const [dx, dv] = [x - aheadX, v - s.v];
    x = s.x + xx * dx + xv * dv;
    v = s.v + vx * dx + vv * dv;
    positions[i] = x;
    // Place is handed on across a change of speed, speed is not.
    if (s.until) v = s.until.v + (s.until.pxv / s.pxx) * (x - s.x);
  }
  return positions;
}

/** A hand that passes a notch although it should stand still does so a moment later; after the second of these it is no hand any more. */
const ranOnS = 0.2;
const longestRunS = 2;

/** How far between two notches a mount stands is guessed from the time since the last one: to about a quarter. */
const withinNotch = 0.25;

/** A scale on the mount, one tap per notch that passes: exact at each tap, straight in between, but off by the mount's play. */
export class ScaleTrack implements AngleTrack {
  readonly isAveraging = false;
  private readonly times: number[] = [];
  private readonly pushed: Turning[] = [];
  private readonly taps: { tS: number; angleDeg: number }[] = [];
  private lastTap: Turning = 0;
  private stoppedS: number | null = null;
  private settledDeg: number | null = null;
  readonly traits: TrackTraits = {
    halfPlaySdDeg: 0.35,
    wanders: false,
    driftSdDegPerS: 1e-9,
    memoriesS: [Infinity],
    strokeSdDeg: 0,
    widthSpread: 0.15,
    waySpread: 0.02,
    slack: { out: 1, back: 1 },
  };

  constructor(private readonly notchDeg: number) {}

  get resolutionDeg(): number {
    return withinNotch * this.notchDeg;
  }

  told(_tS: number, direction: Turning): void {
    // Which way it turns, taps tell; only that it does not stand still any more.
    if (direction) this.stoppedS = null;
  }

  stopAt(tS: number): void {
    this.stoppedS = tS;
  }

  /** Within a notch nothing shows where it stands; a notch that passed since shows that it stands elsewhere. */
  settleAt(angleDeg: number): void {
    this.settledDeg = angleDeg;
  }

  push({ tS, turning }: AimSample): void {
    if (!this.taps.length) this.taps.push({ tS, angleDeg: 0 });
    this.times.push(tS);
    // The side that play is taken up from is where the last notch came from; until one has passed, where the hand says that it turns.
    this.pushed.push(this.lastTap || turning);
  }

  notch(tS: number, direction: Turning): void {
    // After turning round, the first notch that passes is the one that passed last.
    const sameNotch = this.lastTap !== 0 && direction !== this.lastTap;
    if (sameNotch) this.turnedRound(tS, direction);
    this.lastTap = direction;
    const angleDeg = (this.taps.at(-1)?.angleDeg ?? 0) + (sameNotch ? 0 : direction * this.notchDeg);
    this.taps.push({ tS, angleDeg });
    const lateS = this.stoppedS === null ? 0 : tS - this.stoppedS;
    // A notch soon after the stop shows that the hand ran on, into this notch; a later one that something pulls, and how far into it nobody knows.
    if (lateS > 0 && lateS <= longestRunS) this.stoppedS = tS + ranOnS;
    this.settledDeg = lateS > longestRunS ? angleDeg + (direction * this.notchDeg) / 2 : null;
  }

  /** The same notch twice: in between the mount turned round, in the middle of that time as far as anybody knows. */
  private turnedRound(tS: number, direction: Turning): void {
    const last = this.taps.at(-1);
    if (!last) return;
    const middleS = (last.tS + tS) / 2;
    for (let i = this.times.length - 1; i >= 0 && (this.times[i] ?? 0) > middleS; i--) this.pushed[i] = direction;
  }

  now(): { angleDeg: number; speedDegPerS: number } {
    const [before, last] = [this.taps.at(-2), this.taps.at(-1)];
    if (!last) return { angleDeg: 0, speedDegPerS: 0 };
    const tS = Math.min(this.times.at(-1) ?? last.tS, this.stoppedS ?? Infinity);
    const speed = before && last.tS > before.tS ? (last.angleDeg - before.angleDeg) / (last.tS - before.tS) : 0;
    const ahead = speed * Math.max(0, tS - last.tS);
    if (this.settledDeg !== null) return { angleDeg: this.settledDeg, speedDegPerS: speed };
    const most = 0.9 * this.notchDeg; // the next notch has not passed yet
    return { angleDeg: last.angleDeg + Math.max(-most, Math.min(most, ahead)), speedDegPerS: speed };
  }

  restDeg(): { angleDeg: number; sdDeg: number } {
    return { angleDeg: this.now().angleDeg, sdDeg: withinNotch * this.notchDeg };
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

/** Nothing tells the angle: the way is the time of turning at the asked speed, and each stroke has a speed of its own. */
export class TimeTrack implements AngleTrack {
  readonly isAveraging = false;
  readonly resolutionDeg = 0;
  readonly traits: TrackTraits = {
    halfPlaySdDeg: 1e-6,
    wanders: false,
    driftSdDegPerS: 1e-9,
    memoriesS: [Infinity],
    strokeSdDeg: 0,
    widthSpread: 0.2,
    waySpread: 0.15,
    slack: { out: 1.2, back: 1.6 },
  };
  private readonly angles: number[] = [];
  private readonly pushed: Turning[] = [];
  private lastS: number | null = null;
  private turning: Turning = 0;

  constructor(private readonly speedDegPerS: number) {}

  push({ tS, turning }: AimSample): void {
    const way = this.lastS === null ? 0 : turning * this.speedDegPerS * (tS - this.lastS);
    this.angles.push((this.angles.at(-1) ?? 0) + way);
    this.pushed.push(0);
    this.lastS = tS;
    this.turning = turning;
  }

  /** Puts all samples before one elsewhere: a stroke has shown where they were against what comes now. */
  shiftBefore(index: number, byDeg: number): void {
    for (let i = 0; i < Math.min(index, this.angles.length); i++) this.angles[i] = (this.angles[i] ?? 0) + byDeg;
  }

  told(): void {
    // Taps tell what the hand does.
  }

  notch(): void {
    // Without a scale there is nothing to tap.
  }

  settleAt(): void {
    // The level tells whether it was far enough.
  }

  stopAt(): void {
    // The tap tells when the hand stands still.
  }

  now(): { angleDeg: number; speedDegPerS: number } {
    return { angleDeg: this.angles.at(-1) ?? 0, speedDegPerS: this.turning * this.speedDegPerS };
  }

  restDeg(): { angleDeg: number; sdDeg: number } {
    return { angleDeg: this.now().angleDeg, sdDeg: Infinity };
  }

  smoothedDeg(): number[] {
    return this.angles;
  }

  pushedFrom(): Turning[] {
    return this.pushed;
  }

  forget(count: number): void {
    this.angles.splice(0, count);
    this.pushed.splice(0, count);
  }
}
