import type { Advice } from '@kivram/core/aiming/advice';
import { describe, expect, it } from 'vitest';
import { pitchHz, soundOf } from './sound';
import { ToneSequence, type Audio } from './ToneSequence';

const advice = (
  action: Advice['action'],
  direction: Advice['direction'],
  remainingDeg: number | null = null,
): Advice => ({
  action,
  direction,
  remainingDeg,
  levelDbm: -60,
  estimate: null,
  byTime: false,
  stray: null,
});

describe('aiming by ear', () => {
  it('tells the way by a glide, and left and right in the ears', () => {
    const [right, left, up] = [
      soundOf(advice('search', 1), 'azimuth', 6),
      soundOf(advice('search', -1), 'azimuth', 6),
      soundOf(advice('search', 1), 'tilt', 6),
    ];
    expect(right.notes[0]?.glide).toBeGreaterThan(1);
    expect(left.notes[0]?.glide).toBeLessThan(1);
    expect([right.pan, left.pan, up.pan]).toEqual([0.8, -0.8, 0]);
    expect(up.notes[0]?.glide).toBeGreaterThan(1);
  });

  it('tells nearness by the pace and the level by the pitch', () => {
    const far = soundOf(advice('comeBack', 1, 6), 'azimuth', 6).everyMs;
    const near = soundOf(advice('comeBack', 1, 0.3), 'azimuth', 6).everyMs;
    expect(near).toBeLessThan(far / 3);
    expect(pitchHz(0)).toBe(880);
    expect(pitchHz(12)).toBe(440);
    expect(pitchHz(null)).toBe(220);
  });

  it('is silent while hands are off, and says stop, lock and back each in its own way', () => {
    expect(soundOf(advice('hold', 0), 'azimuth', 6).notes).toEqual([]);
    const ratios = (action: Advice['action']) =>
      soundOf(advice(action, 0), 'azimuth', 6).notes.map(({ ratio }) => ratio);
    expect(new Set([ratios('stop'), ratios('lock'), ratios('turnBack'), ratios('search')].map(String)).size).toBe(4);
  });
});

/** An audio that only notes when notes begin. */
class TestAudio {
  currentTime = 0;
  readonly starts: number[] = [];
  readonly destination = {} as AudioDestinationNode;
  createOscillator() {
    const param = { setValueAtTime: () => undefined, exponentialRampToValueAtTime: () => undefined };
    return {
      frequency: param,
      connect: (next: unknown) => next,
      start: (at: number) => this.starts.push(at),
      stop: () => undefined,
    };
  }
  createGain() {
    const gain = { setValueAtTime: () => undefined, linearRampToValueAtTime: () => undefined };
    return { gain, connect: (next: unknown) => next };
  }
  createStereoPanner() {
    return { pan: { value: 0 }, connect: (next: unknown) => next };
  }
}

describe('a sequence of tones', () => {
  const play = (everyMs: number, until: number, key: (at: number) => string): number[] => {
    const audio = new TestAudio();
    const sequence = new ToneSequence(audio as unknown as Audio);
    for (let at = 0; at < until; at += everyMs / 1000) {
      audio.currentTime = at;
      sequence.feed({ notes: [{ ratio: 1, glide: 1 }], everyMs: 450, pan: 0 }, 440, key(at));
    }
    return audio.starts;
  };

  it('keeps its pace however often it is fed, if it is often enough', () => {
    for (const everyMs of [17, 100, 200]) {
      const starts = play(everyMs, 4.5, () => 'a');
      const gaps = starts.slice(1).map((at, i) => at - (starts[i] ?? 0));
      for (const gap of gaps) expect(gap, `${everyMs}`).toBeCloseTo(0.45, 6);
    }
  });

  it('is heard at once when the advice changes, and makes up for nothing after a silence', () => {
    const starts = play(100, 2, (at) => (at < 1 ? 'search' : 'stop'));
    expect(starts.some((at) => Math.abs(at - 1) < 0.11)).toBe(true);
    expect(play(3000, 9, () => 'a').length).toBeLessThanOrEqual(3);
  });
});
