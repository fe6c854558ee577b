import { describe, expect, it } from 'vitest';
import {
  AimGuide,
  AngleGuide,
  PhoneTrack,
  ScaleTrack,
  TimeGuide,
  isSuspicious,
  recentLevelDbm,
  replayAim,
  type AimMark,
  type AimSample,
  type AxisGuide,
  type Reading,
  type Turning,
} from '.';
import { apertureLossDb } from '../antenna';

const beam = 6;
const peakDbm = -50;
const expectedDbm = -49;
const plan = { beamWidthDeg: beam, expectedDbm, speedDegPerS: 1, nearPeak: false };

/** A clean lobe, without noise: what is under test is the leading, not the estimating. */
const levelAt = (deg: number): number => Math.max(-85, peakDbm - apertureLossDb(deg / beam));

/** Turns a mount as the guide says, at one degree a second, and notes every action on the way. */
function obey(guide: AxisGuide, startDeg: number, level = levelAt, limitS = 300) {
  let deg = startDeg;
  const actions: string[] = [];
  let tS = 0;
  for (; tS < limitS; tS += 0.1) {
    const { action, direction } = guide.advice;
    if (actions.at(-1) !== action) actions.push(action);
    if (action === 'done') break;
    if (action === 'lock') guide.locked(tS);
    deg += direction * 0.1;
    const heard = level(deg);
    guide.push({ tS, rslDbm: Number.isNaN(heard) ? null : Math.round(heard), angleDeg: deg, turning: direction });
  }
  return { deg, actions, tS };
}

describe('the guide with angles', () => {
  it('leads past the peak on both sides, back to it, locks and reads again', () => {
    const guide = new AngleGuide(plan, new PhoneTrack(1.5, 1));
    const { deg, actions } = obey(guide, -5);
    expect(Math.abs(deg)).toBeLessThan(0.5);
    expect(actions[0]).toBe('search');
    for (const action of ['past', 'turnBack', 'comeBack', 'stop', 'hold', 'lock', 'readAgain', 'done'])
      expect(actions).toContain(action);
    expect(actions.indexOf('past')).toBeLessThan(actions.indexOf('comeBack'));
    expect(actions.at(-1)).toBe('done');
  });

  it('does not stop at a first maximum that is far under the prediction', () => {
    // A side lobe 15 dB down at 9.5 degrees, where the search begins.
    const withSideLobe = (deg: number): number => Math.max(levelAt(deg), peakDbm - 15 - 40 * ((deg - 9.5) / 4) ** 2);
    const { deg } = obey(new AngleGuide(plan, new PhoneTrack(1.5, 1)), 9, withSideLobe);
    expect(Math.abs(deg)).toBeLessThan(0.6);
  });

  it('tells how far to come back, and the peak with its uncertainty', () => {
    const guide = new AngleGuide(plan, new PhoneTrack(1.5, 1));
    let remaining: number | null = null;
    let deg = -4;
    for (let tS = 0; tS < 200 && guide.advice.action !== 'stop'; tS += 0.1) {
      const { action, direction, remainingDeg } = guide.advice;
      if (action === 'comeBack') {
        remaining ??= remainingDeg;
        expect(Math.abs(Math.abs(deg) - (remainingDeg ?? NaN))).toBeLessThan(1);
      }
      deg += direction * 0.1;
      guide.push({ tS, rslDbm: Math.round(levelAt(deg)), angleDeg: deg, turning: direction });
    }
    expect(remaining).toBeGreaterThan(3);
    const { estimate } = guide.advice;
    expect(estimate?.angleDeg).toBeCloseTo(0, 0);
    expect(estimate?.sdDeg).toBeLessThan(0.3);
    expect(estimate?.peakDbm).toBeCloseTo(peakDbm, 0);
    expect(estimate?.widthRatio).toBeCloseTo(1, 0);
  });

  it('sends the installer back when tightening moved the mount', () => {
    const guide = new AngleGuide(plan, new PhoneTrack(1.5, 1));
    let deg = -4;
    let slipped = false;
    const actions: string[] = [];
    for (let tS = 0; tS < 300 && guide.advice.action !== 'done'; tS += 0.1) {
      const { action, direction } = guide.advice;
      if (actions.at(-1) !== action) actions.push(action);
      if (action === 'lock') {
        guide.locked(tS);
        if (!slipped) deg += 3.5;
        slipped = true;
      }
      deg += direction * 0.1;
      guide.push({ tS, rslDbm: Math.round(levelAt(deg)), angleDeg: deg, turning: direction });
    }
    expect(actions.slice(actions.indexOf('readAgain'))).toContain('comeBack');
    expect(Math.abs(deg)).toBeLessThan(0.6);
  });

  it.each([
    ['a phone', () => new AngleGuide(plan, new PhoneTrack(1.5, 1)) as AxisGuide],
    ['time alone', () => new TimeGuide(plan) as AxisGuide],
  ])('by %s: nothing heard on either side leads to the other end, never to "lock it"', (_, make) => {
    const guide = make();
    const { actions } = obey(guide, 0, () => NaN, 200);
    expect(actions).not.toContain('lock');
    expect(actions.at(-1)).toBe('otherEnd');
    expect(guide.advice.direction).toBe(0);
  });

  it('searches again once the other end has been found', () => {
    const guide = new AngleGuide(plan, new PhoneTrack(1.5, 1));
    let deg = 2;
    const actions = new Set<string>();
    for (let tS = 0; tS < 500 && guide.advice.action !== 'done'; tS += 0.1) {
      const { action, direction } = guide.advice;
      actions.add(action);
      if (action === 'lock') guide.locked(tS);
      deg += direction * 0.1;
      guide.push({ tS, rslDbm: tS < 120 ? null : Math.round(levelAt(deg)), angleDeg: deg, turning: direction });
    }
    expect(actions).toContain('otherEnd');
    expect(guide.advice.action).toBe('done');
    expect(Math.abs(deg)).toBeLessThan(0.6);
  });

  it('goes on searching while nothing is heard, and turns back in the end', () => {
    const guide = new AngleGuide(plan, new PhoneTrack(1.5, 1));
    const directions = new Set<number>();
    let deg = 0;
    for (let tS = 0; tS < 60; tS += 0.1) {
      deg += guide.advice.direction * 0.1;
      directions.add(guide.advice.direction);
      guide.push({ tS, rslDbm: null, angleDeg: deg, turning: guide.advice.direction });
    }
    expect(directions).toEqual(new Set([1, -1]));
    expect(guide.advice.levelDbm).toBeNull();
  });
});

