import { describe, expect, it } from 'vitest';
import { AimGuide, type AimMark } from './aimGuide';
import { replayAim } from './alignment';
import { PhoneTrack, ScaleTrack, TimeTrack } from './angleTrack';
import { isSuspicious, type AxisGuide } from './guide';
import { HandDelay } from './handDelay';
import { Levels } from './levels';
import type { Reading, Turning } from './reading';
import { SweepGuide } from './sweep/sweepGuide';
import { apertureLossDb } from '../antenna/mainLobe';
import { AxisRecord } from './sweep/axisRecord';

const beam = 6;
const peakDbm = -50;
const expectedDbm = -49;
const plan = { beamWidthDeg: beam, expectedDbm, speedDegPerS: 1, nearPeak: false };

const byPhone = (): SweepGuide => new SweepGuide(plan, new PhoneTrack(1.5, 1));
const byTime = (): SweepGuide => new SweepGuide(plan, new TimeTrack(1));

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
    const guide = byPhone();
    const { deg, actions } = obey(guide, -5);
    expect(Math.abs(deg)).toBeLessThan(0.5);
    expect(actions[0]).toBe('search');
    for (const action of ['past', 'turnBack', 'comeBack', 'stop', 'hold', 'lock', 'readAgain', 'done'])
      expect(actions).toContain(action);
    expect(actions.indexOf('past')).toBeLessThan(actions.indexOf('comeBack'));
    expect(actions.at(-1)).toBe('done');
  });

  it('keeps the peak it knew when somebody stands still on the way back, for however long', { timeout: 20_000 }, () => {
    const guide = byPhone();
    let [deg, tS] = [-5, 0];
    const read = (direction: Turning): void => {
      tS += 0.1;
      deg += direction * 0.1;
      const trembling = Math.sin(tS * 7) * 1.5;
      guide.push({ tS, rslDbm: Math.round(levelAt(deg)), angleDeg: deg + trembling, turning: direction });
    };
    while (guide.advice.action !== 'comeBack' && tS < 300) read(guide.advice.direction);
    const known = guide.advice.estimate;
    for (let i = 0; i < 2000; i++) read(0);
    expect(guide.advice.action).toBe('comeBack');
    expect(guide.advice.estimate?.peakDbm).toBeCloseTo(known?.peakDbm ?? NaN, 0);
    expect(guide.advice.estimate?.angleDeg).toBeCloseTo(known?.angleDeg ?? NaN, 0);
    while (guide.advice.action === 'comeBack' && tS < 1000) read(guide.advice.direction);
    expect(Math.abs(deg)).toBeLessThan(1.5);
  });

  it('does not stop at a first maximum that is far under the prediction', () => {
    // A side lobe 15 dB down at 9.5 degrees, where the search begins.
    const withSideLobe = (deg: number): number => Math.max(levelAt(deg), peakDbm - 15 - 40 * ((deg - 9.5) / 4) ** 2);
    const { deg } = obey(byPhone(), 9, withSideLobe);
    expect(Math.abs(deg)).toBeLessThan(0.6);
  });

  it('tells how far to come back, and the peak with its uncertainty', () => {
    const guide = byPhone();
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
    expect(estimate?.sdDeg).toBeLessThan(0.4);
    expect(estimate?.peakDbm).toBeCloseTo(peakDbm, 0);
    expect(estimate?.widthRatio).toBeCloseTo(1, 0);
  });

  it('sends the installer back when tightening moved the mount', () => {
    const guide = byPhone();
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
    ['a phone', () => byPhone() as AxisGuide],
    ['time alone', () => byTime() as AxisGuide],
  ])('by %s: nothing heard on either side leads to the other end, never to "lock it"', (_, make) => {
    const guide = make();
    const { actions } = obey(guide, 0, () => NaN, 200);
    expect(actions).not.toContain('lock');
    expect(actions.at(-1)).toBe('otherEnd');
    expect(guide.advice.direction).toBe(0);
  });

  it('takes "locked" for nothing while nothing is heard', () => {
    const guide = byPhone();
    const actions: string[] = [];
    for (let tS = 0; tS < 40; tS += 0.1) {
      if (Math.abs(tS - 5) < 0.05) guide.locked(tS);
      guide.push({ tS, rslDbm: null, angleDeg: 0, turning: 0 });
      if (actions.at(-1) !== guide.advice.action) actions.push(guide.advice.action);
    }
    expect(actions).toContain('readAgain');
    expect(actions.at(-1)).toBe('otherEnd');
    expect(actions).not.toContain('done');
  });

  it('searches again once the other end has been found', () => {
    const guide = byPhone();
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
    const guide = byPhone();
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
    const { deg, actions } = obey(byTime(), -5);
    expect(Math.abs(deg)).toBeLessThan(1);
    expect(actions.filter((a) => a === 'turnBack').length).toBeGreaterThanOrEqual(2);
    expect(actions.at(-1)).toBe('done');
  });

  it('learns the speed of the hand: half or twice the asked one ends at the same place', () => {
    for (const speed of [0.6, 1.5]) {
      const guide = byTime();
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
      track.push({ tS, rslDbm: null, angleDeg: null, turning });
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
    const push = (tS: number, turning: Turning): void => track.push({ tS, rslDbm: null, angleDeg: null, turning });
    push(0, 1);
    track.notch(1, 1);
    push(1, 1);
    track.notch(2, 1);
    track.stopAt(2.4);
    for (let tS = 2; tS < 6; tS += 0.5) push(tS, 0);
    expect(track.restDeg().angleDeg).toBeCloseTo(2.4, 9);
  });

  it('a phone is smoothed: three times less noise while turning steadily', () => {
    const track = new PhoneTrack(1.5, 1);
    let seed = 1;
    const noise = (): number => {
      let sum = 0;
      for (let i = 0; i < 12; i++) sum += (seed = (seed * 48271) % 2147483647) / 2147483647;
      return 1.5 * (sum - 6);
    };
    for (let i = 0; i < 400; i++) track.push({ tS: i / 10, rslDbm: null, angleDeg: i / 10 + noise(), turning: 1 });
    const inner = track.smoothedDeg().slice(20, -20);
    const rms = Math.sqrt(inner.reduce((sum, x, i) => sum + (x - (i + 20) / 10) ** 2, 0) / inner.length);
    expect(rms).toBeLessThan(0.65);
    expect(Math.abs(track.now().angleDeg - 39.9)).toBeLessThan(2);
  });
});

