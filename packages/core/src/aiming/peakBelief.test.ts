import { describe, expect, it } from 'vitest';
import { TimeTrack } from './angleTrack';
import type { LobePoint } from './lobeFit';
import type { Turning } from './reading';
import { peakLevel, StrokeBeliefs, type PeakBelief } from './sweep/peakBelief';

const widthDeg = 6;
const { traits } = new TimeTrack(1);

/** One stroke: a parabola of this width over a floor of scatter, with ten readings a beam width. */
function stroke(
  peakDeg: number,
  peakDbm: number,
  direction: Turning = 1,
  { width = widthDeg, halfWidths = 1.5, floorDbm = -80 } = {},
): LobePoint[] {
  const points: LobePoint[] = [];
  const [count, step] = [60, (2 * halfWidths * widthDeg) / 60];
  for (let i = 0; i <= count; i++) {
    const x = peakDeg + direction * (i * step - halfWidths * widthDeg);
    const ripple = i % 2 ? 0.4 : -0.4;
    const levelDbm = Math.max(floorDbm, peakDbm - 12 * ((x - peakDeg) / width) ** 2) + ripple;
    points.push({ x, levelDbm, pushedFrom: 0, agoS: (count - i) / 5 });
  }
  return points;
}

/** Takes strokes in one after the other, to and fro. @returns whether each counted */
function taken(beliefs: StrokeBeliefs, strokes: readonly (readonly [peakDeg: number, peakDbm: number])[]): boolean[] {
  return strokes.map(([deg, dbm], i) => {
    const direction: Turning = i % 2 ? -1 : 1;
    return beliefs.take(stroke(deg, dbm, direction), direction, beliefs.belief()) !== undefined;
  });
}

describe('what strokes by time say of a peak', () => {
  it('counts a stroke that faded by six decibels as one through the same lobe', () => {
    const beliefs = new StrokeBeliefs(widthDeg, traits);
    expect(
      taken(beliefs, [
        [0, -60],
        [0, -66],
        [0, -61],
      ]),
    ).toEqual([true, true, true]);
    expect(beliefs.belief()?.dbm).toBeCloseTo(-62.3, 0);
  });

  it('and takes a lobe fifteen decibels weaker for another one', () => {
    expect(
      taken(new StrokeBeliefs(widthDeg, traits), [
        [0, -50],
        [9, -65],
      ]),
    ).toEqual([true, false]);
  });

  it('believes in no weak lobe once something much stronger was met, although no lobe could be fitted there', () => {
    const beliefs = new StrokeBeliefs(widthDeg, traits);
    // Only the flank towards the peak was seen before it turned round.
    const half = stroke(0, -55).slice(0, 31);
    expect(beliefs.take(half, 1, null)).toBeUndefined();
    expect(beliefs.take(stroke(20, -70, -1), -1, null)).toBeUndefined();
  });

  it('learns how far apart two strokes see one lobe, and nothing from two lobes', () => {
    const one = new StrokeBeliefs(widthDeg, traits);
    taken(one, [
      [0, -60],
      [-0.6, -60],
      [0, -60],
    ]);
    // Twice it came 0.6 degrees later on the way; the beginning counts as one that saw no difference.
    expect(one.lagDeg).toBeCloseTo(0.4, 1);

    const two = new StrokeBeliefs(widthDeg, traits);
    taken(two, [
      [40, -66],
      [-10, -60],
    ]);
    expect(two.lagDeg).toBe(0);
  });

  it('nor from a stroke that met the lobe again after others had lost it', () => {
    const beliefs = new StrokeBeliefs(widthDeg, traits);
    beliefs.take(stroke(0, -60), 1, null);
    beliefs.take(stroke(30, -79, -1), -1, beliefs.belief());
    beliefs.take(stroke(4, -60), 1, beliefs.belief());
    expect(beliefs.lagDeg).toBe(0);
  });

  it('keeps to about the width of the sheet, however often fading crests seem narrower', () => {
    const beliefs = new StrokeBeliefs(widthDeg, traits);
    for (let i = 0; i < 8; i++) {
      const direction: Turning = i % 2 ? -1 : 1;
      beliefs.take(stroke(0, -60, direction, { width: 0.6 * widthDeg }), direction, beliefs.belief());
    }
    expect(beliefs.widthDeg).toBeGreaterThan(0.65 * widthDeg);
  });
});

describe('the level of a peak', () => {
  const peak: PeakBelief = {
    deg: 0,
    sdDeg: 0.2,
    dbm: -60,
    sdDb: 0.6,
    widthDeg,
    halfPlayDeg: 0,
    driftDegPerS: 0,
    driftSdDegPerS: 0,
    scatterDb: 2,
    inflation: 10,
    strokeSdDb: 2,
    fadingS: 1.5,
    isWhole: true,
  };

  it('is that of the strokes as long as it was nowhere stopped', () => {
    expect(peakLevel(peak, []).dbm).toBeCloseTo(-60, 9);
  });

  it('comes down to what stop after stop was heard, and is known better each time', () => {
    const rests = [
      { dbm: -63, sdDb: 0.8 },
      { dbm: -62.5, sdDb: 0.8 },
      { dbm: -62.8, sdDb: 0.8 },
    ];
    const levels = rests.map((_, i) => peakLevel(peak, rests.slice(0, i + 1)));
    expect(levels[0]?.dbm).toBeLessThan(-61);
    expect(levels[2]?.dbm).toBeLessThan(-61.5);
    expect(levels[2]?.dbm).toBeGreaterThan(-63);
    expect(levels.map(({ sdDb }) => sdDb)).toEqual([...levels.map(({ sdDb }) => sdDb)].sort((a, b) => b - a));
  });
});