describe('the guide without angles', () => {
  it('finds the peak from time and level alone', () => {
    const { deg, actions } = obey(new TimeGuide(plan), -5);
    expect(Math.abs(deg)).toBeLessThan(1);
    expect(actions.filter((a) => a === 'turnBack').length).toBeGreaterThanOrEqual(3);
    expect(actions.at(-1)).toBe('done');
  });

  it('learns the speed of the hand: half or twice the asked one ends at the same place', () => {
    for (const speed of [0.6, 1.5]) {
      const guide = new TimeGuide(plan);
      let deg = -5;
      for (let tS = 0; tS < 500 && guide.advice.action !== 'lock'; tS += 0.1) {
        const { direction } = guide.advice;
        deg += direction * 0.1 * speed;
        guide.push({ tS, rslDbm: Math.round(levelAt(deg)), angleDeg: null, turning: direction });
      }
      expect(Math.abs(deg), `speed ${speed}`).toBeLessThan(1.3);
    }
  });
});

describe('tracks of the angle', () => {
  it('a scale counts notches, straight in between, and meets the same notch again after turning round', () => {
    const track = new ScaleTrack(1);
    const at: number[] = [];
    const step = (tS: number, notch: Turning | null, turning: Turning): void => {
      if (notch) track.notch(tS, notch);
      track.push(tS, null, turning);
      at.push(track.now().angleDeg);
    };
    step(0, null, 1);
    step(1, 1, 1);
    step(2, 1, 1);
    step(2.5, null, 1);
    expect(at.at(-1)).toBeCloseTo(2.5, 9);
    step(3, -1, -1);
    expect(at.at(-1)).toBe(2);
    step(4, -1, -1);
    expect(at.at(-1)).toBe(1);
    expect(track.smoothedDeg()).toEqual([0, 1, 2, 2, 2, 1]);
    expect(track.pushedFrom()).toEqual([1, 1, 1, 1, -1, -1]);
  });

  it('a scale stands still once the hand does', () => {
    const track = new ScaleTrack(1);
    track.push(0, null, 1);
    track.notch(1, 1);
    track.push(1, null, 1);
    track.notch(2, 1);
    track.stopAt(2.4);
    for (let tS = 2; tS < 6; tS += 0.5) track.push(tS, null, 0);
    expect(track.restDeg()).toBeCloseTo(2.4, 9);
  });

  it('a phone is smoothed: three times less noise while turning steadily', () => {
    const track = new PhoneTrack(1.5, 1);
    let seed = 1;
    const noise = (): number => {
      let sum = 0;
      for (let i = 0; i < 12; i++) sum += (seed = (seed * 48271) % 2147483647) / 2147483647;
      return 1.5 * (sum - 6);
    };
    for (let i = 0; i < 400; i++) track.push(i / 10, i / 10 + noise());
    const inner = track.smoothedDeg().slice(20, -20);
    const rms = Math.sqrt(inner.reduce((sum, x, i) => sum + (x - (i + 20) / 10) ** 2, 0) / inner.length);
    expect(rms).toBeLessThan(0.65);
    expect(Math.abs(track.now().angleDeg - 39.9)).toBeLessThan(2);
  });
});

