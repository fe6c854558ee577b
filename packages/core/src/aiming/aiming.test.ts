import { describe, expect, it } from 'vitest';
import { diagnoseEnds, diagnosePeak } from './diagnosis';
import { aimByEye } from './eye';
import { fitLobe, type LobePoint } from './lobeFit';
import { apertureLossDb, mainLobeLossDb, mainLobeOffsetDeg } from '../antenna/mainLobe';
import { mirrorCentre } from './symmetry';

const lobe = (
  centre: number,
  width: number,
  peakDbm: number,
  from: number,
  to: number,
  noise: (i: number) => number = () => 0,
): LobePoint[] =>
  Array.from({ length: 121 }, (_, i) => {
    const x = from + ((to - from) * i) / 120;
    const levelDbm = Math.max(-95, peakDbm - apertureLossDb((x - centre) / width) + noise(i));
    return { x, levelDbm, pushedFrom: 0, agoS: 0 };
  });

describe('main lobe', () => {
  it('is 3 dB down at half the beam width (definition) and 12 dB at a whole one (ITU-R F.1336)', () => {
    expect(mainLobeLossDb(5, 10)).toBe(3);
    expect(mainLobeLossDb(10, 10)).toBe(12);
    expect(mainLobeOffsetDeg(3, 10)).toBe(5);
    expect(apertureLossDb(0.5)).toBeCloseTo(3, 1);
    // A square aperture, sinc^2 with its half power at 1.3916, 0.8 widths off: 8.97 dB.
    expect(Math.abs(apertureLossDb(0.8) - 8.97)).toBeLessThan(0.7);
  });
});

describe('lobe fit', () => {
  it('finds peak, level and width of a clean lobe', () => {
    const fit = fitLobe(lobe(3.2, 6, -48, -6, 10), { width: 6, widthRelativeSd: 0.3 });
    expect(fit?.x).toBeCloseTo(3.2, 2);
    expect(fit?.peakDbm).toBeCloseTo(-48, 1);
    expect(fit?.width).toBeCloseTo(6, 1);
  });

  it('is not pulled by a spike of 15 dB or by whole-decibel readings', () => {
    const points = lobe(3.2, 6, -48, -6, 10).map((p, i) => ({
      ...p,
      levelDbm: Math.round(p.levelDbm) + (i === 100 ? 15 : 0),
    }));
    expect(Math.abs((fitLobe(points, { width: 6, widthRelativeSd: 0.15 })?.x ?? NaN) - 3.2)).toBeLessThan(0.1);
  });

  it('is not pulled by four samples 15 dB down on one flank, as a person in the beam makes them', () => {
    for (let at = 20; at < 100; at += 4) {
      const points = lobe(3.2, 6, -48, -6, 10).map((p, i) => ({
        ...p,
        levelDbm: p.levelDbm - (i >= at && i < at + 4 ? 15 : 0),
      }));
      const fit = fitLobe(points, { width: 6, widthRelativeSd: 0.15 });
      expect(Math.abs((fit?.x ?? NaN) - 3.2), `from point ${at}`).toBeLessThan(0.1);
    }
  });

  it('settles where points lie on the edge of its window: from wherever it starts it ends at the same peak', () => {
    // Sparse, noisy points: each that jumped in or out of the window used to move the peak, and with it the window.
    for (let seed = 1; seed <= 40; seed++) {
      const noise = (i: number): number => 2.2 * Math.sin(seed * 12.9898 + i * 78.233);
      const points = lobe(0.7, 6, -48, -7, 8, noise).filter((_, i) => i % 6 === 0);
      const from = [-0.6, 0, 0.7, 1.4, 2].map((x) => fitLobe(points, { width: 6, widthRelativeSd: 0.15 }, x)?.x ?? NaN);
      expect(Math.max(...from) - Math.min(...from), `seed ${seed}`).toBeLessThan(0.15);
    }
  });

  it('finds the play of the mount from strokes in both directions', () => {
    const stroke = (side: number) => lobe(1 + side * 0.25, 6, -50, -5, 7).map((p) => ({ ...p, pushedFrom: side }));
    const fit = fitLobe([...stroke(1), ...stroke(-1)], { width: 6, widthRelativeSd: 0.15, halfPlaySd: 0.35 });
    expect(fit?.x).toBeCloseTo(1, 1);
    expect(fit?.halfPlay).toBeCloseTo(0.25, 1);
  });

  it('says nothing from too few points', () => {
    expect(fitLobe(lobe(0, 6, -50, -6, 6).slice(0, 3), { width: 6, widthRelativeSd: 0.2 })).toBeUndefined();
  });
});

describe('symmetry of a sweep', () => {
  it('finds the true direction between two equal side lobes', () => {
    const points = Array.from({ length: 200 }, (_, i) => {
      const x = -16 + i * 0.2;
      const two = Math.max(-17 - 0.9 * (x - 11) ** 2, -17 - 0.9 * (x + 5) ** 2, -35);
      return { x, levelDbm: -48 + two, pushedFrom: 0, agoS: 0 };
    });
    expect(mirrorCentre(points, 6)).toBeCloseTo(3, 0);
  });

  it('finds nothing where only scatter is heard', () => {
    expect(mirrorCentre(lobe(0, 6, -95, -20, 20), 6)).toBeUndefined();
  });
});