describe('a whole alignment', () => {
  const aim = {
    beam: { azimuthDeg: beam, elevationDeg: beam },
    expectedDbm,
    source: 'phone' as const,
    notchDeg: { azimuth: 1, tilt: 1 },
  };

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

describe('the record of an axis', () => {
  it('puts a late answer where the mount was when the radio measured it', () => {
    const record = new AxisRecord(new PhoneTrack(0.01, 1));
    for (let i = 0; i <= 40; i++) {
      const isAnswer = i % 10 === 5;
      record.push({ tS: i / 10, rslDbm: -60, isRepeat: !isAnswer, ageS: 0.5, angleDeg: i / 10, turning: 1 }, false);
    }
    expect(record.points().map(({ x }) => Math.round(x * 10) / 10)).toEqual([0, 1, 2, 3]);
  });
});

describe('small things the guides lean on', () => {
  it('average the last moments, say null when most were silent, and take a value that was not refreshed for no second one', () => {
    const heard = (list: (number | null)[], everyS = 0.1): Levels => {
      const levels = new Levels();
      list.forEach((rslDbm, i) => levels.push({ tS: i * everyS, rslDbm }));
      return levels;
    };
    expect(heard([-90, -50, -52, -54]).recentDbm(0.25)).toBe(-52);
    expect(heard([-50, null, null, -50]).recentDbm(0.25)).toBeNull();
    expect(heard([]).recentDbm(1)).toBeNull();
    const slow = heard([-60, -50], 1);
    for (let tS = 1.1; tS < 1.9; tS += 0.1) slow.push({ tS, rslDbm: -50, isRepeat: true });
    expect(slow.countSince(0.5)).toBe(1);
    expect(slow.recentDbm(0.5)).toBe(-50);
    for (let tS = 2; tS < 6; tS += 0.1) slow.push({ tS, rslDbm: -50, isRepeat: true });
    expect(slow.recentDbm(0.5), 'what is old is no level now').toBeNull();
  });

  it('take the level at rest as a fit takes its levels: a person in the beam is not in it', () => {
    const levels = new Levels();
    for (let i = 1; i <= 50; i++) levels.push({ tS: i / 10, rslDbm: i > 20 && i < 30 ? -75 : -50 + (i % 3) });
    const rest = levels.between(0, 5, 1.5, 5);
    expect(rest?.dbm).toBeCloseTo(-49, 0);
    expect(rest?.sdDb).toBeCloseTo(1.5 / Math.sqrt(10), 9);
    expect(levels.between(5, 9, 1.5, 5)).toBeNull();
  });

  it('learn how late a hand is, and take nothing that no hand does', () => {
    const delay = new HandDelay();
    for (const seconds of [1.2, 1.3, 1.1, -1, 60, NaN]) delay.observe(seconds);
    expect(delay.seconds).toBeCloseTo((0.25 * 0.3 + 3.6) / 3.25, 9);
  });

  it('take what a noisy angle shows of a hand for less, and what comes out below nothing too', () => {
    const delay = new HandDelay();
    for (let i = 0; i < 400; i++) delay.observe(i % 2 ? 1.3 : -0.5, 0.9);
    expect(delay.seconds).toBeCloseTo(0.4, 2);
    for (let i = 0; i < 9; i++) delay.observe(-0.3, 0.1);
    expect(delay.seconds, 'two standard deviations and more under nothing').toBeGreaterThan(0.37);
    const quick = new HandDelay();
    for (let i = 0; i < 20; i++) quick.observe(0);
    expect(quick.seconds).toBe(0.1);
  });

  it('know a level that fades slowly no better than its blocks of seconds differ', () => {
    const levels = new Levels();
    for (let i = 1; i <= 120; i++) levels.push({ tS: i / 10, rslDbm: Math.floor(i / 30) % 2 ? -52 : -48 });
    expect(levels.between(0, 12, 1, 5)?.sdDb).toBeGreaterThan(0.5);
    expect(levels.between(0, 3, 1, 5)?.sdDb, 'too few blocks to tell').toBeLessThan(0.5);
  });

  it('read a scale at rest: into the notch that a hand ran on to, and into the middle of one that bolts pulled it to', () => {
    const scale = new ScaleTrack(2);
    const at = (tS: number): void => scale.push({ tS, rslDbm: -50, angleDeg: null, turning: 1 });
    at(0);
    scale.notch(1, 1);
    scale.notch(3, 1);
    scale.stopAt(4);
    for (let tS = 4; tS < 5; tS += 0.1) at(tS);
    expect(scale.restDeg().angleDeg, 'half a notch on when it stopped').toBeCloseTo(5, 6);
    scale.notch(5, 1);
    for (let tS = 5; tS < 9; tS += 0.1) at(tS);
    expect(scale.restDeg().angleDeg).toBeCloseTo(6.2, 1);
    scale.notch(9, 1);
    expect(scale.restDeg().angleDeg).toBe(9);
    scale.told(10, -1);
    scale.notch(11, -1);
    expect(scale.now().angleDeg, 'the notch that passed last').toBeCloseTo(8, 1);
  });

  it('suspect a level 6 dB under the prediction, and silence, but nothing without a prediction', () => {
    expect(isSuspicious(-58, -49)).toBe(true);
    expect(isSuspicious(-54, -49)).toBe(false);
    expect(isSuspicious(-Infinity, -49)).toBe(true);
    expect(isSuspicious(-90, null)).toBe(false);
  });
});