describe('a whole alignment', () => {
  const aim = { beam: { azimuthDeg: beam, elevationDeg: beam }, expectedDbm, source: 'phone' as const, notchDeg: 1 };

  it('goes end by end, or both left-right and then both up-down', () => {
    const order = (school: 'endByEnd' | 'axisByAxis'): string[] => {
      const guide = new AimGuide({ near: aim, far: aim, order: school });
      const seen: string[] = [];
      while (guide.step) {
        seen.push(`${guide.step.end} ${guide.step.axis}`);
        guide.mark({ kind: 'eye', tS: 0 });
      }
      return seen.filter((s, i) => seen.indexOf(s) === i);
    };
    expect(order('endByEnd')).toEqual(['near azimuth', 'near tilt', 'far azimuth', 'far tilt']);
    expect(order('axisByAxis')).toEqual(['near azimuth', 'far azimuth', 'near tilt', 'far tilt']);
  });

  it('replayed from what was stored stands where the live one stood, though its taps came between the readings', () => {
    const ends = ['near', 'far'] as const;
    const scale = { ...aim, source: 'scale' as const };
    const live = new AimGuide({ near: scale, far: aim, order: 'endByEnd' });
    const readings: Reading[] = [];
    const marks: AimMark[] = [];
    let deg = -5;
    for (let i = 0; i < 900 && live.step?.end === 'near'; i++) {
      const tS = i / 10;
      const before = Math.floor(deg);
      deg += live.advice.direction * 0.1;
      // A tap for every notch that passes, and one when the bolts are tight, both shortly before the next reading.
      const passed = Math.floor(deg) - before;
      const tap: AimMark | null =
        live.advice.action === 'lock'
          ? { kind: 'locked', tS: tS - 0.05 }
          : passed
            ? { kind: 'notch', tS: tS - 0.05, direction: passed > 0 ? 1 : -1 }
            : null;
      if (tap) {
        marks.push(tap);
        live.mark(tap);
      }
      for (const end of ends) {
        const reading = {
          end,
          tS,
          rslDbm: Math.round(levelAt(deg)),
          chainsDbm: [],
          phoneAzimuthDeg: null,
          phoneTiltDeg: null,
        };
        readings.push(reading);
        live.push(reading);
      }
    }
    expect(marks.length).toBeGreaterThan(20);
    const seen: Reading[] = [];
    const replayed = replayAim(new AimGuide({ near: scale, far: aim, order: 'endByEnd' }), readings, marks, (r) =>
      seen.push(r),
    );
    expect(seen).toEqual(readings);
    expect(replayed.advice).toEqual(live.advice);
    expect(replayed.done).toEqual(live.done);
    expect(replayed.step).toEqual(live.step);
    // Without its taps it would stand elsewhere: the comparison can fail.
    const deaf = replayAim(new AimGuide({ near: scale, far: aim, order: 'endByEnd' }), readings, []);
    expect(deaf.points()).not.toEqual(replayed.points());
  });

  it('takes no notice of the end that is not in hand', () => {
    const guide = new AimGuide({ near: aim, far: aim, order: 'endByEnd' });
    guide.push({ end: 'far', tS: 0, rslDbm: -40, chainsDbm: [], phoneAzimuthDeg: 0, phoneTiltDeg: 0 });
    expect(guide.points()).toEqual([]);
  });
});

describe('small things the guides lean on', () => {
  const samples = (levels: (number | null)[]): AimSample[] =>
    levels.map((rslDbm, i) => ({ tS: i / 10, rslDbm, angleDeg: null, turning: 0 }));

  it('average the last moments, and say null when most were silent', () => {
    expect(recentLevelDbm(samples([-90, -50, -52, -54]), 0.25)).toBe(-52);
    expect(recentLevelDbm(samples([-50, null, null, -50]), 0.2)).toBeNull();
    expect(recentLevelDbm([], 1)).toBeNull();
  });

  it('suspect a level 8 dB under the prediction, and silence, but nothing without a prediction', () => {
    expect(isSuspicious(-58, -49)).toBe(true);
    expect(isSuspicious(-56, -49)).toBe(false);
    expect(isSuspicious(-Infinity, -49)).toBe(true);
    expect(isSuspicious(-90, null)).toBe(false);
  });
});