describe('diagnosis', () => {
  /** What was swept along both axes; left out, the sweep up and down is a wide one of the same level. */
  const evidence = (points: LobePoint[], peakDbm: number, upDown?: LobePoint[]) => ({
    peakDbm,
    expectedDbm: -48,
    sweeps: [
      { axis: 'azimuth' as const, points, beamWidthDeg: 6 },
      { axis: 'tilt' as const, points: upDown ?? lobe(0, 6, peakDbm, -8, 8), beamWidthDeg: 6 },
    ].filter((sweep) => sweep.points.length > 0),
  });
  const levelOnly = (peakDbm: number) => ({ peakDbm, expectedDbm: -48, sweeps: [] });

  it.each([
    ['clear', lobe(0, 6, -49.5, -5, 5), -49.5],
    ['obstructed', lobe(0, 6, -54, -5, 5), -54],
    ['obstructed', lobe(0, 6, -57, -8, 8), -57],
    ['crossedPolarisation', lobe(0, 6, -69, -8, 8), -69],
    ['unsearched', lobe(0, 6, -69, -5, 5), -69],
    ['unsearched', lobe(0, 3.2, -65, -3, 3), -65],
    ['stronger', lobe(0, 6, -43, -5, 5), -43],
  ] as const)('calls %s', (diagnosis, points, peakDbm) => {
    expect(diagnosePeak(evidence(points, peakDbm)).diagnosis).toBe(diagnosis);
  });

  it('sees the stronger lobe beside, along either axis, whatever the width of the one it sits on', () => {
    const both = [...lobe(0, 3.2, -65, -3, 3), ...lobe(9.5, 6, -48, 4, 12)];
    const wide = [...lobe(0, 6, -65, -3, 3), ...lobe(9.5, 6, -50, 4, 12)];
    for (const found of [evidence(both, -65), evidence(wide, -65), evidence(lobe(0, 6, -65, -8, 8), -65, both)])
      expect(diagnosePeak(found)).toMatchObject({
        diagnosis: 'sideLobe',
        reason: expect.stringContaining('stronger'),
      });
  });

  it('says along which axis nobody looked', () => {
    const narrow = lobe(0, 6, -66, -5, 5);
    const wide = lobe(0, 6, -66, -8, 8);
    expect(diagnosePeak(evidence(wide, -66, narrow)).reason).toContain('both sides, up and down.');
    expect(diagnosePeak(evidence(narrow, -66)).reason).toContain('both sides, left and right.');
    // What was looked at once need not be looked at again.
    const again = evidence(wide, -66);
    const later = {
      ...again,
      sweeps: [...again.sweeps, { axis: 'azimuth' as const, points: narrow, beamWidthDeg: 6 }],
    };
    expect(diagnosePeak(later).diagnosis).toBe('crossedPolarisation');
  });

  it('claims no shape where none was swept, and blames the end that is wrong', () => {
    const far = diagnosePeak(levelOnly(-67));
    expect(far.diagnosis).toBe('unswept');
    const near = diagnosePeak(evidence([...lobe(0, 3.2, -67, -3, 3), ...lobe(9.5, 6, -50, 4, 12)], -67));
    expect(diagnoseEnds(near, far).far.diagnosis).toBe('otherEnd');
    expect(diagnosePeak({ ...levelOnly(-67), peakDbm: null }).diagnosis).toBe('unknown');
  });

  it('lets the sweep at one end speak for the end that was not swept, and not for one where nobody looked beside a lobe', () => {
    const swept = diagnosePeak(evidence(lobe(0, 6, -69, -8, 8), -69));
    const { near, far } = diagnoseEnds(diagnosePeak(levelOnly(-69)), swept);
    expect(near.diagnosis).toBe('otherEnd');
    expect(far.diagnosis).toBe('crossedPolarisation');
    expect(diagnoseEnds(diagnosePeak(levelOnly(-69)), diagnosePeak(levelOnly(-69))).near.diagnosis).toBe('unswept');
    const open = diagnosePeak(evidence(lobe(0, 6, -69, -5, 5), -69));
    expect(diagnoseEnds(open, swept)).toMatchObject({
      near: { diagnosis: 'unsearched' },
      far: { diagnosis: 'otherEnd' },
    });
  });

  it('says that the peak is not known where the level is right but nobody swept', () => {
    expect(diagnosePeak(levelOnly(-49)).reason).toContain('No sweep was kept');
    expect(diagnosePeak(evidence(lobe(0, 6, -49, -5, 5), -49)).reason).not.toContain('No sweep');
  });

  it('takes half a lobe for no sweep', () => {
    expect(diagnosePeak(evidence(lobe(0, 6, -53, -0.5, 6), -53, [])).diagnosis).toBe('unswept');
    // Far too weak, the half that was swept may be that of a side lobe.
    expect(diagnosePeak(evidence(lobe(0, 6, -69, -0.5, 6), -69, [])).diagnosis).toBe('unsearched');
  });
});

describe('aiming by eye', () => {
  it('is enough for a wide panel near by, not for a narrow dish and not for what cannot be seen', () => {
    expect(aimByEye({ azimuthDeg: 30, elevationDeg: 30 }, 300).enough).toBe(true);
    expect(aimByEye({ azimuthDeg: 6, elevationDeg: 6 }, 300).enough).toBe(false);
    expect(aimByEye({ azimuthDeg: 30, elevationDeg: 30 }, 9000).enough).toBe(false);
  });
});
