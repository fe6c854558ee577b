import { describe, expect, it } from 'vitest';
import { apertureLossDb } from '../antenna/mainLobe';
import type { LobeFit, LobePoint } from './lobeFit';
import { crossingsOf, followPeak, type Crossing } from './sweep/wanderingPeak';

/** Crossings every thirteen seconds, the last one five seconds ago. */
const crossed = (degs: readonly number[], sdDeg: number): Crossing[] =>
  degs.map((deg, i) => ({ deg, sdDeg, besideSdDeg: 0, agoS: 5 + 13 * (degs.length - 1 - i) }));

describe('a peak that is followed from crossing to crossing', () => {
  it('is their mean where they scatter as they should, and as well known as the mean of so many', () => {
    const degs = [2.1, 1.8, 2.2, 1.9, 2, 2.1, 1.9, 2];
    const peak = followPeak(crossed(degs, 0.2));
    expect(peak?.deg).toBeCloseTo(2, 1);
    // The weighted mean of n equal observations: sd / sqrt(n), and a little more for the chance that it wanders.
    expect(peak?.sdDeg).toBeGreaterThan(0.2 / Math.sqrt(degs.length));
    expect(peak?.sdDeg).toBeLessThan(2 * (0.2 / Math.sqrt(degs.length)));
    expect(Math.abs(peak?.driftDegPerS ?? 1)).toBeLessThan(0.005);
  });

  it('weighs a crossing by what it knows', () => {
    const [well, badly] = crossed([1, 3], 0.1);
    const peak = followPeak([well as Crossing, { ...(badly as Crossing), sdDeg: 3 }]);
    expect(peak?.deg).toBeLessThan(1.1);
  });

  it('is where it wandered to, and goes on as it went, where crossings show that it does', () => {
    const degPerS = 1.5 / 60;
    const degs = Array.from({ length: 8 }, (_, i) => i * 13 * degPerS + (i % 2 ? 0.05 : -0.05));
    const peak = followPeak(crossed(degs, 0.1));
    const nowDeg = 7 * 13 * degPerS + 5 * degPerS;
    expect(Math.abs((peak?.deg ?? 0) - nowDeg)).toBeLessThan(0.15);
    expect(peak?.driftDegPerS).toBeGreaterThan(0.5 * degPerS);
    expect(peak?.driftDegPerS).toBeLessThan(1.5 * degPerS);
    const mean = degs.reduce((sum, deg) => sum + deg, 0) / degs.length;
    expect(Math.abs(mean - nowDeg), 'the mean of all lags behind').toBeGreaterThan(1);
  });

  it('is less well known the longer ago it was crossed', () => {
    const degs = [0, 0.4, 0.8, 1.1, 1.5];
    const soon = followPeak(crossed(degs, 0.1));
    const late = followPeak(crossed(degs, 0.1).map((c) => ({ ...c, agoS: c.agoS + 30 })));
    expect(late?.sdDeg).toBeGreaterThan(1.5 * (soon?.sdDeg ?? Infinity));
  });

  it('is where the stroke in hand shows it, the less well its degrees and those of before agree', () => {
    const followed = (besideSdDeg: number): number => {
      const [first, ...later] = crossed([2, 2, 2, 2, 1.6], 0.2).reverse() as [Crossing, ...Crossing[]];
      return followPeak([...later.reverse(), { ...first, besideSdDeg }])?.deg ?? NaN;
    };
    expect(followed(0)).toBeGreaterThan(1.75);
    expect(followed(0.4)).toBeLessThan(followed(0) - 0.05);
    // One that lies anywhere beside the others is all there is.
    expect(followed(50)).toBeCloseTo(1.6, 2);
  });

  it('is nothing without any', () => {
    expect(followPeak([])).toBeNull();
  });
});

describe('crossings of single strokes', () => {
  const whole: LobeFit = {
    x: 0,
    peakDbm: -50,
    width: 6,
    halfPlay: 0,
    drift: 0,
    xSd: 0.1,
    widthSd: 0.1,
    peakSdDb: 0.2,
    residualSdDb: 1,
    inflation: 1,
    points: 100,
    effectivePoints: 100,
    reachBelow: 0.85,
    reachAbove: 0.85,
  };
  /** A stroke over a lobe of 6 degrees whose peak stands at a place; half a decibel of scatter that repeats. */
  const stroke = (peakDeg: number, fromDeg: number, toDeg: number, agoS: number): LobePoint[] =>
    Array.from({ length: 60 }, (_, i) => {
      const x = fromDeg + ((toDeg - fromDeg) * i) / 59;
      const levelDbm = -50 - apertureLossDb((x - peakDeg) / 6) + (i % 2 ? 0.5 : -0.5);
      return { x, levelDbm, pushedFrom: 0, agoS: agoS - 0.1 * i };
    });

  it('stand where each stroke met the peak, when it met it', () => {
    const [one, two] = crossingsOf([stroke(0.5, -5, 6, 40), stroke(-0.7, 6, -5, 20)], whole, 0.1);
    expect(one?.deg).toBeCloseTo(0.5, 1);
    expect(two?.deg).toBeCloseTo(-0.7, 1);
    expect(one?.agoS).toBeCloseTo(40 - 0.1 * ((5.5 / 11) * 59), 0);
    expect(one?.sdDeg).toBeGreaterThan(0.1);
  });

  it('of half a stroke in hand are in its own degrees, and of one that was broken off are not', () => {
    const half = (agoS: number) => stroke(0.4, -5, 0.8, agoS);
    const [brokenOff, inHand] = crossingsOf([half(40), half(10)], whole, 1);
    expect(brokenOff?.besideSdDeg).toBe(0);
    expect(brokenOff?.sdDeg).toBeGreaterThan(1);
    expect(inHand?.besideSdDeg).toBeGreaterThan(1);
    expect(inHand?.sdDeg).toBeLessThan(0.8);
    const [passed] = crossingsOf([stroke(0.4, -5, 5, 10)], whole, 1);
    expect(passed?.besideSdDeg, 'a stroke that is over is one of all').toBe(0);
  });

  it('need no more than a flank where the strength of the peak is known well', () => {
    const flank = stroke(0.6, -4.4, -2.8, 10);
    const [sure] = crossingsOf([flank], whole, 0.1);
    expect(Math.abs((sure?.deg ?? NaN) - 0.6)).toBeLessThan(0.5);
    const [vague] = crossingsOf([flank], { ...whole, peakSdDb: 5 }, 0.1);
    expect(vague?.sdDeg).toBeGreaterThan((sure?.sdDeg ?? Infinity) + 0.02);
  });

  it('are believed less where a stroke has seen one flank only, and are none where it has seen nothing', () => {
    const [both] = crossingsOf([stroke(0, -5, 5, 20)], whole, 0.1);
    const [half] = crossingsOf([stroke(0, -5, 0.5, 20)], whole, 0.1);
    expect(half?.sdDeg).toBeGreaterThan(2 * (both?.sdDeg ?? Infinity));
    expect(crossingsOf([stroke(0, 20, 25, 20).slice(0, 3)], whole, 0.1)).toEqual([]);
  });
});
